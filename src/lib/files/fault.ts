/** Files cannot be read or written as asked. The message says what, where, and the way out. */
export class SourceFault extends Error {}

const WHY: Record<string, string> = {
	ENOSPC: 'the disk is full',
	EDQUOT: 'the disk quota is used up',
	EROFS: 'the disk is read-only',
	EACCES: 'permission was denied',
	EPERM: 'permission was denied',
	ENOENT: 'it is not there',
	ENOTDIR: 'a file stands where a folder should be',
	EISDIR: 'a folder stands where a file should be',
	EIO: 'the disk reported an error',
	EMFILE: 'too many files are open',
	ENAMETOOLONG: 'a name is longer than this machine allows',
	EBUSY: 'another program holds it',
	ETXTBSY: 'another program holds it'
};

/** What went wrong with files, in words for people. @param path what was written or read */
export function inWords(fault: unknown, path: string): string {
	if (fault instanceof SourceFault) return fault.message;
	const { code, path: at } = fault as NodeJS.ErrnoException;
	const why = code === undefined ? undefined : (WHY[code] ?? code);
	if (why === undefined) return fault instanceof Error ? fault.message : String(fault);
	return `${at ?? path} could not be read or written: ${why}. What was there before has not changed.`;
}
