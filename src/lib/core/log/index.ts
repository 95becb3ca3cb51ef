// log: how the lines of a game's log are read.
export { guessedMarks, PARTS, patternFrom, readLines, type Marks, type Part, type ReadLine } from './reader';
