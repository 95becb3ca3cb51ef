// Archives of the tape kind, also compressed: their files are unpacked aside once, and read from there.
import { closeSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import { extract } from 'tar-stream';

/** A file of an archive: where its bytes stand aside. */
export interface Unpacked {
	path: string;
	size: number;
	from: number;
}

/** The files of an archive, unpacked. */
export interface Tape {
	files: Unpacked[];
	/** The bytes of one. */
	read(file: Unpacked): Buffer;
	close(): void;
}

/**
 * Whether a file begins as such an archive does: the sum of its first 512 bytes, their own place counted as spaces, is
 * written in them (POSIX.1-1988). Older archives have no other mark.
 */
export function isTapeHead(head: Buffer): boolean {
	if (head.length < 512 || head[0] === 0) return false;
	let sum = 0;
	for (let at = 0; at < 512; at++) sum += at >= 148 && at < 156 ? 32 : head[at]!;
	const written = /^[ ]*([0-7]+)/.exec(head.toString('latin1', 148, 156))?.[1];
	return written !== undefined && parseInt(written, 8) === sum;
}

/** A path that stays below the archive; null for one that would leave it. */
function pathWithin(name: string): string | null {
	const path = name.replace(/^(?:\.\/)+/, '').replaceAll('\\', '/');
	return path === '' || path.startsWith('/') || path.split('/').includes('..') ? null : path;
}

/**
 * Unpacks an archive from a stream.
 * @param spend is told the bytes of each file before they are unpacked; throws where they are too many
 * @throws what `spend` throws, and where the stream is no such archive
 */
export async function unpackTape(
	stream: Readable,
	zipped: boolean,
	spend: (bytes: number) => void
): Promise<Tape> {
	const folder = mkdtempSync(join(tmpdir(), 'kettle-tape-'));
	// Without a name it goes when it is closed.
	const aside = openSync(join(folder, 'files'), 'w+');
	rmSync(folder, { recursive: true });
	const files: Unpacked[] = [];
	let at = 0;
	// Old archives say their version in other ways; the mark was looked at by whoever opened them.
	const tape = extract({ allowUnknownFormat: true } as Parameters<typeof extract>[0]);
	tape.on('entry', (header, body, next) => {
		const path = header.type === 'file' ? pathWithin(header.name) : null;
		if (path === null) {
			body.on('end', next).resume();
			return;
		}
		const from = at;
		try {
			spend(header.size ?? 0);
		} catch (fault) {
			tape.destroy(fault as Error);
			return;
		}
		body.on('data', (data) => {
			const chunk = data as Buffer;
			writeSync(aside, chunk, 0, chunk.length, at);
			at += chunk.length;
		});
		body.on('end', () => {
			files.push({ path, size: at - from, from });
			next();
		});
	});
	try {
		await (zipped ? pipeline(stream, createGunzip(), tape) : pipeline(stream, tape));
	} catch (fault) {
		closeSync(aside);
		throw fault;
	}
	return {
		// The later of two files of one path counts.
		files: [...new Map(files.map((file) => [file.path, file])).values()].sort((a, b) =>
			a.path < b.path ? -1 : 1
		),
		read({ size, from }) {
			const bytes = Buffer.alloc(size);
			for (let got = 0; got < size;) got += readSync(aside, bytes, got, size - got, from + got);
			return bytes;
		},
		close: () => closeSync(aside)
	};
}
