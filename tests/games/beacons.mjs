// A game with ways of its own: add-ons in `Addons`, switched on by a line in a text, a log in `logs/boot.txt` with the
// paths of another system, and an end that it never comes to by itself. Run in its folder it starts; `writeBeacons`
// writes it.
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const BIRDS = ['gull', 'tern', 'auk', 'skua', 'eider', 'heron'];
const LAMPS = ['oil', 'gas', 'arc'];

/** @param {string} folder */
export function writeBeacons(folder) {
	for (const below of ['data', 'Addons/old_charts']) mkdirSync(join(folder, below), { recursive: true });
	const lamps = LAMPS.map((id, nth) => ({ id, reach: 6 + nth * 5, oil: 3 - nth }));
	const beacons = BIRDS.flatMap((bird, nth) =>
		['north', 'south'].map((side, at) => ({
			id: `${side}_${bird}`,
			height: 20 + nth * 7 + at,
			lamp: LAMPS[(nth + at) % 3],
			keepers: 1 + ((nth + at) % 4)
		}))
	);
	writeFileSync(join(folder, 'data/lamps.json'), `${JSON.stringify(lamps, null, '\t')}\n`);
	writeFileSync(join(folder, 'data/beacons.json'), `${JSON.stringify(beacons, null, '\t')}\n`);
	writeFileSync(join(folder, 'Addons/old_charts/readme.txt'), 'Charts of an older survey.\n');
	writeFileSync(join(folder, 'Addons/enabled.txt'), '# one a line\r\nold_charts\r\n');
}

/** The number of the line (from 1) on which a record begins. @param {string} text @param {string} id */
const lineOf = (text, id) => text.slice(0, text.indexOf(`"${id}"`)).split('\n').length;

/** @param {string} folder */
function start(folder) {
	/** @type {string[]} */
	const lines = [];
	/** @param {string} level @param {string} where @param {string} words */
	const say = (level, where, words) =>
		lines.push(`[00:0${lines.length % 10}] ${level} ${where.replaceAll('/', '\\')} - ${words}`);
	const enabled = readFileSync(join(folder, 'Addons/enabled.txt'), 'utf8')
		.split(/\r?\n/)
		.map((line) => line.trim())
		.filter((line) => line !== '' && !line.startsWith('#'));
	const lamps = new Set();
	const beacons = new Map();
	for (const addon of [null, ...enabled]) {
		const at = addon === null ? 'data' : `Addons/${addon}/data`;
		for (const name of ['lamps.json', 'beacons.json']) {
			const path = `${at}/${name}`;
			if (!existsSync(join(folder, path))) continue;
			const text = readFileSync(join(folder, path), 'utf8');
			for (const one of JSON.parse(text)) {
				if (name === 'lamps.json') lamps.add(one.id);
				else beacons.set(one.id, { ...one, path, line: lineOf(text, one.id) });
			}
		}
		if (addon !== null) say('note', `Addons/${addon}`, 'add-on taken');
	}
	for (const { id, lamp, keepers, path, line } of beacons.values()) {
		if (!lamps.has(lamp)) say('BAD', `${path}(${line})`, `beacon ${id} is left out: no lamp ${lamp}`);
		else if (keepers > 9) say('odd', `${path}(${line})`, `beacon ${id} has ${keepers} keepers`);
	}
	say('note', 'data', `${beacons.size} beacons of ${readdirSync(join(folder, 'data')).length} files`);
	say('note', 'data', 'all lamps are lit');
	mkdirSync(join(folder, 'logs'), { recursive: true });
	writeFileSync(join(folder, 'logs/boot.txt'), `${lines.join('\r\n')}\r\n`);
	// It goes on until somebody ends it.
	setInterval(() => undefined, 1000);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) start(process.cwd());
