// `npm run bench edit`: what a change costs. In a game of 300,000 records: snags after one edit beside the full check, and
// the most used id renamed. In a table of 100,000 rows and 60 columns, in the browser: opening, scrolling, filtering,
// sorting, editing, and a formula over 50,000 rows.
import { applyPlan } from '$core/change';
import { checkStack } from '$core/checks';
import { planFor, type Intention } from '$core/edits';
import { createPool } from '$core/facts';
import { parseGuide } from '$core/guide';
import { buildLinks, linksTo, usesOf } from '$core/links';
import { spreadSteps } from '$core/numbers';
import { fileContent, buildStack, withFiles, type Stack } from '$core/stack';
import { guideWith, loadLayer } from '$core/model';
import { inBrowser } from './edit.browser';
import { gameFiles, gameGuide, makeGame } from './game';
import { hubGame } from './hub';
import { median, most, ms, row, timed } from './said';

const RECORDS = Number(process.env.BENCH_RECORDS ?? 300_000);
const FILES = Number(process.env.BENCH_FILES ?? 3000);

/** The core alone: a change in a big game, and all that is computed again of it. */
function inCore(): void {
	const game = makeGame({ records: RECORDS, files: FILES });
	const files = new Map([...gameFiles(game)].map(({ path, text }) => [path, new TextEncoder().encode(text)]));
	const pool = createPool();
	const written = parseGuide(gameGuide());
	const base = loadLayer({ id: 'base', title: 'Base', owner: 'game' }, files, { guide: written, pool });
	const guide = guideWith(written, base);
	const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, new Map(), { guide, pool });
	console.log(`A made-up game of ${RECORDS} records in ${files.size} files`);

	const fresh = () =>
		buildStack(
			[base, mine].map((layer) => ({ ...layer, files: new Map(layer.files) })),
			guide,
			pool
		);
	let [stack, links] = [fresh(), buildLinks(fresh())];
	const fulls: number[] = [];
	for (let nth = 0; nth < 3; nth++) {
		const [, time] = timed(() => {
			stack = fresh();
			links = buildLinks(stack);
			return checkStack(stack, links);
		});
		fulls.push(time);
	}
	// As the server does once a game is open.
	const steps = spreadSteps(stack, 2000);
	while (!steps.next().done);
	// What the three full checks left behind is not to be swept up while the edits are timed.
	globalThis.gc?.();

	const after = (before: Stack, intention: Intention) => {
		const plan = planFor(before, intention, 'mod', { links });
		const own = new Map([...before.mine!.files].map(([path, file]) => [path, fileContent(file)]));
		const next = applyPlan(own, plan);
		const changed = new Map(plan.changes.map(({ path }) => [path, next.get(path) ?? null]));
		return {
			plan,
			layers: before.layers.map((layer) =>
				layer.owner === 'me' ? withFiles(layer, changed, guide, pool) : layer
			)
		};
	};
	const kinds = ['vessel', 'crew', 'engine', 'lane'].filter((kind) => stack.tables.has(kind));
	const edits: number[] = [];
	const parts: [number, number, number][] = [];
	for (let nth = 0; nth < 24; nth++) {
		const table = stack.tables.get(kinds[nth % kinds.length]!)!;
		const record = table.record((nth * 977) % table.count);
		const field =
			table.columns.find((path) => table.guide.fields[path]?.type === 'whole') ?? table.columns[1]!;
		const { layers } = after(stack, {
			do: 'set',
			kind: table.kind,
			id: record.id,
			field,
			value: String(nth + 3)
		});
		const [, time] = timed(() => {
			const [next, a] = timed(() => buildStack(layers, guide, pool, stack));
			const [followed, b] = timed(() => buildLinks(next, links));
			const [, c] = timed(() => checkStack(next, followed));
			parts.push([a, b, c]);
			[stack, links] = [next, followed];
		});
		// The first change of a kind has no older state of it to go by.
		if (nth >= kinds.length) edits.push(time);
	}
	const [full, edit] = [median(fulls), median(edits)];
	row('full check: tables, links, snags', `${ms(full)} ms`);
	row(
		'snags after one edit, 20 of several kinds',
		`median ${ms(edit)} ms, slowest ${ms(most(edits))} ms; 1/${(full / edit).toFixed(0)} of the full check`,
		'under 100 ms, at most 1/100'
	);

	const part = (nth: 0 | 1 | 2) => ms(median(parts.map((list) => list[nth])));
	row('of these', `tables ${part(0)} ms, links ${part(1)} ms, snags ${part(2)} ms`);

	let best: { kind: string; id: string; users: number } = { kind: '', id: '', users: 0 };
	void links.users;
	for (const table of stack.tables.values())
		for (const record of table.records) {
			const users = table.kind === 'text' ? 0 : usesOf(links, record);
			if (users > best.users) best = { kind: table.kind, id: record.id, users };
		}
	const record = stack.tables.get(best.kind)!.byId.get(best.id)!;
	const places = new Set(linksTo(links, record).map(({ from }) => from.presences.at(-1)!.path));
	const [{ plan, layers }, planned] = timed(() =>
		after(stack, { do: 'rename', kind: best.kind, id: best.id, newId: 'renamed_thing' })
	);
	const [, followed] = timed(() => {
		const next = buildStack(layers, guide, pool, stack);
		return checkStack(next, buildLinks(next, links));
	});
	row(
		'rename of the most used id there, planned',
		`${ms(planned)} ms: ${best.users} places in ${places.size} files, ${plan.changes.length} of mine`
	);
	row('and its snags afterwards', `${ms(followed)} ms`);
}

/** The most used id of a game renamed, in the core alone. */
function renameHub(): void {
	const { files, guide: yaml, kind, id } = hubGame();
	const guide = parseGuide(yaml);
	const pool = createPool();
	const bytes = new Map([...files].map(([path, text]) => [path, new TextEncoder().encode(text)]));
	const base = loadLayer({ id: 'base', title: 'Base', owner: 'game' }, bytes, { guide, pool });
	const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, new Map(), { guide, pool });
	const stack = buildStack([base, mine], guide, pool);
	const links = buildLinks(stack);
	const times: number[] = [];
	const applied: number[] = [];
	let places = 0;
	let changed = 0;
	for (let nth = 0; nth < 3; nth++) {
		const [plan, planned] = timed(() =>
			planFor(stack, { do: 'rename', kind, id, newId: 'harbour_1' }, 'mod', { links })
		);
		const [, time] = timed(() => {
			const next = applyPlan(new Map(), plan);
			const own = new Map([...next].map(([path, file]) => [path, file]));
			const after = buildStack([base, withFiles(mine, own, guide, pool)], guide, pool, stack);
			return checkStack(after, buildLinks(after, links));
		});
		times.push(planned);
		applied.push(time);
		places = plan.values.filter(({ by }) => by === 'reference').length;
		changed = plan.changes.length;
	}
	row(
		'rename of an id in four formats, planned',
		`median ${ms(median(times))} ms: ${places} places, ${changed} files of mine`,
		'under 1000 ms'
	);
	row('its bytes, and tables, links and snags after it', `median ${ms(median(applied))} ms`, 'under 3000 ms');
}

if (process.env.BENCH_PART !== 'browser') {
	inCore();
	renameHub();
}
if (process.env.BENCH_PART !== 'core') await inBrowser();
