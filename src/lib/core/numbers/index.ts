// numbers: how values are spread over the records of a kind, and where one stands among them.
export { spreadOf, placeIn, rankIn, rankOf, type Spread } from './spread';
export { coverage, type Band, type Cell } from './coverage';
export { columnSpread, sortedColumn, spreadSteps, type Sorted } from './column';
export { valuesTaken, type Taken } from './taken';
export { asWritten, degreesOf, hexOf, inWords, rgbOf, switched, windOf, withColour } from './convert';
export {
	sharesOf,
	withoutPart,
	withPart,
	withPartMoved,
	withPartText,
	withWeight,
	type Part,
	type WeightRule
} from './weights';
export { FormulaFault, formulaFor, numberIn, type Fields } from './formula';
export { budgetOf, costInWords, type Budget } from './budget';
export { readingsOf, type Reading } from './readings';
