// files: the file system, for the server and the command alike: folders and archives as sources, writing that is all or nothing.
export {
	checkSource,
	openFolder,
	openSource,
	openZip,
	readAll,
	LIMITS,
	MOD_LIMITS,
	tooLarge,
	type Limits,
	type Source,
	type SourceEntry,
	type SourceFile
} from './source';
export { readWhole } from './whole';
export { writeAllAtomic, writeAtomic, writeTree } from './write';
export { openInside, pathInside } from './inside';
export { install, recover, remove } from './install';
export {
	installedOn,
	meets,
	REMOVED,
	verify,
	type Installed,
	type Place,
	type Removed,
	type Verified
} from './installed';
export { filesBelow } from './moves';
export { mustNotRun } from './running';
export { madeByTool, toolFor } from './tool';
export { playGame, readLogFile, startGame, type Launcher, type Started } from './play';
export { readOrder, type Order } from './order';
export { othersListed, writeListed } from './others';
export { inWords, SourceFault } from './fault';
export { guideBeside, readGuide } from './guide-beside';
export { failpoint } from './failpoint';
export { thrown, ThrowFault } from './throwing';
