// After any change that what is detected from what is known already is what is detected from nothing: tables, links, snags.
import { runs } from '../runs';
import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { bytesOf, applyPlan, invertPlan, type Plan, type Files } from '$core/change';
import { checkStack } from '$core/checks';
import { myFiles, NotPossible, planFor, stackAfter } from '$core/edits';
import type { Pool } from '$core/facts';
import { EditRefused } from '$core/formats';
import type { Guide } from '$core/guide';
import { buildLinks, linksTo, recordAt, usesOf, type Links } from '$core/links';
import { columnSpread } from '$core/numbers';
import { mapOf, mapsOf } from '$core/places';
import { isEditable, buildStack, isChanged, type Layer, type Stack, type Table } from '$core/stack';
import { digestOf } from '$core/text';
import { demoScene, madeScene, wish } from './scenes';

let guide: Guide;
let pool: Pool;

const bytesIn = (files: Files): Record<string, string> =>
	Object.fromEntries([...files].map(([path, file]) => [path, digestOf(bytesOf(file))] as const).sort());

/** The same files as if nothing were known of them. */
const anew = ({ layers: all }: Stack): Stack =>
	buildStack(
		all.map((layer) => ({ ...layer, files: new Map(layer.files) })),
		guide,
		pool
	);

const toldOf = (links: Links) =>
	links.strands.map(({ table, field, to, loose, values, rows }) => ({
		field: `${table.kind} ${field}`,
		to: [...to].map((place) => (place < 0 ? null : recordAt(links, place).id)),
		loose: [...loose],
		values: [...values],
		rows: rows && [...rows]
	}));

/** My mod changes a record just where it is another one, or is not there, without my mod. */
function expectChanged(stack: Stack): void {
	const below = buildStack(
		stack.layers.filter((layer) => !isEditable(layer)),
		guide,
		pool
	);
	const said = (table: Table | undefined, id: string) => {
		const record = table?.byId.get(id);
		return (
			record &&
			Object.fromEntries(
				[...record.values]
					.flatMap(([path, { value }]) => (value === '' ? [] : [[path, value] as const]))
					.sort()
			)
		);
	};
	for (const [kind, table] of stack.tables) {
		// A record without a name is another one where the files differ: its place says nothing.
		const ids = Array.from(table.rows.ids, (text) => table.pool.at(text));
		const differs = ids.filter((id) => {
			if (id.startsWith('#')) return false;
			const before = said(below.tables.get(kind), id);
			return before === undefined || JSON.stringify(before) !== JSON.stringify(said(table, id));
		});
		expect([kind, ids.filter((id, row) => !id.startsWith('#') && isChanged(table, row))]).toEqual([
			kind,
			differs
		]);
	}
}

function expectSame(stack: Stack, links: Links): void {
	const other = anew(stack);
	const fresh = buildLinks(other);
	for (const [kind, table] of stack.tables) {
		const own = other.tables.get(kind)!;
		expect([kind, table.columns, [...table.rows.ids]]).toEqual([kind, own.columns, [...own.rows.ids]]);
		for (const path of table.columns) {
			expect([kind, path, [...table.column(path)]]).toEqual([kind, path, [...own.column(path)]]);
			expect(columnSpread(table, path)).toEqual(columnSpread(own, path));
		}
		expect(
			table.records.map(({ presences }) => presences.map(({ layer, path }) => `${layer.id} ${path}`))
		).toEqual(own.records.map(({ presences }) => presences.map(({ layer, path }) => `${layer.id} ${path}`)));
	}
	for (const kind of Object.keys(guide.places ?? {}))
		for (const id of mapsOf(stack, kind)) {
			const { things, links: ways } = mapOf(stack, kind, id)!;
			expect({ things, ways }).toEqual({
				things: mapOf(other, kind, id)!.things,
				ways: mapOf(other, kind, id)!.links
			});
		}
	// What is above mine may say the same, or something else: then it is not my mod that makes the difference.
	if (isEditable(stack.layers.at(-1))) expectChanged(stack);
	expect(toldOf(links)).toEqual(toldOf(fresh));
	expect(checkStack(stack, links)).toEqual(checkStack(other, fresh));
}

