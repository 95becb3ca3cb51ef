// facts: what a file says, apart from how it is written: ids, lines and values as numbers into a pool of texts. Small
// enough to keep for every file of a big game; thrown away and made again from the bytes at any time.
export { createPool, numberOf, type Pool } from './pool';
export {
	copyFacts,
	factsOf,
	partFacts,
	settleFacts,
	settleSteps,
	type Facts,
	type FactsPart,
	type Letters,
	type LocalFacts
} from './facts';
export { packFacts, unpackFacts, FactsFault, VERSION as FACTS_VERSION } from './wire';
export { cellIn, fieldAt, fieldsAt, placeIn, remarkAt, valueAt, valueIn, type FactField } from './read';
export { isProse, proseOf } from './prose';
export { factsAgain, readsAlike } from './again';
export { asOne, asValues, selectFacts, underKey, underParts } from './select';
