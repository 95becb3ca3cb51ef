// Property tests draw the same cases in every run, so that a failure is a fault and comes again. `npm run soak` draws
// others, and more of them.
import fc from 'fast-check';
import { runs } from './runs';

fc.configureGlobal({ seed: Number(process.env.SEED ?? 1), numRuns: runs(100) });

/** What a process of tests began with. Its files follow each other, and what one of them sets ends with it. */
const began = ((globalThis as { kettleBegan?: { env: NodeJS.ProcessEnv; folder: string } }).kettleBegan ??= {
	env: { ...process.env },
	folder: process.cwd()
});

process.chdir(began.folder);
for (const name of Object.keys(process.env)) if (!(name in began.env)) delete process.env[name];
Object.assign(process.env, began.env);
