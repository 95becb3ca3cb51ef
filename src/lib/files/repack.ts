// An archive of the game with some of its entries replaced: all others stay as they are, byte for byte.
import { deflateRawSync, crc32 } from 'node:zlib';
import { SourceFault } from './fault';
import { isTapeHead } from './tar';

const cannot = (path: string, why: string) =>
	new SourceFault(`The archive ${path} cannot be changed: ${why}. Nothing was installed.`);

/** Marks of the parts of a ZIP archive (APPNOTE.TXT 6.3, PKWARE). */
const LOCAL = 0x04034b50;
const CENTRAL = 0x02014b50;
const END = 0x06054b50;

interface Member {
	name: string;
	/** Its line in the directory, and where its data begins and ends. */
	head: Buffer;
	from: number;
	to: number;
}

function membersOf(path: string, bytes: Buffer): { members: Member[]; comment: Buffer } {
	let end = bytes.length - 22;
	const least = Math.max(0, end - 0xffff);
	while (end >= least && bytes.readUInt32LE(end) !== END) end--;
	if (end < least) throw cannot(path, 'its directory was not found');
	const count = bytes.readUInt16LE(end + 10);
	let at = bytes.readUInt32LE(end + 16);
	if (count === 0xffff || at === 0xffffffff)
		throw cannot(path, 'it is too large (over 4 GB or 65,534 entries)');
	const members: Member[] = [];
	for (let nth = 0; nth < count; nth++) {
		if (bytes.readUInt32LE(at) !== CENTRAL) throw cannot(path, 'its directory is damaged');
		const length =
			46 + bytes.readUInt16LE(at + 28) + bytes.readUInt16LE(at + 30) + bytes.readUInt16LE(at + 32);
		const head = bytes.subarray(at, at + length);
		const name = head
			.subarray(46, 46 + head.readUInt16LE(28))
			.toString(head.readUInt16LE(8) & 0x800 ? 'utf8' : 'latin1');
		members.push({ name, head, from: head.readUInt32LE(42), to: 0 });
		at += length;
	}
	// An entry reaches to the next one, whatever its own head says of its length.
	const starts = [...members.map(({ from }) => from), bytes.readUInt32LE(end + 16)].sort((a, b) => a - b);
	for (const member of members) {
		member.to = starts.find((start) => start > member.from) ?? member.from;
		if (member.to === member.from || bytes.readUInt32LE(member.from) !== LOCAL)
			throw cannot(path, `its entry ${member.name} is damaged`);
	}
	return { members, comment: bytes.subarray(end + 20) };
}

/** An entry with other bytes: stored or deflated as it was, with the time and the extra fields that it had. */
function replaced(member: Member | null, name: string, bytes: Uint8Array): { local: Buffer; head: Buffer } {
	const stored = member?.head.readUInt16LE(10) === 0;
	const data = stored ? Buffer.from(bytes) : deflateRawSync(bytes, { level: 9 });
	const called = member
		? member.head.subarray(46, 46 + member.head.readUInt16LE(28))
		: Buffer.from(name, 'utf8');
	// Without the flags that the lengths follow the data and that it is encrypted.
	const flags = member ? member.head.readUInt16LE(8) & ~0b1001 : 0x800;
	const local = Buffer.alloc(30);
	local.writeUInt32LE(LOCAL, 0);
	local.writeUInt16LE(20, 4);
	local.writeUInt16LE(flags, 6);
	local.writeUInt16LE(stored ? 0 : 8, 8);
	// 1980-01-01 where there was no time: the same input gives the same bytes.
	local.writeUInt32LE(member ? member.head.readUInt32LE(12) : 0x00210000, 10);
	local.writeUInt32LE(crc32(bytes), 14);
	local.writeUInt32LE(data.length, 18);
	local.writeUInt32LE(bytes.length, 22);
	local.writeUInt16LE(called.length, 26);
	const head = member ? Buffer.from(member.head) : Buffer.concat([Buffer.alloc(46), called]);
	if (!member) {
		head.writeUInt32LE(CENTRAL, 0);
		head.writeUInt16LE(20, 4);
		head.writeUInt16LE(called.length, 28);
	}
	local.copy(head, 6, 4, 26);
	return { local: Buffer.concat([local, called, data]), head };
}

function zipWith(path: string, bytes: Buffer, entries: ReadonlyMap<string, Uint8Array>): Buffer {
	const { members, comment } = membersOf(path, bytes);
	const first = Math.min(...members.map(({ from }) => from), bytes.length);
	// What stands before the first entry stays: some archives are programs, too.
	const pieces: Buffer[] = members.length > 0 ? [bytes.subarray(0, first)] : [];
	let at = pieces[0]?.length ?? 0;
	const heads: Buffer[] = [];
	const left = new Map(entries);
	const put = (local: Buffer, head: Buffer) => {
		const moved = Buffer.from(head);
		moved.writeUInt32LE(at, 42);
		heads.push(moved);
		pieces.push(local);
		at += local.length;
	};
	for (const member of members) {
		const fresh = left.get(member.name);
		left.delete(member.name);
		if (fresh === undefined) put(bytes.subarray(member.from, member.to), member.head);
		else {
			const made = replaced(member, member.name, fresh);
			put(made.local, made.head);
		}
	}
	for (const [name, fresh] of left) {
		const made = replaced(null, name, fresh);
		put(made.local, made.head);
	}
	const directory = Buffer.concat(heads);
	if (at + directory.length >= 0xffffffff || heads.length >= 0xffff)
		throw cannot(path, 'it would become too large (over 4 GB or 65,534 entries)');
	const end = Buffer.alloc(20);
	end.writeUInt32LE(END, 0);
	end.writeUInt16LE(heads.length, 8);
	end.writeUInt16LE(heads.length, 10);
	end.writeUInt32LE(directory.length, 12);
	end.writeUInt32LE(at, 16);
	return Buffer.concat([...pieces, directory, end, comment]);
}

