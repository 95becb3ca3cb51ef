// text: bytes become text with encoding, byte-order mark and line ends remembered, and go back byte for byte.
export {
	COMMON,
	decode,
	decodeAs,
	encode,
	isEncoding,
	SURE,
	textLike,
	Unwritable,
	type Candidate,
	type Encoding,
	type TextFile,
	type Told
} from './encoding';
export { looksBinary } from './tell';
export { lineIndex, placeOf, lineAt, excerptAt, type LineIndex, type Place } from './lines';
export { detectEol, toEol, type Eol } from './eol';
export { isReadable, languageName, tagOf } from './language';
export { digestOf } from './digest';
export { compilePattern, patternFault, type Pattern } from './pattern';
export {
	anyOf,
	markedUp,
	openMarks,
	type CodeMark,
	type Markup,
	type PairMark,
	type Piece,
	type Shows
} from './markup';
