// change: the value type everything speaks. A change can be applied, inverted, composed and mapped over another.
export { applySplices, invertSplices, composeSplices, mapSplices, type Splice } from './splice';
export {
	applyPlan,
	invertPlan,
	changeOf,
	leanPlan,
	ChangedUnderneath,
	FOLLOW_SORTS,
	type FileChange,
	type FollowSort,
	type Files,
	type Plan,
	type ValueChange
} from './plan';
export { netChanges } from './between';
