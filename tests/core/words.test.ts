// What of a text is not for reading, how far a game is said in each language, and what a mod is told of its own texts.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack, type Snag } from '$core/checks';
import { parseGuide } from '$core/guide';
import { applyPlan } from '$core/change';
import { planFor } from '$core/edits';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { arrange, conditionFrom } from '$core/query';
import { startDraft, type Draft } from '$core/edits/draft';
import { writeTexts } from '$core/edits/texts';
import { fileContent, type Stack } from '$core/stack';
import { coverageOf, differencesOf, formsIn, replaced, textTable, tokensOf, usedRows } from '$core/words';
import { runs } from '../runs';

describe('what is not for reading', () => {
	test.each([
		['You have %d boats and %s.', ['%d', '%s']],
		['%1$s gives {count} to {0}', ['%1$s', '{count}', '{0}']],
		['${name} is %(rank)s, %RANK%', ['${name}', '%(rank)s', '%RANK%']],
		['%d手番以内', ['%d']],
		['100 % sure, 50%% of it, 20% more, a {b c}', []],
		['5% discount, 3%dry', []]
	])('placeholders of “%s”', (text, placeholders) => {
		expect(tokensOf(text)?.placeholders ?? []).toEqual(placeholders);
	});

	test('tags by name, whatever else is in them; one that closes itself is neither', () => {
		expect(tokensOf('<b>Ice</b> and <color=#fff>fog</color><br/>, 3 < 4')).toMatchObject({
			opening: ['b', 'color'],
			closing: ['b', 'color']
		});
		expect(tokensOf('Nothing but words.')).toBeNull();
	});

	test('law: texts differ in nothing that both have in another order, and each sees what the other lacks', () => {
		const token = fc.constantFrom('%d', '%s', '{who}', '<b>', '</b>', '${n}');
		const text = fc.array(fc.oneof(token, fc.constantFrom('ice', 'fog', 'A.')), { maxLength: 8 });
		fc.assert(
			fc.property(text, fc.infiniteStream(fc.nat()), (words, order) => {
				const shuffled = words
					.map((word) => [order.next().value as number, word] as const)
					.sort(([a], [b]) => a - b)
					.map(([, word]) => word);
				expect(differencesOf(words.join(' '), shuffled.join(' '))).toEqual([]);
			}),
			{ numRuns: runs(500) }
		);
		fc.assert(
			fc.property(text, text, (a, b) => {
				const [there, back] = [
					differencesOf(a.join(' '), b.join(' ')),
					differencesOf(b.join(' '), a.join(' '))
				];
				expect(back).toEqual(there.map((one) => ({ ...one, lacks: one.adds, adds: one.lacks })));
			}),
			{ numRuns: runs(500) }
		);
	});
});

const GUIDE_TEXT = `
guide: 1
words: { kind: text, main: en, languages: { en: English, fr: Français } }
kinds:
  knot:
    title: Knot
    files: [knots.csv]
    key: id
    merge: record
    texts: [{ label: Name, key: 'knot.{id}', name: true }]
  text:
    title: Text
    plural: Texts
    files: ['text/{language}.properties']
    merge: record
`;
const GUIDE = parseGuide(GUIDE_TEXT);

const count = (most: number) => Array.from({ length: most }, (_, nth) => nth);
type Files = Record<string, string>;
const bytes = (files: Files) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));

/** A game of 80 knots with a text each; a line for each language is mine where it is given. */
function stackOf(
	mine: Files,
	french: (nth: number) => string = (nth) => `Le noeud ${nth} de %d brins`,
	guide = GUIDE
): Stack {
	const game: Files = {
		'knots.csv': `id,length\n${count(80)
			.map((nth) => `k${nth},${nth}`)
			.join('\n')}\n`,
		'text/en.properties': `${count(80)
			.map((nth) => `knot.k${nth}=The knot ${nth} of %d strands`)
			.join('\n')}\nsaid.once=Once\nlost=Lost\n`,
		'text/fr.properties': `${count(80)
			.map((nth) => `knot.k${nth}=${french(nth)}`)
			.join('\n')}\nlost=Lost\n`,
		'go.lua': 'say("said.once")\n'
	};
	return assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		guide
	);
}
const told = (stack: Stack): Snag[] => checkStack(stack).filter(({ rule }) => rule === 'unlike-text');

test('coverage: there, missing, as in the main language, with other placeholders, mine', () => {
	const stack = stackOf({ 'text/fr.properties': 'knot.k3=Le noeud 3\nknot.k4=\n' });
	const [english, french] = coverageOf(stack);
	expect(english).toMatchObject({
		code: 'en',
		main: true,
		there: 82,
		missing: 0,
		same: 0,
		unlike: 0,
		mine: 0
	});
	expect(french).toMatchObject({
		code: 'fr',
		main: false,
		there: 80,
		missing: 2,
		same: 1,
		unlike: 1,
		mine: 2
	});
});

