// Property tests at length: again and again with another seed, for some minutes (SOAK_MINUTES, default 30) or until one
// fails. What failed is done again with the seed that is named.
import { spawn } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const until = Date.now() + Number(process.env.SOAK_MINUTES ?? 30) * 60_000;
const wanted = process.argv.slice(2);
for (let round = 1; round === 1 || Date.now() < until; round++) {
	const seed = randomInt(1, 2 ** 31);
	console.log(`— round ${round}, SEED=${seed}`);
	const child = spawn(
		join(root, 'node_modules/.bin/vitest'),
		['run', '--project', 'core', '--reporter=dot', ...wanted],
		{ cwd: root, stdio: 'inherit', env: { ...process.env, SOAK: '1', SEED: String(seed) } }
	);
	const status = await new Promise((done) => child.once('exit', done));
	if (status === 0) continue;
	console.log(`Failed with SEED=${seed}; the same again: SEED=${seed} npx vitest run --project core`);
	process.exit(1);
}
