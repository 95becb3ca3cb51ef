// Builds what is stale: the command (fast), and with --app the application and its workers. With --package it builds
// the command as one file with all that it needs, for `npm pack ./cli`.
import { spawnSync } from 'node:child_process';
import {
	copyFileSync,
	existsSync,
	mkdirSync,
	readdirSync,
	readFileSync,
	statSync,
	utimesSync,
	writeFileSync
} from 'node:fs';
import { fileURLToPath } from 'node:url';
import { dirname, join } from 'node:path';

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

// Packages of the older kind ask for what Node.js has by `require`, and for where they are.
const REQUIRE =
	"import { createRequire as requiredFrom } from 'node:module'; import { fileURLToPath as toPath } from 'node:url'; const require = requiredFrom(import.meta.url), __filename = toPath(import.meta.url), __dirname = toPath(new URL('.', import.meta.url));";

/** Characters beyond ASCII as escapes, those in patterns too, which the bundler leaves as they are. */
const inAscii = {
	name: 'in-ascii',
	/** @param {import('esbuild').PluginBuild} build */
	setup(build) {
		build.onEnd(({ outputFiles = [] }) => {
			for (const { path, text } of outputFiles) {
				const escaped = text.replace(
					/[^\0-\x7f]/g,
					(one) => `\\u${one.charCodeAt(0).toString(16).padStart(4, '0')}`
				);
				mkdirSync(dirname(path), { recursive: true });
				writeFileSync(path, escaped);
			}
		});
	}
};

/**
 * One file with all that it needs, which starts much sooner than one that asks for its packages file by file.
 * @param {string} outfile @param {string} entry @param {import('esbuild').BuildOptions} [more]
 */
async function bundle(outfile, entry, more) {
	const esbuild = await import('esbuild');
	await esbuild.build({
		entryPoints: [join(root, entry)],
		outfile,
		bundle: true,
		write: false,
		platform: 'node',
		format: 'esm',
		target: 'node20',
		// What a package can do without, and what starts threads from a file of its own.
		external: ['pg-native', 'piscina'],
		// Of packages their modules are taken, where they have them: others may ask for their parts in ways of their own.
		mainFields: ['module', 'main'],
		banner: { js: REQUIRE },
		alias: { $core: join(root, 'src/lib/core') },
		logLevel: 'warning',
		// The engine keeps the text of a program: in one byte a character, and without what only people read.
		minifyWhitespace: true,
		legalComments: 'none',
		plugins: [inAscii],
		// What the type check extends is only there once the application was built.
		tsconfigRaw: '{}',
		...more
	});
}

/** The machine that runs scripts, which is beside the thread that throws them. @param {string} folder */
const copyMachine = (folder) =>
	copyFileSync(join(root, 'node_modules/wasmoon/dist/glue.wasm'), join(folder, 'glue.wasm'));

if (process.argv.includes('--package')) {
	// As `kettle` starts it, and for the same reasons.
	const engine = readFileSync(join(root, 'scripts/engine.txt'), 'utf8').trim();
	await bundle(join(root, 'cli/kettle.mjs'), 'cli/main.ts', {
		// What is given away names those whose work is in it.
		legalComments: 'eof',
		banner: { js: `#!/usr/bin/env -S ${engine}\n${REQUIRE}` }
	});
	await bundle(join(root, 'cli/thrower.js'), 'src/lib/files/thrower.ts', { legalComments: 'eof' });
	copyMachine(join(root, 'cli'));
	process.exit(0);
}

const shared = ['src/lib/core', 'src/lib/files', 'package-lock.json', 'scripts/build.mjs'];
await unlessFresh(join(out, 'cli.js'), ['cli', ...shared], () => bundle(join(out, 'cli.js'), 'cli/main.ts'));
await unlessFresh(join(out, 'thrower.js'), shared, async () => {
	await bundle(join(out, 'thrower.js'), 'src/lib/files/thrower.ts');
	copyMachine(out);
});
if (process.argv.includes('--app')) {
	const server = ['src/lib/server', ...shared];
	await unlessFresh(join(out, 'reader.js'), server, () =>
		bundle(join(out, 'reader.js'), 'src/lib/server/worker/reader.ts')
	);
	await unlessFresh(join(out, 'fetcher.js'), server, () =>
		bundle(join(out, 'fetcher.js'), 'src/lib/server/worker/fetcher.ts')
	);
	await unlessFresh(join(out, 'worker.js'), server, () =>
		bundle(join(out, 'worker.js'), 'src/lib/server/worker/main.ts')
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
