// Find: one field for everything. What answers, why, and what the switches and narrowings do.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { createPool } from '$core/facts';
import { buildLinks } from '$core/links';
import {
	buildIndex,
	buildIndexSteps,
	fold,
	search,
	wordsOf,
	type Given,
	type SearchIndex
} from '$core/search';
import { isEditable, buildStack, withFiles } from '$core/stack';
import { decode } from '$core/text';
import { answers, buildLexicon, textsOfNumber } from '../../src/lib/core/search/lexicon';
import { fits } from '../../src/lib/core/search/clues';
import { createWordTable } from '../../src/lib/core/search/words';
import { BASE, GUIDE, HEAD, stackOf } from './game';
import './sample-parts';

function* forever<T>(steps: Generator<void, T>): Generator<void, T> {
	return yield* steps;
}
function run<T>(steps: Generator<void, T>): T {
	const all = forever(steps);
	for (;;) {
		const step = all.next();
		if (step.done) return step.value;
	}
}

const GUIDE_MORE = GUIDE.replace(
	"mark: { title: Mark, type: flags, codes: { '0': old, '2': loud } }",
	"mark: { title: Mark, type: code, meaning: Paint on the side, codes: { '0': plain, '5': turns back early } }"
);
const SCRIPT =
	'-- Wakes the miller.\nfunction on_dawn(mill)\n\tif mill.wind > 4 then say("The sails turn") end\nend\n';

const stack = stackOf(
	{ 'carts.tsv': `${HEAD}dog\t47\toak_2\t\t\t0\tcart.dog\n` },
	{
		'carts.tsv': `${BASE['carts.tsv']}mule\t1470\toak_2\t\tpony\t5\tcart.mule\n`,
		'scripts/dawn.lua': SCRIPT,
		'read-me.txt': 'How to grind\nThe wheel is of oak.\n'
	},
	GUIDE_MORE
);
const index = buildIndex(stack, buildLinks(stack));
const records = (query: string, options = {}) =>
	search(index, query, options)
		.hits.filter((hit) => hit.record)
		.map((hit) => hit.record);
const groups = (query: string, options = {}) =>
	search(index, query, options)
		.hits.filter((hit) => !hit.record)
		.map((hit) => `${hit.group} ${hit.name ?? hit.matched}`);

describe('what answers', () => {
	test('numbers answer as numbers: 47 finds 47 and 47.0 and 047, not 1470', () => {
		for (const query of ['47', '47.0', '047']) expect(records(query)).toEqual(['dog']);
		expect(records('1470')).toEqual(['mule']);
	});
	test('a field asked for by its name comes with its value', () => {
		expect(search(index, 'hand load').hits[0]).toMatchObject({ record: 'hand', field: 'load' });
		expect(search(index, 'load 60').hits[0]).toMatchObject({ record: 'pony', field: 'load', matched: '60' });
	});
	test('scripts answer by code, strings and remarks, with file and line', () => {
		expect(search(index, 'sails turn').hits.find((hit) => hit.group === 'line')).toMatchObject({
			file: 'scripts/dawn.lua',
			line: 3,
			reason: 'script'
		});
		expect(groups('on_dawn')).toContain('line function on_dawn(mill)');
		expect(groups('wakes miller')).toContain('line -- Wakes the miller.');
		expect(search(index, 'grind').hits[0]).toMatchObject({ file: 'read-me.txt', line: 1, reason: 'text' });
	});
	test('so do kinds, fields, meanings, files and folders', () => {
		expect(groups('carts')).toEqual(expect.arrayContaining(['kind Carts', 'file carts.tsv']));
		expect(groups('paint')).toContain('field Mark');
		expect(groups('turns back')).toEqual(['meaning 5: turns back early']);
		expect(records('turns back').sort()).toEqual(['mule', 'pony']);
		expect(groups('scripts')).toContain('folder scripts');
		expect(groups('dawn.lua')).toContain('file scripts/dawn.lua');
	});
	test('a text leads to the record that wears it', () => {
		expect(search(index, 'poney').hits[0]).toMatchObject({
			record: 'pony',
			group: 'record',
			reason: 'Français name'
		});
		expect(search(index, 'poney', { kind: 'text' }).hits.map((hit) => hit.record)).toEqual(['cart.pony']);
	});
	test('nicknames and notes of people', () => {
		const given: Given[] = [
			{ on: { kind: 'cart', record: 'mule' }, text: 'Old Stubborn', what: 'nickname', nickname: true },
			{ on: { file: 'wheels.ini' }, text: 'Rims and hubs', what: 'note', nickname: false }
		];
		expect(search(index, 'stubborn', { given }).hits[0]).toMatchObject({ record: 'mule' });
		expect(search(index, 'hubs', { given }).hits[0]).toMatchObject({ group: 'note', file: 'wheels.ini' });
		expect(search(index, 'stubborn').hits).toEqual([]);
	});
});

