// stack: layers and guide become effective records; each value knows the layer it comes from and what it overrode.
export { derivedBelow } from './below';
export { changedRows, isChanged } from './changed';
export { isEditable, isGame, isOn, type Layer, type LayerOwner } from './layer';
export type { MergeRule } from './merge';
export { unitOf } from './join';
export {
	buildStack,
	buildSteps,
	withKinds,
	valueOf,
	baseValueOf,
	fileBelow,
	hiddenRecord,
	isInBase,
	type Stack
} from './stack';
export { derived, numberRows, rowsWhere } from './derived';
export { recordNamed, rowsBy, rowsBySeveral } from './several';
export type { Naming, Removal, Rows, Table, TableFile } from './table';
export { effectiveColumn, inheritedIn, inheritedValue, type Inherited } from './inherit';
export { isOptional, missingParts, partUses, type MissingPart, type PartUse } from './parts';
export { cellsOf, isWide, rowsWith, valuesIn } from './wide';
export { lineOfField, type EffectiveRecord, type EffectiveValue, type Presence } from './record';
export {
	closeFile,
	fileContent,
	fileOf,
	hintsWithin,
	howAsText,
	howAsTexts,
	openFileOf,
	readFacts,
	type How,
	type LayerFile
} from './files';
export { ownFiles, withPatched, type Unapplied } from './patched';
export { howFor, withFiles, type Reading } from './load';
export {
	nameFields,
	nameOf,
	namesOf,
	ownNamesOf,
	textKeysOf,
	textNamesOf,
	displayName,
	recordKey
} from './names';
export {
	gameVersionOf,
	IDENTITY_LISTS,
	IDENTITY_TEXTS,
	identityIn,
	identityOf,
	identitySchema,
	identityText,
	layerIdentity,
	layerName,
	safeName,
	UnsafeName,
	type Identity
} from './identity';
