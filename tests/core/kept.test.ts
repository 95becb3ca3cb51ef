// What is kept of the game: what one change leaves as it was is not gone through again, and does not show in what is new.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { planFor, stackAfter } from '$core/edits';
import { createPool, type Facts } from '$core/facts';
import { EMPTY_GUIDE, parseGuide } from '$core/guide';
import { infer } from '$core/infer';
import { buildLinks } from '$core/links';
import { assembleStack, guideWith, loadLayer } from '$core/model';
import { buildStack, type Layer, type LayerFile } from '$core/stack';
import { gameFiles, gameGuide, makeGame } from '../../bench/game';
import { runs } from '../runs';

const bytesOf = (text: string) => new TextEncoder().encode(text);

/** The same facts, which tell whenever somebody asks for the fields or values of their records. */
const watched = (facts: Facts, look: () => void): Facts =>
	new Proxy(facts, {
		get(target, name: keyof Facts) {
			if (['ids', 'shape', 'shapes', 'firsts', 'values', 'types'].includes(name)) look();
			return target[name];
		}
	});

describe('after a change of my mod', () => {
	test('the checks look into few files of the game', () => {
		const written = parseGuide(gameGuide());
		const pool = createPool();
		const files = new Map(
			[...gameFiles(makeGame({ records: 3000, files: 120 }))].map(({ path, text }) => [path, bytesOf(text)])
		);
		const plain = loadLayer({ id: 'base', title: 'Base', owner: 'game' }, files, { guide: written, pool });
		const guide = guideWith(written, plain);
		const seen = new Set<string>();
		const base: Layer = {
			...plain,
			files: new Map(
				[...plain.files].map(([path, file]): [string, LayerFile] => [
					path,
					file.facts
						? Object.create(file, { facts: { value: watched(file.facts, () => seen.add(path)) } })
						: file
				])
			)
		};
		const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, new Map(), { guide, pool });
		let stack = buildStack([base, mine], guide, pool);
		let links = buildLinks(stack);
		checkStack(stack, links);
		expect(seen.size).toBeGreaterThan(files.size / 2);
		const looks: number[] = [];
		for (const kind of ['vessel', 'crew', 'engine', 'vessel', 'crew', 'engine'] as const) {
			const table = stack.tables.get(kind)!;
			const field = table.columns.find((path) => table.guide.fields[path]?.type === 'whole')!;
			const record = table.record(looks.length * 3);
			const plan = planFor(
				stack,
				{ do: 'set', kind, id: record.id, field, value: String(7 + looks.length) },
				'mod',
				{ links }
			);
			const next = stackAfter(stack, plan);
			const followed = buildLinks(next, links);
			seen.clear();
			checkStack(next, followed);
			looks.push(seen.size);
			[stack, links] = [next, followed];
		}
		// The first change of a kind has nothing to go by.
		for (const look of looks.slice(3)) expect(look).toBeLessThan(files.size / 10);
	});
});

describe('an empty file of mine', () => {
	test('takes a record in every way in which its kind may be read', () => {
		const game = '[[station]]\nid = "bight"\nberths = 4\n\n[[station]]\nid = "skerry"\nberths = 2\n';
		const layers = [
			{
				id: 'base',
				title: 'Base',
				owner: 'game' as const,
				files: new Map([
					['station/one.toml', bytesOf(game)],
					[
						'lanes.csv',
						bytesOf(`id,from\n${Array.from({ length: 9 }, (_, nth) => `l${nth},bight`).join('\n')}\n`)
					]
				])
			},
			{ id: 'mine', title: 'Mine', owner: 'me' as const, files: new Map<string, Uint8Array>() }
		];
		const guide = parseGuide(
			"guide: 1\nkinds:\n  station: { title: Station, files: ['station/*.toml'], key: id, merge: record, at: '' }\n"
		);
		const stack = assembleStack(layers, guide);
		const plan = planFor(stack, { do: 'rename', kind: 'station', id: 'bight', newId: 'cove' }, 'mine');
		const after = stackAfter(stack, plan);
		expect([...after.tables.get('station')!.byId.keys()]).toContain('cove');
	});
});

const NAMES = 'Auk Tern Heron Gull Petrel Skua Knot Plover Dunlin Godwit Curlew Ruff'.split(' ');

/** A game whose orders name boats by the titles that they first had, alone and in lists. */
function boats(titles: readonly string[], named: readonly number[]): Map<string, Uint8Array> {
	const title = (nth: number) => NAMES[nth % NAMES.length]!;
	const orders = named.map((nth, row) => `o${row},${title(nth)},${title(nth)};${title(nth + 3)}`);
	const berths = named.map((nth, row) => ({ id: `p${row}`, boat: `b${nth}` }));
	return new Map([
		['boats.csv', bytesOf(`id,title,crew\n${titles.map((one, nth) => `b${nth},${one},4`).join('\n')}\n`)],
		['orders.csv', bytesOf(`id,boat,others\n${orders.join('\n')}\n`)],
		['berths.json', bytesOf(JSON.stringify(berths))]
	]);
}

describe('a guide that is found again after a change', () => {
	test('is the one that is found anew, step by step', () => {
		let byTitle = 0;
		fc.assert(
			fc.property(
				fc.array(fc.nat(11), { minLength: 40, maxLength: 60 }),
				fc.array(fc.tuple(fc.nat(11), fc.constantFrom('Smew', 'Eider', 'Gull', 'Auk 2', '', 'o1')), {
					minLength: 1,
					maxLength: 4
				}),
				(named, changes) => {
					const pool = createPool();
					const titles = [...NAMES];
					let before = new Map<string, [Uint8Array, { path: string; facts: Facts }]>();
					const found = (known: boolean) => {
						const files = boats(titles, named);
						const own = known ? pool : createPool();
						const layer = loadLayer({ id: 'base', title: 'Base', owner: 'game' }, files, {
							guide: EMPTY_GUIDE,
							pool: own
						});
						const list = [...layer.files.values()].map(({ path, facts }) => ({ path, facts: facts! }));
						if (!known) return infer(EMPTY_GUIDE, list, { paths: new Set(files.keys()) });
						// What did not change is the same object, as it is where a game is open.
						const same = list.map((file) => {
							const old = before.get(file.path);
							return old && Buffer.compare(old[0], files.get(file.path)!) === 0 ? old[1] : file;
						});
						before = new Map(same.map((file) => [file.path, [files.get(file.path)!, file]]));
						return infer(EMPTY_GUIDE, same, { paths: new Set(files.keys()) });
					};
					found(true);
					for (const [nth, next] of changes) {
						titles[nth] = next;
						const again = found(true);
						expect(again).toEqual(found(false));
						if (again.kinds.orders?.fields.boat?.reference?.key === 'title') byTitle++;
					}
				}
			),
			{ numRuns: runs(60) }
		);
		expect(byTitle).toBeGreaterThan(0);
	});
});
