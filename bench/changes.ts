// `npm run bench changes`: what a new version of a game of 300,000 records changed, beside reading that version, in one run.
// A tenth of its files have other numbers, and one field has another name.
import { changesBetween } from '$core/carry';
import { createPool } from '$core/facts';
import { parseGuide } from '$core/guide';
import { loadLayer } from '$core/model';
import { buildStack, type Stack } from '$core/stack';
import { gameFiles, gameGuide, makeGame, random } from './game';
import { ms, row, timed } from './said';

const RECORDS = Number(process.env.BENCH_RECORDS ?? 300_000);
const FILES = Number(process.env.BENCH_FILES ?? 3000);

const guide = parseGuide(gameGuide());

function read(files: ReadonlyMap<string, string>): Stack {
	const pool = createPool();
	const bytes = new Map([...files].map(([path, text]) => [path, new TextEncoder().encode(text)]));
	return buildStack(
		[loadLayer({ id: 'base', title: 'Base', owner: 'game' }, bytes, { guide, pool })],
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
			nth % 10 === 0 ? text.replace(/\b\d{2}\b/g, (number) => (dice() < 0.5 ? '77' : number)) : text;
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
