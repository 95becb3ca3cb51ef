// scripts: what scripts say, line by line: the calls in them and the texts that they are given.
export { calledIn, definedIn, type Defined } from './functions';
export { callsIn, quotedLike, type Argument, type ScriptCall } from './calls';
export { inShownOrder, pageLike, pageRange, pageSplices, pagesIn, type ScriptPage } from './pages';
export { literalAs, LiteralFault, literalsIn, type Literal } from './literals';
export { NameFault, renamed, variableAt, variablesIn, type Variable } from './names';
export { spokenBy, spokenIn, type Spoken } from './spoken';
export { programFor, thrownFrom, type Outcome, type Throw, type Thrown, type ThrowValue } from './throw';
export { assignedIn, readNames, seenBy, usesIn, type Assigned, type NamesRead } from './uses';
