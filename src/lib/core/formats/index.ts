// formats: a text becomes a Document of records and fields with exact spans, and each format says which splices edit it.
export { formatFor, formatOf, readDocument, FORMATS, FORMAT_IDS, TEXT_FORMATS } from './registry';
export {
	EditRefused,
	fieldsOf,
	findField,
	findRecord,
	MOST_PROBLEMS,
	partOf,
	type Document,
	type DocumentPart,
	type FieldNode,
	type TakeField,
	type Format,
	type Traits,
	type TextDocument,
	type TextFormat,
	type FormatId,
	type Habit,
	type NewItem,
	type PartHints,
	type PartSource,
	type Where,
	type Problem,
	type ReadHints,
	type RecordNode,
	type RecordPlace,
	type ValueWrite,
	type Scalar,
	type SharedValues,
	type Sharing
} from './document';
export {
	blockLayout,
	groupsLayout,
	layoutSchema,
	linesLayout,
	positionalLayout,
	taggedLayout,
	patternSchema,
	type BlockLayout,
	type GroupsLayout,
	type Layout,
	type LinesLayout,
	type PositionalLayout,
	type TaggedLayout
} from './layout';
export { ownersIn, type Owned } from './packed/about';
export { guessPacked, type PackedGuess } from './packed/guess';
export { fromKaitai, NotPacked } from './packed/kaitai';
export { unknownEncoding } from './packed/places';
export { layoutFrom } from './packed/written';
export { packedLayout, type PackedField, type PackedLayout } from './packed/schema';
export { isPacked, type PackedDocument } from './packed/read';
export { hexOf } from './packed/numbers';
export { linesOf, tellFormats, tellGiven, type ToldFormat } from './tell';
export { WRAPPER } from './collections';
export { isCode } from './lua';
export { quotedMessage } from './po';
export { JsonPatchFault, patchJson, type JsonPatchForm } from './json-patch';
export { partOfValue, wordsByField } from './parts';
export { VALUE } from './tree';
export { sharedTexts } from './yaml';
export { styledFor, type Styled } from './number-style';
