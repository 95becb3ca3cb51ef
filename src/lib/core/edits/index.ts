// edits: an intention ("set this", "copy as new") becomes a plan, with all that must follow.
export { intentionSchema, type Intention } from './intention';
export { planFor, type Besides } from './plan-for';
export { reversePlan, type Later } from './reverse';
export { NotPossible, StaleValue } from './work';
export { idFault, partsOf } from './copy';
export { howInWords, howSchema, newValues, saidByLayer, type How, type NewValue, type SaidBy } from './many';
export { planToBring, spliceBetween, valueChanges } from './bring';
export { myTexts, stackAfter } from './after';
export { recipeFrom, stepInWords, stepsOf, withFilled, type Recorded } from './recipe';
