// search: everything that can be found, and ranked hits with the reason for each.
export { buildIndex, buildIndexSteps } from './build';
export {
	search,
	type Found,
	type Given,
	type Hit,
	type HitGroup,
	type SearchIndex,
	type SearchOptions
} from './search';
export { measureSteps, mostLike, type Alike } from './alike';
export { fold, wordsOf } from './fold';
