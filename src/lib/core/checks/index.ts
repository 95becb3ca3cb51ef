// checks: stack, guide and links become snags; one rule to a file; repairs are intentions, and so plans.
export { checkStack, checkSteps, countSnags, RULES, type Counts } from './check';
export { repairsFor, repairsForAll, type Repair, type RepairForAll, type RepairSort } from './repairs';
export { limitFault, typeFault } from './values';
export { faultOf, textSchema, valueSchema } from './value-schema';
export type { Rule, Severity, Snag } from './snag';
export { bandsOf } from './overlaps';
export { understoodOf, type ToConfirm, type Understood } from './understood';
export { vouchedFor, type Vouched } from './vouched';
export { copiedValues, type CopiedValue } from './stale-copy';
export { foretoldBy, heldAgainst, type Foretold } from './foretold';
export { lessonFromTaken, lessonsFrom, type Lesson } from './lessons';
