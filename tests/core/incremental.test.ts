// After any change that what is told from what is known already is what is told from nothing: tables, links, snags.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { applyPlan, invertPlan, type Plan } from '$core/change';
import { checkStack } from '$core/checks';
import { NotPossible, planFor, type How, type Intention } from '$core/edits';
import { createPool, type Pool } from '$core/facts';
import { EditRefused } from '$core/formats';
import { EMPTY_GUIDE, parseGuide, type Guide } from '$core/guide';
import { buildLinks, linksTo, recordAt, usesOf, type Links } from '$core/links';
import { columnSpread } from '$core/numbers';
import { asText, buildStack, guideWith, loadLayer, withFiles, type Layer, type Stack } from '$core/stack';
import { digestOf, encode, type TextFile } from '$core/text';
import { openFolder, readAll } from '../../src/lib/files';
import { makeGuided } from '../../bench/guided';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));

/** A game with a mod of mine, as it lies on disk. */
interface Scene {
	guide: Guide;
	layers: Layer[];
	pool: Pool;
}
let guide: Guide;
let pool: Pool;

async function demoScene(): Promise<Scene> {
	const pool = createPool();
	const shipped = parseGuide(readFileSync(`${demo}base.guide.yaml`, 'utf8'));
	const read = async (id: string, role: Layer['role'], folder: string, told: Guide, below: Layer[]) =>
		loadLayer({ id, title: id, role }, await readAll(await openFolder(demo + folder)), {
			guide: told,
			below,
			pool
		});
	const base = await read('base', 'base', 'base', shipped, []);
	const guide = guideWith(shipped, base);
	const mod = await read('mod', 'mod', 'quiet-harbours', guide, [base]);
	return { guide, pool, layers: [base, mod, await read('mine', 'mine', 'longline', guide, [base, mod])] };
}

/** A made-up game that nobody described: all that is known of it was found. */
function madeScene(seed: number): Scene {
	const pool = createPool();
	const bytes = new Map(
		makeGuided(seed).files.map(({ path, text }) => [path, new TextEncoder().encode(text)])
	);
	const base = loadLayer({ id: 'base', title: 'base', role: 'base' }, bytes, { guide: EMPTY_GUIDE, pool });
	const guide = guideWith(EMPTY_GUIDE, base);
	const mine = loadLayer({ id: 'mine', title: 'mine', role: 'mine' }, new Map(), {
		guide,
		below: [base],
		pool
	});
	return { guide, pool, layers: [base, mine] };
}

const textsOf = (stack: Stack): Map<string, TextFile> =>
	new Map([...stack.mine!.files].map(([path, file]) => [path, asText(file)]));
const bytesIn = (files: ReadonlyMap<string, TextFile>): Record<string, string> =>
	Object.fromEntries([...files].map(([path, file]) => [path, digestOf(encode(file))] as const).sort());

/** The state after a plan, from what the state before knows. */
function after(stack: Stack, plan: Plan): Stack {
	const next = applyPlan(textsOf(stack), plan);
	const changed = new Map(plan.changes.map(({ path }) => [path, next.get(path) ?? null]));
	return buildStack(
		stack.layers.map((layer) => (layer.role === 'mine' ? withFiles(layer, changed, guide, pool) : layer)),
		guide,
		pool,
		stack
	);
}

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
	expect(toldOf(links)).toEqual(toldOf(fresh));
	expect(checkStack(stack, links)).toEqual(checkStack(other, fresh));
}

