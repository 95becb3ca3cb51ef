// change: the value type everything speaks. A change can be applied, inverted, composed and mapped over another.
export { applySplices, invertSplices, composeSplices, mapSplices, type Splice } from './splice';
export {
	applyPlan,
	invertPlan,
	changeOf,
	ChangedUnderneath,
	type FileChange,
	type Files,
	type Plan,
	type ValueChange
} from './plan';
