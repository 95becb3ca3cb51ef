// A large body goes to disk piece by piece and never is in memory whole.
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { inWords, SourceFault } from '../files';
import { homeFolder } from './settings';

const MOST = 512 * 2 ** 20;

/** Writes the body of a call to a file of its own and gives its path; the caller takes it away. @throws SourceFault */
export async function toDisk(request: Request): Promise<string> {
	const folder = join(homeFolder(), 'uploads');
	await mkdir(folder, { recursive: true });
	const file = join(folder, `${randomUUID()}.zip`);
	let size = 0;
	try {
		if (!request.body) throw new SourceFault('The file is empty; there is nothing to import.');
		await pipeline(
			Readable.fromWeb(request.body as Parameters<typeof Readable.fromWeb>[0]),
			async function* (chunks: AsyncIterable<Buffer>) {
				for await (const chunk of chunks) {
					size += chunk.length;
					if (size > MOST)
						throw new SourceFault(
							`The archive is larger than ${MOST / 2 ** 20} MB. Unpack it and import its folder instead.`
						);
					yield chunk;
				}
			},
			createWriteStream(file)
		);
		return file;
	} catch (fault) {
		await rm(file, { force: true });
		const { code } = fault as NodeJS.ErrnoException;
		throw code === 'ENOSPC' || code === 'EROFS' ? new SourceFault(inWords(fault, folder)) : fault;
	}
}
