// words: what players read. How far it is there in each language, and what in a text is not for reading.
export { differencesOf, tokensOf, type Difference, type Tokens } from './tokens';
export {
	coverageOf,
	coverageSteps,
	gameUnlike,
	languagesOf,
	sameRows,
	textTable,
	unlikeIn,
	unlikeRows,
	type Coverage
} from './coverage';
export { formsIn, replaced, type Replacing } from './replace';
export { usedRows } from './wearers';
