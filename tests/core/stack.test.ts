// The stack over columns says what a plain merge of all layers says, whatever the layers hold.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { columnSpread, spreadOf } from '$core/numbers';
import { buildIndex, fold, search, wordsOf } from '$core/search';
import { isEditable, baseValueOf, buildStack, derived, valueOf, withFiles, type Stack } from '$core/stack';
import { saidOf } from './game';
import { assembleStack, type LayerBytes } from '$core/model';
import { decode } from '$core/text';
import { gameFiles, gameGuide, makeGame } from '../../bench/game';
import './sample-parts';

const GUIDE = parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English, fr: Français } }
kinds:
  part: { title: Part, files: ['parts/*.csv'], key: id, merge: record }
  rule: { title: Rule, files: ['rules/*.csv'], key: id, merge: file }
  text: { title: Text, files: ['words/{language}/*.properties'], merge: record }
`);

const id = fc.constantFrom('a', 'b', 'c', 'd', 'e');
const cell = fc.stringMatching(/^[a-z0-9.]{0,3}$/);
const table = fc.uniqueArray(fc.tuple(id, cell, cell), { selector: ([key]) => key, maxLength: 5 });
const texts = fc.uniqueArray(fc.tuple(id, fc.stringMatching(/^[a-z]{1,5}$/)), {
	selector: ([key]) => key,
	maxLength: 4
});
const layer = fc.dictionary(
	fc.constantFrom('parts/1.csv', 'parts/2.csv', 'rules/1.csv', 'rules/2.csv'),
	table,
	{ noNullPrototype: true }
);
const words = fc.dictionary(
	fc.constantFrom('words/en/1.properties', 'words/fr/1.properties', 'words/en/2.properties'),
	texts,
	{
		noNullPrototype: true
	}
);
const layers = fc.array(fc.tuple(layer, words), { minLength: 1, maxLength: 4 });
type Layers = typeof layers extends fc.Arbitrary<infer T> ? T : never;

const csv = (rows: [string, string, string][]) => `id,x,y\n${rows.map((row) => row.join(',')).join('\n')}\n`;
const properties = (rows: [string, string][]) => rows.map(([key, text]) => `${key}=${text}\n`).join('');

function bytesOf([tables, languages]: Layers[number], nth: number, count: number): LayerBytes {
	const files = new Map<string, Uint8Array>();
	const put = (path: string, text: string) => files.set(path, new TextEncoder().encode(text));
	for (const [path, rows] of Object.entries(tables)) if (rows.length > 0) put(path, csv(rows));
	for (const [path, rows] of Object.entries(languages)) if (rows.length > 0) put(path, properties(rows));
	const owner = nth === 0 ? 'game' : nth === count - 1 ? 'me' : 'others';
	return { id: `${nth}`, title: `${nth}`, owner, files };
}

type Merged = Map<string, Map<string, Record<string, string>>>;

/** The merge as one would do it by hand: later layers win, whole files or single records, languages side by side. */
function byHand(all: Layers): Merged {
	const merged: Merged = new Map([
		['part', new Map()],
		['rule', new Map()],
		['text', new Map()]
	]);
	all.forEach(([tables, languages], nth) => {
		for (const path of Object.keys(tables).sort()) {
			if (tables[path]!.length === 0) continue;
			const kind = path.startsWith('parts') ? 'part' : 'rule';
			const hidden = kind === 'rule' && all.slice(nth + 1).some(([later]) => (later[path]?.length ?? 0) > 0);
			if (!hidden) for (const [key, x, y] of tables[path]!) merged.get(kind)!.set(key, { id: key, x, y });
		}
		for (const path of Object.keys(languages).sort())
			for (const [key, text] of languages[path]!)
				merged.get('text')!.set(key, { ...merged.get('text')!.get(key), [path.split('/')[1]!]: text });
	});
	return merged;
}

const told = (stack: Stack): Merged =>
	new Map(
		['part', 'rule', 'text'].map((kind) => [
			kind,
			new Map(
				(stack.tables.get(kind)?.records ?? []).map((record) => [
					record.id,
					Object.fromEntries([...record.values].map(([path, { value }]) => [path, value]))
				])
			)
		])
	);
const sorted = (merged: Merged) =>
	[...merged].map(([kind, records]) => [kind, [...records].sort(([a], [b]) => (a < b ? -1 : 1))]);

describe('the stack', () => {
	test('is the merge of its layers', () =>
		fc.assert(
			fc.property(layers, (all) => {
				const stack = assembleStack(
					all.map((one, nth) => bytesOf(one, nth, all.length)),
					GUIDE
				);
				expect(sorted(told(stack))).toEqual(sorted(byHand(all)));
				for (const table of stack.tables.values()) {
					for (const path of table.columns) {
						const column = table.column(path);
						table.records.forEach((record, row) => {
							const value = column[row]! < 0 ? undefined : table.pool.at(column[row]!);
							expect(value).toBe(valueOf(record, path));
							expect(saidOf(table.byId.get(record.id)!.said(path))).toEqual(saidOf(record.values.get(path)));
							expect(value).toBe(record.values.get(path)?.value);
						});
						expect(columnSpread(table, path)).toEqual(
							spreadOf(table.records.map((record) => valueOf(record, path) ?? ''))
						);
					}
					for (const record of table.records) {
						expect(table.byId.get(record.id)?.row).toBe(record.row);
						expect(record.presences.map((presence) => presence.record.id)).toEqual(
							record.presences.map(() => record.id)
						);
						expect(record.presences.map((presence) => presence.record.line)).toEqual(
							record.presences.map((presence) => presence.line)
						);
					}
					expect(table.byId.has('never')).toBe(false);
				}
			})
		));
	test('what the base says is the merge without my mod', () =>
		fc.assert(
			fc.property(layers, (all) => {
				fc.pre(all.length > 1);
				const stack = assembleStack(
					all.map((one, nth) => bytesOf(one, nth, all.length)),
					GUIDE
				);
				const below = byHand(all.slice(0, -1)).get('part')!;
				for (const record of stack.tables.get('part')!.records)
					for (const path of ['x', 'y']) expect(baseValueOf(record, path)).toBe(below.get(record.id)?.[path]);
			})
		));
	test('after a change it is the stack of the changed files, and what did not change is taken over', () =>
		fc.assert(
			fc.property(layers, table, (all, rows) => {
				fc.pre(all.length > 1 && rows.length > 0);
				const bytes = all.map((one, nth) => bytesOf(one, nth, all.length));
				const before = assembleStack(bytes, GUIDE);
				const rules = before.tables.get('rule')!;
				derived(rules, 'mark', () => 'kept');
				const text = decode(new TextEncoder().encode(csv(rows)));
				const next = buildStack(
					before.layers.map((one) =>
						isEditable(one)
							? withFiles(one, new Map([['parts/1.csv', text]]), before.guide, before.pool)
							: one
					),
					before.guide,
					before.pool,
					before
				);
				const changed = all.map((one, nth): Layers[number] =>
					nth === all.length - 1 ? [{ ...one[0], 'parts/1.csv': rows }, one[1]] : one
				);
				expect(sorted(told(next))).toEqual(sorted(byHand(changed)));
				expect(derived(next.tables.get('rule')!, 'mark', () => 'made anew')).toBe('kept');
				expect(sorted(told(before))).toEqual(sorted(byHand(all)));
			})
		));
});

describe('Find over a made-up game', () => {
	const game = makeGame({ records: 900, files: 40, seed: 21 });
	const stack = assembleStack(
		[
			{
				id: 'base',
				title: 'Base',
				owner: 'game',
				files: new Map([...gameFiles(game)].map(({ path, text }) => [path, new TextEncoder().encode(text)]))
			}
		],
		parseGuide(gameGuide())
	);
	const index = buildIndex(stack, buildLinks(stack));
	/** Everything that is in a record or that it wears, as words. */
	const said = new Map<string, Set<string>>();
	for (const table of stack.tables.values())
		for (const record of table.records) {
			const texts = [record.id, record.presences[0]!.remark ?? ''];
			for (const { value, remark } of record.values.values()) texts.push(value, remark ?? '');
			const worn = stack.tables.get('text')!.byId.get(`${record.kind}.${record.id}.name`);
			for (const { value } of worn?.values.values() ?? []) texts.push(value);
			said.set(`${record.kind}/${record.id}`, new Set(texts.flatMap((text) => wordsOf(fold(text)))));
		}
	const everyWord = [...new Set([...said.values()].flatMap((list) => [...list]))].filter(
		(word) => !/^\d+$/.test(word)
	);

	test('a whole word finds all that have it and nothing else', () =>
		fc.assert(
			fc.property(
				fc.constantFrom(...everyWord),
				fc.constantFrom('vessel', 'engine', 'crew', 'lane', 'station', 'call'),
				(word, kind) => {
					const wanted = [...said].filter(
						([key, list]) => key.startsWith(`${kind}/`) && list.has(word)
					).length;
					expect(search(index, word, { whole: true, kind }).total).toBe(wanted);
				}
			)
		));
	test('two whole words find those that have both, in either order', () =>
		fc.assert(
			fc.property(fc.nat(), fc.nat(), fc.nat(), (nth, a, b) => {
				const [key, list] = [...said].filter(([name]) => !name.startsWith('text/'))[nth % (said.size / 2)]!;
				const own = [...list].filter((word) => !/^\d+$/.test(word));
				const [first, second] = [own[a % own.length]!, own[b % own.length]!];
				const kind = key.slice(0, key.indexOf('/'));
				const wanted = [...said].filter(
					([name, has]) => name.startsWith(`${kind}/`) && has.has(first) && has.has(second)
				).length;
				const found = search(index, `${first} ${second}`, { whole: true, kind });
				expect(found.total).toBeGreaterThanOrEqual(wanted);
				expect(search(index, `${second} ${first}`, { whole: true, kind }).total).toBe(found.total);
				if (wanted <= 20) expect(found.hits.map((hit) => `${hit.kind}/${hit.record}`)).toContain(key);
			})
		));
	test('narrowing by each of the counts leaves as many as it says', () => {
		for (const query of ['47', 'bosun', 'st_', String(game.things.vessel[3]!.names.en)]) {
			const found = search(index, query);
			expect([...found.counts.kind.values()].reduce((sum, count) => sum + count, 0)).toBe(found.total);
			for (const [kind, count] of found.counts.kind) {
				const { total } = search(index, query, { kind });
				// Texts that a record wears count as the record, unless texts are asked for.
				if (kind === 'text') expect(total).toBeGreaterThanOrEqual(count);
				else expect(total).toBe(count);
			}
			for (const [format, count] of found.counts.format)
				expect(search(index, query, { format }).total).toBe(count);
			for (const [folder, count] of found.counts.folder)
				if (folder !== '') expect(search(index, query, { folder }).total).toBe(count);
		}
	});
});
