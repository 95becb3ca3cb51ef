// guide: what is known of a game's data (kinds, keys, references, meanings, limits, merge rules); written down or inferred.
export {
	guideSchema,
	noteSchema,
	type FieldGuide,
	type Guide,
	type KindGuide,
	type Note,
	type NoteTarget,
	type TextGuide,
	type WordsGuide
} from './schema';
export { GuideFault, parseGuide, EMPTY_GUIDE } from './file';
export { claimOf, encodingFor, hintsFor, matchPath, fillPattern, textPath, type Claim } from './claims';
export { withInferred, type DataFile } from './infer';
export { flagsOf, meaningOf, unitless } from './meaning';
export { guideWithNotes, targetKey, targetOf } from './notes';
