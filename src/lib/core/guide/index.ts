// guide: what is known of a game's data (kinds, keys, references, meanings, limits, merge rules); written down or inferred.
export {
	guideJsonSchema,
	noteSchema,
	installSchema,
	patchFilesSchema,
	type InstallGuide,
	recipeSchema,
	SAID,
	scenarioSchema,
	writtenSchema,
	type AssetGuide,
	type BlankGuide,
	type BudgetGuide,
	type CoverGuide,
	type DerivedGuide,
	type EventGuide,
	type FieldGuide,
	type Found,
	type Guide,
	type InheritsGuide,
	type KindGuide,
	type ListJoin,
	type MarkupGuide,
	type Note,
	type NoteTarget,
	type PageGuide,
	type Recipe,
	type ReferenceGuide,
	type ScenarioGuide,
	type ScenarioInput,
	type ScriptGuide,
	type TextGuide,
	type TwinGuide,
	type WordsGuide
} from './schema';
export { GuideFault, parseGuide, EMPTY_GUIDE } from './file';
export { patchTarget } from './patches';
export { placeDocs, readDocs, type Doc } from './docs';
export {
	completedGuide,
	composeGuides,
	guideToYaml,
	kindToWrite,
	mergeGuides,
	originOf,
	statementIn,
	withoutFound,
	withStatement,
	type Clash,
	type Origin
} from './layers';
export {
	claimAt,
	claimBy,
	claimOf,
	claimsOf,
	selectionInWords,
	encodingFor,
	hintsFor,
	nameFromPath,
	fillPattern,
	removesPath,
	textPath,
	type Claim,
	matchPath
} from './claims';
export {
	beside,
	fieldOf,
	folderIn,
	inFolder,
	FILE,
	fileIn,
	FOLDER,
	inFile,
	ID,
	isFromPath,
	isPattern,
	pathMatcher,
	patternOf,
	spokenPath,
	topOf
} from './fields';
export {
	columnsInWords,
	edgesOf,
	isPlain,
	mentionsIn,
	ruleInWords,
	ruleOf,
	RULES as REFERENCE_RULES,
	valueFor,
	withMention,
	type Edge,
	type Mention,
	type RuleName
} from './refer';
export { spoiledBy, type Spoiled } from './spoils';
export { flagsOf, meaningOf, unitless } from './meaning';
export { guideWithNotes, targetKey, targetOf } from './notes';
export { globMatcher } from './glob';
