// change: the value type everything speaks. A change can be applied, inverted, composed and mapped over another.
export {
	applySplices,
	invertSplices,
	composeSplices,
	joinSplices,
	mapPlace,
	mapSplices,
	placeMapper,
	together,
	type Content,
	type Side,
	type Splice
} from './splice';
export {
	applyPlan,
	becomesOf,
	bytesOf,
	changeOf,
	contentOf,
	invertPlan,
	leanPlan,
	ChangedUnderneath,
	FOLLOW_SORTS,
	type Becomes,
	type BytesChange,
	type FileChange,
	type FileContent,
	type FollowSort,
	type Files,
	type Plan,
	type TextChange,
	type ValueChange
} from './plan';
export { fromBase64, keptPlan, readPlan, toBase64, PLAN_FORMAT, PlanFault, type KeptPlan } from './kept';
export { joinedTexts, lineRuns, linesWithEnds, splicesBetween, withOwnEnds, type LineRun } from './text-diff';
export { besides, joined, type Clash } from './join';
export { netChanges } from './between';
export { followedInWords } from './followed';
