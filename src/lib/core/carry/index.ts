// carry: what a new version of the game changed, and my mod carried over to it, record by record and field by field.
export {
	changesBetween,
	changeSteps,
	type FieldChange,
	type GameChanges,
	type RecordChange
} from './changes';
export { carryMod, carrySteps, gameAlone, type Carried, type CarryOptions } from './carry';
export { choiceSchema, type Candidate, type CarryItem, type Choice } from './items';
export { onTop, type Prefer } from './three';
export { carriedInWords, itemInWords, ORDER } from './report';
export { COMPARED } from './deciding';
export { followedSayings, type Sayings } from './follows';
export { movesOf } from './moves';
export {
	concernsOf,
	fieldInShort,
	summaryOf,
	type FieldInShort,
	type FieldSummary,
	type KindSummary
} from './summary';
export { withoutMine } from './mine';
