// edits: an intention ("set this", "copy as new") becomes a plan, with all that must follow.
export { intentionSchema, type Intention } from './intention';
export { planFor, NotPossible, StaleValue } from './plan-for';
export { planToBring, spliceBetween, valueChanges } from './bring';