const BLOCK = 512;
const padded = (length: number) => Math.ceil(length / BLOCK) * BLOCK;
const wordAt = (head: Buffer, from: number, length: number) => {
	const word = head.subarray(from, from + length);
	const end = word.indexOf(0);
	return word.subarray(0, end < 0 ? length : end).toString('utf8');
};

/** Writes the length of a file into its head, and the sum over that (POSIX.1-1988, ustar). */
function measured(head: Buffer, size: number): Buffer {
	const made = Buffer.from(head);
	made.write(`${size.toString(8).padStart(11, '0')}\0`, 124, 'latin1');
	made.fill(0x20, 148, 156);
	const sum = made.reduce((all, byte) => all + byte, 0);
	made.write(`${sum.toString(8).padStart(6, '0')}\0 `, 148, 'latin1');
	return made;
}

function headFor(path: string, name: string): Buffer {
	if (Buffer.byteLength(name) > 100) throw cannot(path, `the name of its new entry ${name} is too long`);
	const head = Buffer.alloc(BLOCK);
	head.write(name, 0, 'utf8');
	head.write('0000644\0', 100, 'latin1');
	head.write('0000000\0', 108, 'latin1');
	head.write('0000000\0', 116, 'latin1');
	head.write('00000000000\0', 136, 'latin1');
	head.write('0', 156, 'latin1');
	head.write('ustar\x0000', 257, 'latin1');
	return head;
}

const filled = (bytes: Uint8Array): Buffer =>
	Buffer.concat([bytes, Buffer.alloc(padded(bytes.length) - bytes.length)]);

function tapeWith(path: string, bytes: Buffer, entries: ReadonlyMap<string, Uint8Array>): Buffer {
	const left = new Map(entries);
	const pieces: Buffer[] = [];
	/** The name that an entry before says for the next one, and whether it says its length as well. */
	let called: string | null = null;
	let at = 0;
	while (at + BLOCK <= bytes.length && bytes[at] !== 0) {
		const head = bytes.subarray(at, at + BLOCK);
		const size = parseInt(wordAt(head, 124, 12).trim() || '0', 8);
		const next = at + BLOCK + padded(size);
		if (!isTapeHead(head) || Number.isNaN(size) || next > bytes.length)
			throw cannot(path, 'an entry of it is damaged');
		const type = String.fromCharCode(head[156]!);
		const body = bytes.subarray(at + BLOCK, at + BLOCK + size);
		if (type === 'L') called = body.toString('utf8').replace(/\0.*$/s, '');
		else if (type === 'x') {
			if (/^\d+ size=/m.test(body.toString('utf8')))
				throw cannot(path, 'it gives the lengths of its entries in headers of their own');
			called = /^\d+ path=(.*)$/m.exec(body.toString('utf8'))?.[1] ?? called;
		}
		const ustar = head.toString('latin1', 257, 262) === 'ustar';
		const prefix = ustar ? wordAt(head, 345, 155) : '';
		const name = (called ?? (prefix === '' ? '' : `${prefix}/`) + wordAt(head, 0, 100)).replace(
			/^(?:\.\/)+/,
			''
		);
		const fresh = type === '0' || type === '\0' ? left.get(name) : undefined;
		if (fresh === undefined) pieces.push(bytes.subarray(at, next));
		else {
			left.delete(name);
			pieces.push(measured(head, fresh.length), filled(fresh));
		}
		if (type !== 'L' && type !== 'x') called = null;
		at = next;
	}
	for (const [name, fresh] of left) pieces.push(measured(headFor(path, name), fresh.length), filled(fresh));
	return Buffer.concat([...pieces, bytes.subarray(at)]);
}

/**
 * An archive with entries replaced or added: a ZIP, or one of the tape kind.
 * @param path how it is called in messages
 * @param entries bytes by the names of entries
 * @throws SourceFault where it is neither, is damaged, or would become too large
 */
export async function repacked(
	path: string,
	bytes: Buffer,
	entries: ReadonlyMap<string, Uint8Array>
): Promise<Uint8Array> {
	if (isTapeHead(bytes.subarray(0, BLOCK))) return tapeWith(path, bytes, entries);
	if (bytes.length >= 22 && bytes.subarray(0, 2).toString('latin1') === 'PK')
		return zipWith(path, bytes, entries);
	throw cannot(path, 'it is neither a ZIP nor a tar archive');
}
