// Property tests draw the same cases in every run, so that a failure is a fault and comes again. `npm run soak` draws others.
import fc from 'fast-check';

fc.configureGlobal({ seed: Number(process.env.SEED ?? 1) });
