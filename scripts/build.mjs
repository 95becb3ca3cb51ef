// Builds what is stale: the command and the worker (fast), and with --app the application.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';

const root = fileURLToPath(new URL('..', import.meta.url));
const out = join(root, 'build');

/** @param {string[]} paths @returns {number} newest time of change below them, in milliseconds */
function newest(paths) {
	let latest = 0;
	for (const path of paths.map((name) => join(root, name))) {
		if (!existsSync(path)) continue;
		const info = statSync(path);
		if (!info.isDirectory()) latest = Math.max(latest, info.mtimeMs);
		else
			for (const entry of readdirSync(path, { recursive: true }))
				latest = Math.max(latest, statSync(join(path, String(entry))).mtimeMs);
	}
	return latest;
}

/** @param {string} target @param {string[]} sources @param {() => void | Promise<void>} make */
async function unlessFresh(target, sources, make) {
	if (existsSync(target) && statSync(target).mtimeMs >= newest(sources)) return;
	const started = new Date();
	await make();
	// What was changed while the build ran counts as newer than it.
	if (!existsSync(target)) writeFileSync(target, '');
	utimesSync(target, started, started);
}

/** @param {string} name @param {string} entry */
async function bundle(name, entry) {
	const esbuild = await import('esbuild');
	await esbuild.build({
		entryPoints: [join(root, entry)],
		outfile: join(out, name),
		bundle: true,
		platform: 'node',
		format: 'esm',
		target: 'node20',
		packages: 'external',
		alias: { $core: join(root, 'src/lib/core') },
		logLevel: 'warning'
	});
}

const shared = ['src/lib/core', 'src/lib/files', 'package-lock.json', 'scripts/build.mjs'];
await unlessFresh(join(out, 'cli.js'), ['cli', ...shared], () => bundle('cli.js', 'cli/main.ts'));
if (process.argv.includes('--app')) {
	const server = ['src/lib/server', ...shared];
	await unlessFresh(join(out, 'reader.js'), server, () =>
		bundle('reader.js', 'src/lib/server/worker/reader.ts')
	);
	await unlessFresh(join(out, 'fetcher.js'), server, () =>
		bundle('fetcher.js', 'src/lib/server/worker/fetcher.ts')
	);
	await unlessFresh(join(out, 'worker.js'), server, () =>
		bundle('worker.js', 'src/lib/server/worker/main.ts')
	);
	await unlessFresh(
		join(out, 'app/.built'),
		['src', 'static', 'svelte.config.js', 'vite.config.ts', ...shared],
		() => {
			console.error('Building the application…');
			const vite = spawnSync(
				process.execPath,
				[join(root, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn'],
				{
					cwd: root,
					stdio: ['ignore', 2, 2]
				}
			);
			if (vite.status !== 0) {
				console.error('The application could not be built; the lines above say why.');
				process.exit(1);
			}
		}
	);
}
