// Writes the demo game's next version, 1.5, into a folder: `node demo/next.mjs FOLDER`. What its makers changed: an
// engine is gone, a field has another name, a piece of gear lies in another file, values differ, a script has moved down.
import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { writeDigests } from './digests.mjs';

/** @param {string} folder */
export function writeNext(folder) {
	rmSync(folder, { recursive: true, force: true });
	cpSync(fileURLToPath(new URL('base', import.meta.url)), folder, { recursive: true });
	/** @param {string} path @param {(text: string) => string} change */
	const edit = (path, change) => {
		const before = readFileSync(`${folder}/${path}`, 'utf8');
		const after = change(before);
		if (after === before) throw new Error(`${path} would stay as it is`);
		writeFileSync(`${folder}/${path}`, after);
	};
	edit('game.json', (text) => text.replace('"1.4"', '"1.5"'));
	edit('data/engines.ini', (text) =>
		text
			.replace(/\[single_3\][^[]*(?=\[|;)/, '')
			.replace(/coldest( *)=/g, 'cold_start$1=')
			.replace(/^; coldest   /m, '; cold_start')
			.replace(/(\[triple_6\]\npower\s+= )\d+/, '$1510')
	);
	edit('data/vessels.tsv', (text) =>
		text
			.replaceAll('\tsingle_3\t', '\tsingle_4\t')
			.replace(/^(cutter_04\t\d+\t)\d+/m, '$1110')
			.replace(/^(tug_02\t\d+\t\d+\t)\d+/m, '$112')
	);
	edit('data/abilities.json', (text) => text.replaceAll('"single_3"', '"single_4"'));
	for (const edition of ['', 'cold/']) {
		let moved = '';
		edit(`data/gear/${edition}deck.xml`, (text) =>
			text.replace(/\t<piece id="net_ladder"[\s\S]*?<\/piece>\n/, (piece) => ((moved = piece), ''))
		);
		edit(`data/gear/${edition}hull.xml`, (text) => text.replace('</gear>', `${moved}</gear>`));
	}
	edit('data/vessels.tsv', (text) =>
		text.replace(/^((?:[^\t\n]*\t){9})net_ladder\t([^\t]*)/gm, (_, start, hull) => `${start}\t${hull || 'net_ladder'}`)
	);
	for (const language of ['en', 'de', 'ja'])
		edit(`words/${language}/engines.properties`, (text) => text.replace(/^engine\.single_3\.name=.*\n/m, ''));
	edit('scripts/omens.lua', (text) => `-- Reads the sky twice an hour.\nlocal calm = 2\n\n${text}`);
	writeDigests(folder);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
	const [, , folder] = process.argv;
	if (!folder) throw new Error('Say into which folder: node demo/next.mjs FOLDER');
	writeNext(folder);
}
