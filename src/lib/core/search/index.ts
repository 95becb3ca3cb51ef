// search: everything that can be found, and ranked hits with the reason for each.
export { buildIndex, buildIndexSteps } from './build';
export { search } from './search';
export type { Found, Given, Hit, HitGroup, SearchIndex, SearchOptions } from './types';
export { measureSteps, mostLike, type Alike } from './alike';
export { fold, wordsOf } from './fold';
export { inRoll, rollOf } from './roll';