test('rows can be asked for by each of these, and by who uses them', () => {
	const stack = stackOf({ 'text/fr.properties': 'knot.k3=Le noeud 3\n' });
	const [links, table] = [buildLinks(stack), textTable(stack)!];
	const columns = [
		{ path: 'en', title: 'English' },
		{ path: 'fr', title: 'Français' }
	];
	const idsWith = (typed: string) => {
		const condition = conditionFrom(typed, columns, true)!;
		const rows = arrange({ stack, links, snags: new Map() }, table, [condition], []);
		return Array.from(rows, (row) => table.pool.at(table.rows.ids[row]!));
	};
	expect(idsWith('Français is empty')).toEqual(['said.once']);
	expect(idsWith('Français is the same as English')).toEqual(['lost']);
	expect(idsWith('Français is unlike English')).toEqual(['knot.k3']);
	expect(idsWith('used by nothing')).toEqual(['lost']);
	expect(idsWith('used by knot').length + idsWith('used by scripts').length).toBe(81);
	expect(idsWith('used by scripts')).toEqual(['said.once']);
	expect(idsWith('in layer game').length).toBe(table.count);
	expect(idsWith('in layer nobody’s')).toEqual([]);
	expect(usedRows(links, table).reduce((sum, used) => sum + used, 0)).toBe(81);
	// Texts are found by the name of what wears them.
	expect(idsWith('name has knot 7 of')).toEqual(['knot.k7']);
});

describe('what a mod is told of its own texts', () => {
	test('a placeholder less, at the line of the translation; mended, nothing', () => {
		const [snag, ...others] = told(stackOf({ 'text/fr.properties': '# mine\nknot.k3=Le noeud 3\n' }));
		expect(others).toEqual([]);
		expect(snag).toMatchObject({ severity: 'warns', field: 'fr', file: 'text/fr.properties', line: 2 });
		expect(snag!.message).toContain('lacks `%d`, which it has in English');
		expect(told(stackOf({ 'text/fr.properties': 'knot.k3=Noeud 3 à %d brins\n' }))).toEqual([]);
	});

	test('a changed original is told there, not at the translation of the game', () => {
		const [snag] = told(stackOf({ 'text/en.properties': 'knot.k5=The knot 5 of {n} strands\n' }));
		expect(snag).toMatchObject({ field: 'en', file: 'text/en.properties', line: 1 });
		expect(snag!.message).toContain(
			'lacks `%d`, which it has in Français, and has `{n}`, which it does not have'
		);
	});

	test('what the game does itself is noted at most', () => {
		const stack = stackOf({ 'text/fr.properties': 'knot.k3=Le noeud 3\n' }, (nth) =>
			nth % 2 === 0 ? `Le noeud ${nth}` : `Le noeud ${nth} de %d brins`
		);
		expect(told(stack).filter(({ severity }) => severity !== 'note')).toEqual([]);
	});

	test('what was copied from the game as it is, and a text that the game has nowhere else so, is mine only if I wrote it', () => {
		const odd = (nth: number) => (nth === 7 ? 'Le noeud 7' : `Le noeud ${nth} de %d brins`);
		expect(
			told(stackOf({ 'text/fr.properties': 'knot.k7=Le noeud 7\nknot.k8=Le noeud 8 de %d brins\n' }, odd))
		).toEqual([]);
	});

	test('a space at the end is a note', () => {
		const [snag] = told(stackOf({ 'text/fr.properties': 'knot.k3=Le noeud 3 de %d brins \n' }));
		expect([snag!.severity, snag!.message.includes('has a space at the end')]).toEqual(['note', true]);
	});
});

