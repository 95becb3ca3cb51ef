// narrow: which of many parts brings a fault about, found by trying some of them; and my mod with only some of its steps.
export { bareLine, bisecting, inRounds, keyOf, type Narrowed, type Outcome } from './bisecting';
export { digestsIn, filesWith } from './subset';
