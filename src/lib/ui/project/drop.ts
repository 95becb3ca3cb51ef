// Folders and archives that are dropped on the page, as one archive that can be sent.
import { zip, type AsyncZippable } from 'fflate';

/** Bytes that can be sent, as the server takes them. */
const MOST = 512 * 2 ** 20;

/** What was dropped cannot be sent; says why and what would do. */
export class DropFault extends Error {}

export interface Dropped {
	/** Name without an ending. */
	name: string;
	body: Blob;
}

const fileOf = (entry: FileSystemFileEntry) => new Promise<File>((done, fail) => entry.file(done, fail));

/** All entries of a folder: the browser gives them in portions. */
async function entriesOf(entry: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
	const reader = entry.createReader();
	const all: FileSystemEntry[] = [];
	for (;;) {
		const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
		if (some.length === 0) return all;
		all.push(...some);
	}
}

/**
 * A folder as an archive, or a ZIP file as it is.
 * @param progress told how many files were read
 * @throws DropFault
 */
export async function readDropped(data: DataTransfer, progress: (files: number) => void): Promise<Dropped> {
	const item = [...data.items].find(({ kind }) => kind === 'file');
	const entry = item?.webkitGetAsEntry() ?? null;
	const plain = item?.getAsFile() ?? null;
	if (entry === null && plain === null) throw new DropFault('Drop a folder or a ZIP file here.');
	if (entry === null || entry.isFile) {
		const file = entry === null ? plain! : await fileOf(entry as FileSystemFileEntry);
		if (!/\.zip$/i.test(file.name))
			throw new DropFault(`${file.name} is not a ZIP file. Drop the folder of the game, or a ZIP of it.`);
		return { name: file.name.replace(/\.zip$/i, ''), body: file };
	}
	const files: AsyncZippable = {};
	let [count, bytes] = [0, 0];
	const open: [string, FileSystemDirectoryEntry][] = [['', entry as FileSystemDirectoryEntry]];
	for (let next = open.pop(); next; next = open.pop()) {
		const [path, folder] = next;
		for (const inner of await entriesOf(folder)) {
			const name = `${path}${inner.name}`;
			if (inner.isDirectory) {
				open.push([`${name}/`, inner as FileSystemDirectoryEntry]);
				continue;
			}
			const file = await fileOf(inner as FileSystemFileEntry);
			bytes += file.size;
			if (bytes > MOST)
				throw new DropFault(
					`This folder is larger than ${MOST / 2 ** 20} MB. Choose it by its path instead; then nothing has to be sent.`
				);
			files[name] = [new Uint8Array(await file.arrayBuffer()), { level: 0 }];
			progress(++count);
		}
	}
	if (count === 0) throw new DropFault(`${entry.name} holds no files.`);
	const body = await new Promise<Uint8Array>((done, fail) =>
		zip(files, (fault, made) => (fault ? fail(fault) : done(made)))
	);
	return { name: entry.name, body: new Blob([body as Uint8Array<ArrayBuffer>], { type: 'application/zip' }) };
}
