// scenario: what a change does to a game that is played many times, or to a figure that follows from its data.
export { compareSteps, meanSteps, type Compared, type Estimate, type Side } from './compare';
export { argumentsOf, shares, type Filling } from './command';
export { namesIn, pairsOf, playIn, playsAsCsv, type Pairs, type Play } from './outcomes';
export { workedOut, type Worked } from './formula';
