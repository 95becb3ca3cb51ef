// stack: layers and guide become effective records; each value knows the layer it comes from and what it overrode.
export {
	buildStack,
	valueOf,
	baseValueOf,
	type EffectiveRecord,
	type EffectiveValue,
	type Layer,
	type LayerFile,
	type Presence,
	type Stack,
	type Table
} from './stack';
export { loadLayer, withFiles, type LayerRole } from './load';
export { nameOf, namesOf, textKeysOf, displayName, recordKey } from './names';
export { assembleStack, type LayerBytes } from './assemble';