describe('switches and narrowing', () => {
	test('exact case, whole words, patterns', () => {
		expect(records('PONY')).toContain('pony');
		expect(records('PONY', { exactCase: true })).toEqual([]);
		expect(records('Pony', { exactCase: true })).toEqual(['pony']);
		expect(records('po').length).toBeGreaterThan(0);
		expect(records('po', { whole: true })).toEqual([]);
		expect(records('pny')).toEqual([]);
		expect(records('oak_?', { pattern: true }).sort()).toEqual([
			'dog',
			'hand',
			'mule',
			'oak_2',
			'oak_4',
			'pony'
		]);
		expect(records('*ule', { pattern: true })).toEqual(['mule']);
		expect(records('mul', { pattern: true })).toEqual([]);
		expect(records('????', { pattern: true }).length).toBeGreaterThan(2);
	});
	test('kind, layer, folder, language, format; the counts say what each would leave', () => {
		const found = search(index, 'oak');
		expect(Object.fromEntries(found.counts.kind)).toMatchObject({ wheel: 2, cart: 4 });
		expect(found.total).toBe(6);
		expect(search(index, 'oak', { kind: 'wheel' }).total).toBe(2);
		expect(records('oak', { layer: 'mine' })).toEqual(['dog']);
		expect(records('oak', { format: 'ini' }).sort()).toEqual(['oak_2', 'oak_4']);
		expect(records('hand', { language: 'en' })).toEqual(['hand']);
		expect(records('hand', { language: 'fr' })).toEqual([]);
		expect(
			search(index, 'hand', { folder: 'words' }).hits.every((hit) => hit.file.startsWith('words/'))
		).toBe(true);
	});
	test('nothing, blanks, marks alone, and very long queries find nothing and break nothing', () => {
		for (const query of ['', '   ', '***', '\u0000', 'x'.repeat(5000), '('.repeat(50), 'a '.repeat(300)])
			expect(search(index, query).total).toBeGreaterThanOrEqual(0);
		expect(search(index, '  ')).toMatchObject({ hits: [], total: 0 });
	});
});

describe('laws', () => {
	const word = fc.stringMatching(/^[a-zA-Z0-9äé_-]{1,9}$/);
	test('the words of the table are the words of the folded text', () =>
		fc.assert(
			fc.property(fc.array(fc.oneof(fc.string(), word, fc.string({ unit: 'grapheme' }))), (texts) => {
				const table = createWordTable();
				for (const text of texts) {
					const found = new Set<number>();
					table.each(text, (number) => found.add(number));
					const words = table.words();
					// What is before the first letter that is not plain may be cut otherwise; all words must be there.
					const seen = new Set([...found].map((number) => words[number]));
					for (const wanted of wordsOf(fold(text))) expect(seen).toContain(wanted);
				}
			})
		));
	test('a lexicon answers as a look at every word would', () =>
		fc.assert(
			fc.property(fc.array(word, { minLength: 1, maxLength: 40 }), word, (texts, asked) => {
				const pool = createPool();
				for (const text of texts) pool.of(text);
				const lexicon = run(buildLexicon(pool, (text) => text > 0));
				const part = wordsOf(fold(asked))[0];
				if (part === undefined) return;
				const found = new Map(
					[...answers(lexicon, part)].map(([number, like]) => [lexicon.words[number]!, like])
				);
				for (const other of new Set(texts.flatMap((text) => wordsOf(fold(text))))) {
					const like = found.get(other) ?? 0;
					if (other === part) expect(like).toBe(1);
					else if (/^\d+$/.test(part)) expect(like).toBe(0);
					else if (other.startsWith(part)) expect(like).toBe(0.8);
					else if (part.length >= 3 && other.includes(part)) expect(like).toBe(0.45);
					else expect(like).toBeLessThan(0.45);
				}
				for (const text of texts)
					if (/^\d+$/.test(text))
						expect([...textsOfNumber(lexicon, Number(text))]).toContain(pool.find(text));
			})
		));
	test('a pattern fits as the regular expression of it would', () =>
		fc.assert(
			fc.property(fc.stringMatching(/^[ab*?]{0,8}$/), fc.stringMatching(/^[ab]{0,10}$/), (pattern, text) => {
				const expression = new RegExp(`^${pattern.replaceAll('*', '.*').replaceAll('?', '.')}$`);
				expect(fits(text, pattern)).toBe(expression.test(text));
			})
		));
	test('after any edits, the index that goes on from an older one finds what a new one finds', () =>
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.constantFrom('hand', 'pony', 'dog', 'new_one'), fc.nat(2000), word), {
					minLength: 1,
					maxLength: 6
				}),
				(edits) => {
					let now = stackOf();
					let older: SearchIndex = buildIndex(now, buildLinks(now));
					const rows = new Map<string, string>();
					for (const [id, load, key] of edits) {
						rows.set(id, `${id}\t${load}\toak_2\t\t\t0\t${key}`);
						const text = decode(new TextEncoder().encode(`${HEAD}${[...rows.values()].join('\n')}\n`));
						const layers = now.layers.map((layer) =>
							isEditable(layer)
								? withFiles(layer, new Map([['carts.tsv', text]]), now.guide, now.pool)
								: layer
						);
						now = buildStack(layers, now.guide, now.pool, now);
						older = run(buildIndexSteps(now, buildLinks(now), older));
					}
					const fresh = stackOf({ 'carts.tsv': `${HEAD}${[...rows.values()].join('\n')}\n` });
					const anew = buildIndex(fresh, buildLinks(fresh));
					for (const query of [
						'hand',
						'oak',
						'pony',
						...edits.flatMap(([id, load, key]) => [id, String(load), key])
					])
						expect(search(older, query)).toEqual(search(anew, query));
				}
			)
		));
});
