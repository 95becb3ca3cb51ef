// search: an index over ids, names, values, remarks and files, and ranked hits with the reason for each.
export { buildIndex, search, type Hit, type SearchIndex, type SearchOptions } from './search';
export { fold } from './fold';