describe('one word in place of another', () => {
	const how = { find: 'tern', with: 'skua', keepCase: true, outside: true };
	test.each([
		['tern, Tern, TERN', 'skua, Skua, SKUA'],
		['terns and the tern’s nest', 'skuas and the skua’s nest'],
		['{tern} by <tern>a tern</tern>', '{tern} by <tern>a skua</tern>'],
		['LANTERN', 'LANSKUA']
	])('“%s”: capitals are kept, placeholders and tags stay', (text, made) => {
		expect(replaced(text, how)).toBe(made);
	});

	test('forms are told apart, and one that is left stays', () => {
		const texts = ['A tern. Terns!', 'the lantern of a tern'];
		expect(formsIn(texts, how)).toEqual([
			{ form: 'tern', count: 2 },
			{ form: 'terns', count: 1 },
			{ form: 'lantern', count: 1 }
		]);
		expect(texts.map((text) => replaced(text, { ...how, leave: ['lantern'] }))).toEqual([
			'A skua. Skuas!',
			'the lantern of a skua'
		]);
	});

	test('signs of patterns mean themselves; without the switches it is what it always was', () => {
		expect(replaced('a.b (c) a-b', { find: 'a.b (c)', with: '$&' })).toBe('$& a-b');
		fc.assert(
			fc.property(
				fc.string(),
				fc.string({ minLength: 1, maxLength: 2 }),
				fc.string(),
				(text, find, other) => {
					expect(replaced(text, { find, with: other })).toBe(text.replaceAll(find, () => other));
				}
			),
			{ numRuns: runs(1000) }
		);
	});

	test('law: what is left alone in every form is left alone, whatever it is', () => {
		const text = fc.array(fc.constantFrom('tern', 'Tern', ' ', 'lan', '’s', '{tern}', 's'), { maxLength: 8 });
		fc.assert(
			fc.property(text, (parts) => {
				const whole = parts.join('');
				const leave = formsIn([whole], how).map(({ form }) => form);
				expect(replaced(whole, { ...how, leave })).toBe(whole);
				expect(formsIn([replaced(whole, how)], how)).toEqual([]);
			}),
			{ numRuns: runs(500) }
		);
	});
});

test('many texts are changed as one plan, into my own file; those of the game stay', () => {
	const stack = stackOf({});
	const how = { by: 'replace' as const, find: 'noeud', with: 'lien', keepCase: true, outside: true };
	const plan = planFor(
		stack,
		{ do: 'change', kind: 'text', ids: ['knot.k1', 'knot.k2', 'lost'], field: 'fr', how },
		'm'
	);
	expect(plan.title).toBe('Change Français of 2 texts with “lien” for “noeud”');
	expect(plan.values.map(({ id, before, after }) => [id, before, after])).toEqual([
		['knot.k1', 'Le noeud 1 de %d brins', 'Le lien 1 de %d brins'],
		['knot.k2', 'Le noeud 2 de %d brins', 'Le lien 2 de %d brins']
	]);
	const made = applyPlan(new Map(), plan);
	expect([...made.values()].map((file) => (file instanceof Uint8Array ? '' : file.text)).join('')).toBe(
		'knot.k1=Le lien 1 de %d brins\nknot.k2=Le lien 2 de %d brins\n'
	);
});

describe('many texts at once', () => {
	const WRITE = ['', "    write: 'text/{language}/{mod}.properties'\n"];
	const MERGES = ['record', 'file'];
	const MINE: Files[] = [{}, { 'text/fr.properties': 'knot.k2=À moi\nknot.k9=aussi\n' }];

	test('law: my mod has the same lines as if each had been written by itself', () => {
		const text = fc.record({
			key: fc.constantFrom(
				'knot.k1',
				'knot.k2',
				'knot.k3',
				'knot.k9',
				'lost',
				'said.once',
				'new.one',
				'new.two'
			),
			language: fc.constantFrom('en', 'fr'),
			text: fc.constantFrom('A', 'Zwei Worte', 'é = % {x}', '')
		});
		const about = fc.tuple(fc.constantFrom(...WRITE), fc.constantFrom(...MERGES), fc.constantFrom(...MINE));
		fc.assert(
			fc.property(about, fc.array(text, { minLength: 1, maxLength: 9 }), ([write, merge, mine], texts) => {
				const guide = parseGuide(
					GUIDE_TEXT.replace(/(files: \['text[^\n]*\n) {4}merge: record\n/, `$1    merge: ${merge}\n${write}`)
				);
				const stack = stackOf(mine, undefined, guide);
				const written = (put: (draft: Draft) => void) => {
					const draft = startDraft(stack);
					put(draft);
					const made = applyPlan(
						new Map([...stack.mine!.files].map(([path, file]) => [path, fileContent(file)])),
						{ changes: draft.changes() }
					);
					return [...made]
						.map(([path, file]) => [path, file instanceof Uint8Array ? [] : file.text.split('\n').sort()])
						.sort();
				};
				const say = () => undefined;
				const name = { mod: 'm' };
				const distinct = [...new Map(texts.map((one) => [`${one.language} ${one.key}`, one])).values()];
				const attempt = (put: (draft: Draft) => void) => {
					try {
						return written(put);
					} catch (fault) {
						return (fault as Error).constructor.name;
					}
				};
				const many = attempt((draft) => writeTexts(draft, texts, name, say));
				const one = attempt((draft) => {
					for (const text of distinct) writeTexts(draft, [text], name, say);
				});
				expect(many).toEqual(one);
			}),
			{ numRuns: runs(600) }
		);
	});
});
