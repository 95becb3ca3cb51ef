// Property tests draw the same cases in every run, so that a failure is a fault and comes again. `npm run soak` draws
// others, and more of them.
import fc from 'fast-check';
import { runs } from './runs';

fc.configureGlobal({ seed: Number(process.env.SEED ?? 1), numRuns: runs(100) });
