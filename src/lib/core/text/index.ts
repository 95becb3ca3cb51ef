// text: bytes become text with encoding, byte-order mark and line ends remembered, and go back byte for byte.
export { decode, encode, type TextFile, type Encoding } from './encoding';
export { lineIndex, placeOf, lineAt, excerptAt, type LineIndex, type Place } from './lines';
export { detectEol, toEol, type Eol } from './eol';
export { digestOf } from './digest';
