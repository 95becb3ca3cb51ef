// files: the file system, for the server and the command alike: folders and archives as sources, writing that is all or nothing.
export {
	checkSource,
	openFolder,
	openSource,
	openZip,
	readAll,
	LIMITS,
	SourceFault,
	type Source,
	type SourceEntry,
	type SourceFile
} from './source';
export { writeAtomic, writeTree } from './write';
export { guideBeside } from './guide-beside';
