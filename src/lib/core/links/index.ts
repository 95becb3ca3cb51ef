// links: the graph of references: what a field names, whether it is there, and who names a record.
export { buildLinks, nearest, distance, type Link, type Links } from './links';
