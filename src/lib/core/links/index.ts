// links: who names whom; the graph of references over all records, and what a wrong id may have meant.
export {
	buildLinks,
	linkSteps,
	linksFrom,
	linksTo,
	looseLinks,
	placeOf,
	recordAt,
	usesOf,
	type Link,
	type Links
} from './links';
export { columnsFor, rowAt, type Strand } from './strands';
export { chainsIn, type Step } from './chains';
export { linksAround, type Around, type Neighbour } from './around';
export { mentionsOf, notLookedInto, type Mention } from './mentions';
export { distance, nearest, nearestIn } from './nearest';
export { gameFunctions, NoRecord, throwOn, type TryAsked } from './tries';
export { eventsOf, kindOfArgument, saidOfFunction, type EventAnswer, type GameEvent } from './events';
export { answerText, recordArgument, type AnswerFor } from './answer';
export { loadingOf, loadsAll, scriptsOf, type Load, type Loading, type Script } from './scripts';
