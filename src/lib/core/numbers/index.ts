// numbers: how values are spread over the records of a kind, and where one stands among them.
export { spreadOf, spreadOfNumbers, rankOf, type Spread } from './spread';
export { coverage, type Band, type Cell } from './coverage';
export { columnSpread, spreadSteps } from './column';
export { valuesTaken, type Taken } from './taken';
export { arrange } from './arrange';
export {
	asWritten,
	degreesOf,
	hexOf,
	inWords,
	rgbOf,
	sharesOf,
	switched,
	windOf,
	withColour
} from './convert';
