// A game that keeps its tables in archives, twice: `res/core.pak` and, for small machines, `res/low.pak`. What changes
// is put over its own files; it logs to `ferries.log` and ends by itself, with 3 where a ferry has no pier. Run in its
// folder it starts; `writeFerries` writes it.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { crc32, deflateRawSync, inflateRawSync } from 'node:zlib';

/** An archive (ZIP) with files in it. @param {Record<string, string>} files @param {boolean} packed */
function archiveOf(files, packed) {
	const pieces = [];
	const lines = [];
	let at = 0;
	for (const [name, text] of Object.entries(files)) {
		const bytes = Buffer.from(text);
		const data = packed ? deflateRawSync(bytes) : bytes;
		const head = Buffer.alloc(26);
		head.writeUInt16LE(20, 0);
		head.writeUInt16LE(packed ? 8 : 0, 4);
		head.writeUInt32LE(0x2c5a8a31, 6);
		head.writeUInt32LE(crc32(bytes), 10);
		head.writeUInt32LE(data.length, 14);
		head.writeUInt32LE(bytes.length, 18);
		head.writeUInt16LE(name.length, 22);
		const line = Buffer.alloc(46);
		line.write('PK\x01\x02', 'latin1');
		line.writeUInt16LE(20, 4);
		head.copy(line, 6);
		line.writeUInt32LE(at, 42);
		lines.push(line, Buffer.from(name));
		pieces.push(Buffer.from('PK\x03\x04', 'latin1'), head, Buffer.from(name), data);
		at += 30 + name.length + data.length;
	}
	const directory = Buffer.concat(lines);
	const end = Buffer.alloc(22);
	end.write('PK\x05\x06', 'latin1');
	end.writeUInt16LE(lines.length / 2, 8);
	end.writeUInt16LE(lines.length / 2, 10);
	end.writeUInt32LE(directory.length, 12);
	end.writeUInt32LE(at, 16);
	return Buffer.concat([...pieces, directory, end]);
}

/** The files of an archive. @param {Buffer} bytes */
function filesIn(bytes) {
	/** @type {Map<string, string>} */
	const files = new Map();
	const end = bytes.lastIndexOf('PK\x05\x06', undefined, 'latin1');
	let at = bytes.readUInt32LE(end + 16);
	for (let left = bytes.readUInt16LE(end + 10); left > 0; left--) {
		const name = bytes.toString('utf8', at + 46, at + 46 + bytes.readUInt16LE(at + 28));
		const local = bytes.readUInt32LE(at + 42);
		const from = local + 30 + bytes.readUInt16LE(local + 26) + bytes.readUInt16LE(local + 28);
		const data = bytes.subarray(from, from + bytes.readUInt32LE(at + 20));
		files.set(name, (bytes.readUInt16LE(at + 10) === 8 ? inflateRawSync(data) : data).toString());
		at += 46 + bytes.readUInt16LE(at + 28) + bytes.readUInt16LE(at + 30) + bytes.readUInt16LE(at + 32);
	}
	return files;
}

/** @param {string} folder */
export function writeFerries(folder) {
	mkdirSync(join(folder, 'res'), { recursive: true });
	const piers = ['Loam', 'Sedge', 'Reed', 'Alder', 'Osier'];
	const tables = {
		'piers.csv': `pier;name;berths\n${piers.map((name, nth) => `pier_${nth + 1};${name} Pier;${2 + nth}\n`).join('')}`,
		'ferries.csv': `ferry;pier;seats;crew\n${Array.from({ length: 14 }, (_, nth) => `ferry_${nth + 1};pier_${1 + (nth % 5)};${40 + nth * 6};${3 + (nth % 4)}\n`).join('')}`,
		'art/hull.txt': 'a hull\n'
	};
	writeFileSync(join(folder, 'res/core.pak'), archiveOf(tables, true));
	writeFileSync(join(folder, 'res/low.pak'), archiveOf(tables, false));
	writeFileSync(join(folder, 'settings.cfg'), 'small = no\n');
}

/** @param {string} folder @param {boolean} small */
function start(folder, small) {
	const pak = `res/${small ? 'low' : 'core'}.pak`;
	const files = filesIn(readFileSync(join(folder, pak)));
	/** @param {string} name */
	const rows = (name) =>
		(files.get(name) ?? '')
			.split('\n')
			.slice(1)
			.map((line) => line.split(';'));
	const piers = new Set(rows('piers.csv').map(([id]) => id));
	const log = [`info | ${pak} | 0 | opened, ${files.size} files`];
	let bad = 0;
	for (const [nth, [id = '', pier, seats]] of rows('ferries.csv').entries()) {
		if (id === '') continue;
		if (!piers.has(pier))
			log.push(`fail | ${pak}/ferries.csv | ${nth + 2} | ${id} berths at ${pier}: no such pier`);
		else if (Number(seats) > 300)
			log.push(`fail | ${pak}/ferries.csv | ${nth + 2} | ${id} would sink under ${seats}`);
		else continue;
		bad++;
	}
	log.push(`info | settings.cfg | 0 | ${existsSync(join(folder, 'settings.cfg')) ? 'read' : 'none'}`);
	writeFileSync(join(folder, 'ferries.log'), `${log.join('\n')}\n`);
	process.exitCode = bad > 0 ? 3 : 0;
}

if (process.argv[1] === fileURLToPath(import.meta.url))
	start(process.cwd(), process.argv.includes('--small'));
