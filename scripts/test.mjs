// Everything that CI runs: types, lint, format, and all tests; ends with one line that counts them.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const bin = (/** @type {string} */ name) => join(root, 'node_modules/.bin', name);
const results = join(mkdtempSync(join(tmpdir(), 'kettle-results-')), 'tests.json');

/** @type {[string, string, string[]][]} */
const STEPS = [
	['types of the routes', bin('svelte-kit'), ['sync']],
	[
		'types',
		bin('svelte-check'),
		['--tsconfig', './tsconfig.json', '--fail-on-warnings', '--output', 'human']
	],
	['lint and storeys', bin('eslint'), ['.', '--max-warnings', '0']],
	['format', bin('prettier'), ['--check', '.', '--log-level', 'warn']],
	['tests', bin('vitest'), ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${results}`]]
];

/** @type {{ name: string, ok: boolean }[]} */
const done = [];
for (const [name, program, words] of STEPS) {
	console.log(`\n— ${name}`);
	const { status } = spawnSync(program, words, {
		cwd: root,
		stdio: 'inherit',
		env: { ...process.env, NO_COLOR: '1' }
	});
	done.push({ name, ok: status === 0 });
}

let passed = done.filter((step) => step.ok && step.name !== 'tests').length;
let failed = done.filter((step) => !step.ok && step.name !== 'tests').length;
try {
	const report = JSON.parse(readFileSync(results, 'utf8'));
	passed += report.numPassedTests;
	failed += report.numFailedTests;
	// A file that could not even be loaded counts, and so does a run that ended badly for another reason.
	if (report.numFailedTests === 0 && !done.every((step) => step.ok || step.name !== 'tests')) failed++;
} catch {
	failed++;
}
rmSync(join(results, '..'), { recursive: true, force: true });
for (const step of done.filter(({ ok }) => !ok)) console.log(`failed: ${step.name}`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
