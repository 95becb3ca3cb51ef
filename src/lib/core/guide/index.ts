// guide: what is known of a game's data (kinds, keys, references, meanings, limits, merge rules); written down or inferred.
export {
	guideJsonSchema,
	noteSchema,
	patchFilesSchema,
	writtenSchema,
	type AssetGuide,
	type BudgetGuide,
	type CoverGuide,
	type FieldGuide,
	type Guide,
	type InheritsGuide,
	type KindGuide,
	type ListJoin,
	type NameGuide,
	type Note,
	type NoteTarget,
	type ReferenceGuide,
	type TextGuide,
	type TwinGuide,
	type WordsGuide
} from './schema';
export {
	installSchema,
	type InstallGuide,
	recipeSchema,
	scenarioSchema,
	type BlankGuide,
	type DerivedGuide,
	type Recipe,
	type ScenarioGuide,
	type ScenarioInput
} from './schema-game';
export { SAID, type Found } from './schema-common';
export { type LinkGuide, type PlaceGuide, type ThingGuide } from './schema-places';
export { type EventGuide, type MarkupGuide, type PageGuide, type ScriptGuide } from './schema-scripts';
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
	firstIdOf,
	hintsFor,
	isItemUnder,
	severalIdsIn,
	nameFromPath,
	removesPath,
	strangeLanguage,
	textPath,
	type Claim,
	matchPath
} from './claims';
export { fillPattern, inCapitals, namesInBraces, renamedInBraces } from './braces';
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
	nameAtEnd,
	headOf,
	pathMatcher,
	patternOf,
	tailOf,
	spokenPath,
	topOf,
	titleOf
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
