// words: what players read. How far it is there in each language, and what in a text is not for reading.
export { differencesOf, marksUnlike, tokensOf, type Difference, type Tokens } from './tokens';
export {
	coverageOf,
	coverageSteps,
	gameUnlike,
	languagesOf,
	sameRows,
	staleRows,
	textTable,
	unlikeIn,
	unlikeRows,
	type Coverage
} from './coverage';
export { drawnPlaces } from './places';
export { familiesIn, formOf, formsFor, keyOfForm } from './forms';
export { drawn, drawnText, lookOf, type Drawn, type TextLook } from './draw';
export { CURLY, gameHabits, gameTexts, STRAIGHT, unevenTags, withoutApostrophes } from './habits';
export { pseudoText } from './pseudo';
export { similarTexts, type Translated } from './similar';
export { againstTermRows, termFaults, type TermFault } from './terms';
export { formsIn, replaced, type Replacing } from './replace';
export { usedRows, usersOf, type Users } from './wearers';
export { givenOut, type Given, type GiveAsked, type TextUnit } from './units';
export {
	codeOf,
	ExchangeFault,
	takenIn,
	type ChangedText,
	type Returned,
	type ReturnedText,
	type TakenIn,
	type TakenText
} from './returned';
export { FORM_NAMES, FORMS, giveAs, readReturned, textOfReturned, type Form } from './exchange';
