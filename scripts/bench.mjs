// `npm run bench NAME [WORDS…]`: builds bench/NAME.ts and runs it.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = fileURLToPath(new URL('..', import.meta.url));
const [name = '', ...words] = process.argv.slice(2);
const source = `${root}bench/${name}.ts`;
if (!/^[a-z-]+$/.test(name) || !existsSync(source)) {
	console.error('usage: npm run bench formats [FORMAT…] or find');
	process.exit(2);
}
mkdirSync(`${root}build`, { recursive: true });
const outfile = `${root}build/bench-${name}.mjs`;
await build({
	entryPoints: [source],
	outfile,
	bundle: true,
	platform: 'node',
	format: 'esm',
	packages: 'external',
	// Scripts say where they are by their own address, which a bundle would change.
	external: ['../scripts/*'],
	alias: { $core: `${root}src/lib/core` },
	logLevel: 'warning'
});
process.exit(
	spawnSync(process.execPath, ['--expose-gc', outfile, ...words], { stdio: 'inherit' }).status ?? 1
);
