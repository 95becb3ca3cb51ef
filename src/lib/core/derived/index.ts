// derived: the files of a mod that are made from its others.
export { derivedFiles, type Sources } from './derived';
export { programsOf, sourcesDigest } from './programs';