/** The demo with the mod of somebody else above mine. */
async function modAbove() {
	const scene = await demoScene();
	const [base, mod, mine] = scene.layers as [Layer, Layer, Layer];
	return { ...scene, layers: [base, mine, mod] };
}

describe.each([
	['of the demo', demoScene, runs(40)],
	['of a made-up game', () => madeScene(2), runs(12)],
	['of another', () => madeScene(7), runs(12)],
	['of the demo, with a mod of somebody else above mine', modAbove, runs(20)]
] as const)('a state told from the one before, %s', (_, scene, numRuns) => {
	let layers: Layer[];
	beforeAll(async () => {
		({ guide, pool, layers } = await scene());
	});
	const wishes = fc.array(fc.tuple(fc.nat(15), fc.nat(99), fc.nat(999), fc.nat(999)), {
		minLength: 1,
		maxLength: 6
	});
	test('is the same as one told from nothing', () => {
		let steps = 0;
		fc.assert(
			fc.property(wishes, (list) => {
				let stack = buildStack(layers, guide, pool);
				let links = buildLinks(stack);
				checkStack(stack, links);
				const done: {
					plan: Plan;
					back: Plan;
					before: Record<string, string>;
					after: Record<string, string>;
				}[] = [];
				for (const one of list) {
					let plan: Plan;
					try {
						plan = planFor(stack, wish(stack, one), 'longline', { links });
					} catch (fault) {
						if (fault instanceof NotPossible || fault instanceof EditRefused) continue;
						throw fault;
					}
					// A preview comes to nothing and must leave nothing behind.
					const tried = stackAfter(stack, plan);
					checkStack(tried, buildLinks(tried, links));
					const next = stackAfter(stack, plan);
					const followed = buildLinks(next, links);
					expectSame(next, followed);
					// Nothing makes a record twice, unless an id itself is written over.
					const doubles = (of: Stack) => checkStack(of).filter(({ rule }) => rule === 'duplicate-id').length;
					const ids = plan.values.some(
						({ kind, field, before }) => before !== null && field === (guide.kinds[kind]?.key ?? 'id')
					);
					if (!ids) expect(doubles(next)).toBeLessThanOrEqual(doubles(stack));
					const before = myFiles(stack);
					done.push({
						plan,
						back: invertPlan(before, plan),
						before: bytesIn(before),
						after: bytesIn(myFiles(next))
					});
					[stack, links] = [next, followed];
					steps++;
				}
				// All undone is what was; all done again is what came of it.
				let files = myFiles(stack);
				for (const { back, before } of [...done].reverse()) {
					files = new Map(applyPlan(files, back));
					expect(bytesIn(files)).toEqual(before);
				}
				for (const { plan, after: then } of done) {
					files = new Map(applyPlan(files, plan));
					expect(bytesIn(files)).toEqual(then);
				}
			}),
			{ numRuns }
		);
		expect(steps).toBeGreaterThan(numRuns / 2);
	});
	test('knows who names a record, counted for all or looked for', () => {
		const stack = buildStack(layers, guide, pool);
		const [seen, counted] = [buildLinks(stack), buildLinks(stack)];
		expect(counted.users.firsts.length).toBeGreaterThan(0);
		for (const table of stack.tables.values())
			for (const record of table.records) {
				expect(usesOf(seen, record)).toBe(usesOf(counted, record));
				expect(linksTo(seen, record).map(({ from, field }) => `${from.kind}/${from.id} ${field}`)).toEqual(
					linksTo(counted, record).map(({ from, field }) => `${from.kind}/${from.id} ${field}`)
				);
			}
	});
});
