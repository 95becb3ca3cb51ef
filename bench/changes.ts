// `npm run bench changes`: what a new version of a game of 300,000 records changed, beside reading that version, in one run.
// Then a mod with 2,000 changed values is carried over. A sixth of its files has other numbers, and one field has another name.
import { carryMod, changesBetween } from '$core/carry';
import { createPool } from '$core/facts';
import { parseGuide } from '$core/guide';
import { loadLayer } from '$core/model';
import { planFor, stackAfter } from '$core/edits';
import { buildStack, changedRows, type Stack } from '$core/stack';
import { gameFiles, gameGuide, makeGame, random } from './game';
import { ms, row, timed } from './said';

const RECORDS = Number(process.env.BENCH_RECORDS ?? 300_000);
const FILES = Number(process.env.BENCH_FILES ?? 3000);

const guide = parseGuide(gameGuide());

// The server keeps the texts of both versions in one pool.
const pool = createPool();

function read(files: ReadonlyMap<string, string>): Stack {
	const bytes = new Map([...files].map(([path, text]) => [path, new TextEncoder().encode(text)]));
	return buildStack(
		[
			loadLayer({ id: 'base', title: 'Base', owner: 'game' }, bytes, { guide, pool }),
			{ id: 'mine', title: 'Mine', owner: 'me', files: new Map() }
		],
		guide,
		pool
	);
}

const game = makeGame({ records: RECORDS, files: FILES });
const old = new Map([...gameFiles(game)].map(({ path, text }) => [path, text]));
const dice = random(3);
const fresh = new Map(
	[...old].map(([path, text], nth) => {
		const changed =
			nth % 6 === 0 ? text.replace(/\b\d{2}\b/g, (number) => (dice() < 0.5 ? '77' : number)) : text;
		return [path, changed.replaceAll('"nerve"', '"courage"')];
	})
);
const before = read(old);
const [after, reading] = timed(() => read(fresh));
const [found, time] = timed(() => changesBetween(before, after));
const count = [...after.tables.values()].reduce((sum, table) => sum + table.count, 0);
console.log(`A made-up game of ${count} records in ${fresh.size} files, and its next version`);
row('reading the next version', `${ms(reading)} ms`);
row(
	`what it changed: ${found.records.length} records, ${found.fields.length} fields`,
	`${ms(time)} ms; ${(time / reading).toFixed(2)} of the reading`,
	'under 10 s'
);

const VALUES = 2700;
let withMine = before;
for (const [kind, table] of before.tables) {
	const share = Math.ceil((VALUES * table.count) / count);
	const cells = table.records
		.filter((_, row) => row % Math.max(1, Math.floor(table.count / share)) === 0)
		.slice(0, share)
		.flatMap((record) => {
			const [field, value] =
				[...record.values].find(([path, one]) => /^\d+$/.test(one.value) && path !== table.guide.key) ?? [];
			return field === undefined ? [] : [{ id: record.id, field, value: String(Number(value!.value) + 1) }];
		});
	if (cells.length > 0)
		withMine = stackAfter(withMine, planFor(withMine, { do: 'cells', kind, cells }, 'mine'));
}
const mine = [...withMine.tables.values()].reduce((sum, table) => sum + changedRows(table).length, 0);
const [carried, carrying] = timed(() => carryMod(withMine, after));
const open = carried.items.filter(({ what }) => what === 'undecided' || what === 'homeless').length;
row(
	`a mod of ${mine} changed records in ${withMine.mine!.files.size} files carried over, ${open} to decide`,
	`${ms(carrying)} ms; ${(carrying / reading).toFixed(2)} of the reading`,
	'under 10 s'
);
