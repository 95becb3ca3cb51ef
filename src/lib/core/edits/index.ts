// edits: an intention ("set this", "copy as new") becomes a plan, with all that must follow.
export { intentionSchema, type Besides, type Intention, type Reversing } from './intentions';
export { changedLines, type ChangedLines } from './changed-lines';
export { LONGEST_TEXT } from './intentions/text';
export { patchChoices, patchOn } from './intentions/patch';
export { planFor } from './plan-for';
export { isInside, isOwnId, NothingToDo, NotPossible, StaleValue } from './work';
export { idFault, partsOf } from './new-id';
export { howSchema, newValues, saidByLayer, type How, type NewValue, type SaidBy } from './many';
export { planToBring, valuesOf } from './bring';
export { myFiles, stackAfter } from './after';
export { recipeFrom, stepInWords, stepsOf, withFilled, type Recorded } from './recipe';
export { idsInside, type InsideId } from './copied-folder';
export { twinsOf } from './belongings';
export { startDraft, type Draft, type Place } from './draft';
export { removeRecord, setField, take } from './steps';
export { writeMany, type CellWrite } from './batch';
export { textGoes, type TextGoes, type TextWrite } from './texts';
export { languagesAreFields } from './steps';
