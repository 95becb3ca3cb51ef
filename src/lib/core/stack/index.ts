// stack: layers and guide become effective records; each value knows the layer it comes from and what it overrode.
export { changedRows, isChanged } from './changed';
export { buildStack, valueOf, baseValueOf, isInBase, type Layer, type Stack } from './stack';
export {
	derived,
	numberRows,
	rowsWhere,
	type Naming,
	type Removal,
	type Rows,
	type Table,
	type TableFile
} from './table';
export type { EffectiveRecord, EffectiveValue, Presence } from './record';
export { closeFile, fileContent, fileOf, openFileOf, readFacts, type How, type LayerFile } from './files';
export { howFor, loadLayer, withFiles, type LayerRole } from './load';
export { nameOf, namesOf, textKeysOf, displayName, recordKey } from './names';
export { assembleStack, guideSteps, guideWith, readOtherwise, type LayerBytes } from './assemble';
