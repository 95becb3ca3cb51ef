// infer: what files alone tell of a game: kinds, types, references and what else belongs together, each with how sure it
// is and what for. Reads facts, gives a guide.
export { infer, inferSteps, recalled } from './infer';
export { readRemark } from './remarks';
export { sketchOf, type Column, type Sketch } from './sketch';
export type { DataFile, Scope } from './group';
export { withMerge } from './merge';
export {
	explainedBy,
	explainedBytes,
	fieldsIn,
	placesIn,
	proposalsFor,
	proposalsForBytes,
	readBytesIn,
	readIn,
	type Proposal,
	type ReadHow
} from './proposals';
