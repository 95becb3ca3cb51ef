// Everything that CI runs: types, lint, format, build and all tests; ends with one line that counts them. The checks run
// two at a time, and so do the files of the tests: whichever is free takes the next one.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { stripVTControlCharacters } from 'node:util';

const root = fileURLToPath(new URL('..', import.meta.url));
const bin = (/** @type {string} */ name) => join(root, 'node_modules/.bin', name);
const results = mkdtempSync(join(tmpdir(), 'kettle-results-'));

/** Where a check remembers which files passed. @param {string} name */
const cache = (name) => [
	'--cache',
	'--cache-location',
	join(root, 'node_modules/.cache', name),
	'--cache-strategy',
	'content'
];

let passed = 0;
let failed = 0;
/** What failed, in a line each. @type {string[]} */
const wrong = [];

/**
 * Runs one step. Of those side by side one says live what it does; what another says is shown when it is over.
 * @param {string} name @param {string} program @param {string[]} words @param {boolean} live
 * @returns {Promise<boolean>} whether all was well
 */
async function run(name, program, words, live) {
	const started = Date.now();
	if (live) console.log(`\n— ${name}`);
	const child = spawn(program, words, {
		cwd: root,
		stdio: ['ignore', live ? 'inherit' : 'pipe', live ? 'inherit' : 'pipe'],
		env: { ...process.env, NO_COLOR: '1' }
	});
	/** @type {Buffer[]} */
	const said = [];
	for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => said.push(chunk));
	/** @type {number | null} */
	const status = await new Promise((done) => {
		child.once('error', (error) => {
			said.push(Buffer.from(`${error.message}\n`));
			done(null);
		});
		child.once('exit', done);
	});
	// What was said last may still be on its way.
	await new Promise((done) => setTimeout(done, live ? 0 : 200));
	const seconds = Math.round((Date.now() - started) / 1000);
	if (!live) process.stdout.write(`\n— ${name}\n${Buffer.concat(said).toString()}`);
	console.log(`${status === 0 ? 'done' : 'failed'}: ${name}, ${seconds} s`);
	return status === 0;
}

/** A step that counts as one. @param {string} name @param {string} program @param {string[]} words */
async function check(name, program, words) {
	if (await run(name, program, words, false)) passed++;
	else {
		failed++;
		wrong.push(name);
	}
}

/** Tests of all projects, which count one by one; after them what each file took. */
async function tests() {
	const file = join(results, 'tests.json');
	const words = ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${file}`];
	const ok = await run('tests', bin('vitest'), words, true);
	try {
		const report = JSON.parse(readFileSync(file, 'utf8'));
		passed += report.numPassedTests;
		failed += report.numFailedTests;
		// A file that could not even be loaded counts, and so does a run that ended badly for another reason.
		if (report.numFailedTests === 0 && !ok) failed++;
		/**
		 * @typedef {{ status: string, fullName: string, failureMessages: string[] }} Case
		 * @type {{ name: string, startTime: number, endTime: number, message: string, assertionResults: Case[] }[]}
		 */
		const files = report.testResults;
		const times = files.map(({ name, startTime, endTime }) => ({
			file: relative(root, name),
			seconds: (endTime - startTime) / 1000
		}));
		console.log('\n— seconds for each file');
		for (const { file: name, seconds } of times.sort((a, b) => b.seconds - a.seconds))
			console.log(`${seconds.toFixed(1).padStart(7)}  ${name}`);
		// Once more at the end, where it is found without searching.
		for (const { name, message, assertionResults } of files) {
			if (message) wrong.push(`${relative(root, name)}: ${message}`);
			for (const { status, fullName, failureMessages } of assertionResults)
				if (status === 'failed')
					wrong.push(`${relative(root, name)} > ${fullName}: ${failureMessages.join(' ')}`);
		}
	} catch {
		failed++;
	}
}

const began = Date.now();
await check('types of the routes', bin('svelte-kit'), ['sync']);
await Promise.all([
	(async () => {
		await check('build', process.execPath, ['scripts/build.mjs', '--app']);
		await check('types', bin('svelte-check'), [
			...['--tsgo', '--tsconfig', './tsconfig.json'],
			...['--fail-on-warnings', '--output', 'human']
		]);
	})(),
	(async () => {
		await check('lint and storeys', bin('oxlint'), ['-c', 'oxlint.config.mjs', '--max-warnings=0']);
		await check('lint of components', bin('eslint'), ['.', '--max-warnings', '0', ...cache('eslint')]);
		await check('dead code', bin('knip'), ['--no-progress']);
		await check('format', bin('oxfmt'), ['--check', '.']);
	})()
]);
await tests();
rmSync(results, { recursive: true, force: true });
console.log(
	`\nseed of property tests: ${process.env.SEED ?? 1}; ${Math.round((Date.now() - began) / 1000)} s in all`
);
for (const one of wrong)
	console.log(`failed: ${stripVTControlCharacters(one).replace(/\s+/g, ' ').slice(0, 400)}`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