/** Something that somebody may want, from a few numbers. */
function wish(stack: Stack, [what, a, b, c]: readonly [number, number, number, number]): Intention {
	const words = stack.guide.words?.kind;
	const kinds = [...stack.tables.values()].filter(({ count, kind }) => count > 0 && kind !== words);
	const table = kinds[a % kinds.length]!;
	const { kind } = table;
	const record = table.record(b % table.count);
	const fields = [...record.values.keys()];
	const field = fields[c % fields.length] ?? 'none';
	const other = table.record((b * 7 + c) % table.count);
	const { id } = record;
	switch (what % 14) {
		case 0:
			return { do: 'set', kind, id, field, value: other.value(field) ?? '' };
		case 1:
			return { do: 'set', kind, id, field, value: String((c % 300) - 20) };
		case 2:
			return { do: 'set', kind, id, field, value: ['nothing_like_it', '', 'A', 'true'][c % 4]! };
		case 3:
			return {
				do: 'copy',
				kind,
				id,
				newId: `new_${b}_${c}`,
				names: {},
				without: c % 2 === 0 ? ['text'] : []
			};
		case 4:
			return { do: 'remove', kind, id };
		case 5:
			return { do: 'take', kind, id };
		case 6: {
			const texts = stack.tables.get(words ?? '');
			if (!texts) return { do: 'take', kind, id };
			const key = texts.record(b % texts.count).id;
			const languages = Object.keys(stack.guide.words!.languages);
			const language = languages[c % languages.length]!;
			return { do: 'write', texts: [{ key, language, text: c % 5 === 0 ? '' : `Text ${c}` }] };
		}
		case 7: {
			const ids = table.records.map((one) => one.id).filter((_, nth) => nth % ((c % 4) + 1) === 0);
			const hows: How[] = [
				{ by: 'add', amount: (c % 9) - 4 },
				{ by: 'multiply', factor: 1.1 },
				{ by: 'clamp', low: 2, high: 30 },
				{ by: 'set', value: other.value(field) ?? '1' }
			];
			return { do: 'change', kind, ids, field, how: hows[c % 4]! };
		}
		case 8:
			return { do: 'rename', kind, id, newId: `r${b}_${c}` };
		case 9: {
			const mine = table.records.filter(({ presences }) =>
				presences.every(({ layer }) => layer.role === 'mine')
			);
			const own = mine[b % Math.max(1, mine.length)] ?? record;
			const settle = [{ how: 'empty' as const }, { how: 'point' as const, to: other.id }, undefined][c % 3];
			return { do: 'remove', kind, id: own.id, ...(settle ? { settle } : {}) };
		}
		case 10:
			return { do: 'move', kind, id, to: c % 5 };
		case 11: {
			const list = fields.find((path) => /\[\d+\]$/.test(path))?.replace(/\[\d+\]$/, '') ?? 'none';
			const changes = [
				{ how: 'insert' as const, value: other.id },
				{ how: 'copy' as const },
				{ how: 'remove' as const },
				{ how: 'move' as const, to: 0 }
			];
			return { do: 'item', kind, id, list, at: c % 2, change: changes[c % 4]! };
		}
		case 12: {
			const some = [record, other, table.record((b + c) % table.count)];
			const cells = [...new Set(some.map((one) => one.id))].flatMap((one) =>
				fields.slice(0, 3).map((path) => ({ id: one, field: path, value: String(c % 12) }))
			);
			return { do: 'cells', kind, cells };
		}
		default:
			return { do: 'fill', kind, id, values: [{ field, value: other.value(field) ?? '' }], from: other.id };
	}
}

describe.each([
	['of the demo', demoScene, 40],
	['of a made-up game', () => madeScene(2), 12],
	['of another', () => madeScene(7), 12]
] as const)('a state told from the one before, %s', (_, scene, numRuns) => {
	let layers: Layer[];
	beforeAll(async () => {
		({ guide, pool, layers } = await scene());
	});
	const wishes = fc.array(fc.tuple(fc.nat(13), fc.nat(99), fc.nat(999), fc.nat(999)), {
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
					const tried = after(stack, plan);
					checkStack(tried, buildLinks(tried, links));
					const next = after(stack, plan);
					const followed = buildLinks(next, links);
					expectSame(next, followed);
					// Nothing makes a record twice, unless an id itself is written over.
					const doubles = (of: Stack) => checkStack(of).filter(({ rule }) => rule === 'duplicate-id').length;
					const ids = plan.values.some(
						({ kind, field, before }) => before !== null && field === (guide.kinds[kind]?.key ?? 'id')
					);
					if (!ids) expect(doubles(next)).toBeLessThanOrEqual(doubles(stack));
					const before = textsOf(stack);
					done.push({
						plan,
						back: invertPlan(before, plan),
						before: bytesIn(before),
						after: bytesIn(textsOf(next))
					});
					[stack, links] = [next, followed];
					steps++;
				}
				// All taken back is what was; all done again is what came of it.
				let files = textsOf(stack);
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
