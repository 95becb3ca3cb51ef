// Languages that a game gets, where their texts go, words that are always translated in one way, what was translated
// before, and the language for testing.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyPlan, type FileContent } from '$core/change';
import { checkStack } from '$core/checks';
import { planFor, textGoes } from '$core/edits';
import { parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { testingPack } from '$core/pack';
import { identityOf, type Stack } from '$core/stack';
import { coverageOf, formOf, formsFor, pseudoText, similarTexts, termFaults, textTable } from '$core/words';
import { runs } from '../runs';

type Files = Record<string, string>;
const bytes = (files: Files) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));

const guideOf = (files: string, more = '', merge = 'record') =>
	parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English, fr: Français, nb: Norsk } }
kinds:
  text: { title: Text, plural: Texts, files: ['${files}'], merge: ${merge}${more} }
`);

function stackOf(guide: ReturnType<typeof guideOf>, game: Files, mine: Files = {}): Stack {
	return assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		guide
	);
}

const written = (stack: Stack, texts: { key: string; language: string; text: string }[]): Files => {
	const before = new Map<string, FileContent>(
		[...stack.mine!.files].map(([path, file]) => [path, file.text ?? file.bytes()])
	);
	return Object.fromEntries(
		[...applyPlan(before, planFor(stack, { do: 'write', texts }, 'pier'))].map(([path, file]) => [
			path,
			file instanceof Uint8Array ? '' : file.text
		])
	);
};

const PROPERTIES = {
	'text/en.properties': 'quay.name=Quay\nquay.about=A quay.\n',
	'text/fr.properties': 'quay.name=Quai\n'
};
const PO = {
	'text/en/game.po': 'msgid ""\nmsgstr ""\n"Language: en\\n"\n\nmsgid "quay.name"\nmsgstr "Quay"\n',
	'text/fr/game.po': 'msgid ""\nmsgstr ""\n"Language: fr\\n"\n\nmsgid "quay.name"\nmsgstr "Quai"\n'
};
const JSONS = {
	'text/en.json': '{\n\t"quay.name": { "text": "Quay" },\n\t"quay.about": { "text": "A quay." }\n}\n',
	'text/fr.json': '{\n\t"quay.name": { "text": "Quai" }\n}\n'
};
const TABLE = { 'text/game.csv': 'key,en,fr\nquay.name,Quay,Quai\nquay.about,A quay.,\n' };

describe('where a text goes', () => {
	const GAMES: [name: string, guide: ReturnType<typeof guideOf>, game: Files][] = [
		['properties', guideOf('text/{language}.properties'), PROPERTIES],
		['properties, whole files', guideOf('text/{language}.properties', '', 'file'), PROPERTIES],
		[
			'properties with a file of one’s own',
			guideOf('text/{language}*.properties', ", write: 'text/{language}_{mod}.properties'", 'file'),
			PROPERTIES
		],
		['PO', guideOf('text/{language}/*.po'), PO],
		['JSON', guideOf('text/{language}.json', ', at: ""'), JSONS],
		['a column for each language', guideOf('text/*.csv', ', key: key'), TABLE],
		['a column for each language, whole files', guideOf('text/*.csv', ', key: key', 'file'), TABLE]
	];

	test.each(GAMES)('%s: what is said before is what is done', (_, guide, game) => {
		const texts = fc.record({
			key: fc.constantFrom('quay.name', 'quay.about', 'pier.name'),
			language: fc.constantFrom('en', 'fr', ...(game === TABLE ? [] : ['nb'])),
			text: fc.constantFrom('A', 'Zwei', 'é')
		});
		fc.assert(
			fc.property(fc.array(texts, { maxLength: 3 }), texts, (first, text) => {
				const mine = first.length > 0 ? written(stackOf(guide, game), first) : {};
				const stack = stackOf(guide, game, mine);
				fc.pre(textTable(stack)!.byId.get(text.key)?.value(text.language) !== text.text);
				const said = textGoes(stack, text.key, text.language, 'pier');
				const after = written(stack, [text]);
				const changed = Object.keys(after).filter((path) => after[path] !== mine[path]);
				const now = stackOf(guide, game, after);
				expect(textTable(now)!.byId.get(text.key)!.value(text.language)).toBe(text.text);
				// A text that is there already changes nothing.
				if (changed.length > 0) expect(changed).toEqual([said!.path]);
				if (said!.how !== 'mine' && changed.length > 0)
					expect(said!.fresh).toBe(mine[said!.path] === undefined);
				// All others say what they said.
				for (const record of textTable(stack)!.records)
					for (const code of ['en', 'fr', 'nb'])
						if (record.id !== text.key || code !== text.language)
							expect(textTable(now)!.byId.get(record.id)!.value(code) ?? '').toBe(record.value(code) ?? '');
			}),
			{ numRuns: runs(80) }
		);
	});

	test('a table without a column for a language says so, before and when asked', () => {
		const stack = stackOf(GAMES[5]![1], TABLE);
		expect(textGoes(stack, 'quay.name', 'nb', 'pier')).toBeNull();
		expect(() => written(stack, [{ key: 'quay.name', language: 'nb', text: 'Brygge' }])).toThrow(
			'no column “nb”'
		);
	});

	test('a file in a new language has its name, its header, and nothing but what is mine', () => {
		const nb = [{ key: 'quay.name', language: 'nb', text: 'Brygge' }];
		expect(written(stackOf(GAMES[0]![1], PROPERTIES), nb)).toEqual({
			'text/nb.properties': 'quay.name=Brygge\n'
		});
		expect(written(stackOf(GAMES[3]![1], PO), nb)).toEqual({
			'text/nb/game.po':
				'msgid ""\nmsgstr ""\n"Language: nb\\n"\n"Content-Type: text/plain; charset=UTF-8\\n"\n\nmsgid "quay.name"\nmsgstr "Brygge"\n'
		});
		expect(JSON.parse(written(stackOf(GAMES[4]![1], JSONS), nb)['text/nb.json']!)).toEqual({
			'quay.name': { text: 'Brygge' }
		});
	});
});

describe('terms', () => {
	const terms = [
		{ en: 'Kittiwake', fr: 'Mouette' },
		{ en: 'ice', fr: 'glace' }
	];
	const faults = (source: string, text: string) =>
		termFaults(source, text, terms, 'en', 'fr').map(({ wanted }) => wanted);

	test('hold for whole words in any case, and for a translation with any ending', () => {
		expect(faults('A kittiwake on ice', 'Une mouette sur la GLACE')).toEqual([]);
		expect(faults('The Kittiwake’s ice', 'Le navire des mouettes, des glaces')).toEqual([]);
		expect(faults('A Kittiwake', 'Un goéland')).toEqual(['Mouette']);
		expect(faults('A nice price', 'Un beau prix')).toEqual([]);
		expect(faults('Ice', '')).toEqual([]);
	});

	test('are counted for all texts, and told of mine', () => {
		const guide = parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English, fr: Français }, terms: [{ en: Quay, fr: Quai }] }
kinds:
  text: { title: Text, plural: Texts, files: ['text/{language}.properties'], merge: record }
`);
		const game = {
			'text/en.properties': 'a=The quay\nb=The quay\nc=The quay\n',
			'text/fr.properties': 'a=Le quai\nb=Le mur\nc=Le quai\n'
		};
		const stack = stackOf(guide, game, { 'text/fr.properties': 'c=Le pont\n' });
		expect(coverageOf(stack).map(({ code, terms }) => [code, terms])).toEqual([
			['en', 0],
			['fr', 2]
		]);
		expect(checkStack(stack).filter(({ rule }) => rule === 'against-term')).toMatchObject([
			{ severity: 'note', record: 'c', field: 'fr', line: 1 }
		]);
	});
});

test('what was translated before is found, the same sentence first, and none that is far from it', () => {
	const guide = guideOf('text/{language}.properties');
	const stack = stackOf(guide, {
		'text/en.properties':
			'a=The old quay is closed today\nb=The old quay is open today\nc=The old quay is closed today\nd=Fog\ne=The old quay is closed today\n',
		'text/fr.properties':
			'a=Le vieux quai est fermé\nb=Le vieux quai est ouvert\nd=Brume\ne=Le vieux quai est fermé\n'
	});
	const found = similarTexts(textTable(stack)!, {
		key: 'c',
		source: 'The old quay is closed today',
		main: 'en',
		codes: ['fr']
	}).fr!;
	expect(found.map(({ key, likeness }) => [key, likeness === 1])).toEqual([
		['a', true],
		['b', false]
	]);
	expect(
		similarTexts(textTable(stack)!, { key: 'x', source: 'Nothing alike', main: 'en', codes: ['fr'] }).fr
	).toEqual([]);
	const columns = stackOf(guideOf('text/*.csv', ', key: key'), TABLE);
	expect(
		similarTexts(textTable(columns)!, { key: 'x', source: 'quay', main: 'en', codes: ['fr'] }).fr
	).toMatchObject([{ key: 'quay.name', text: 'Quai' }]);
});

describe('forms for numbers', () => {
	test('are those that each language has for whole numbers', () => {
		expect(formsFor('en')).toEqual(['one', 'other']);
		expect(formsFor('ja')).toEqual(['other']);
		expect(formsFor('pl')).toEqual(['one', 'few', 'many']);
		expect(formsFor('ar')).toEqual(['zero', 'one', 'two', 'few', 'many', 'other']);
		expect(formsFor('zh_CN')).toEqual(['other']);
		expect(formsFor('no such code')).toBeNull();
	});

	test('are read from keys by the pattern', () => {
		expect(formOf('{key}.{form}', 'crates.few')).toEqual({ text: 'crates', form: 'few' });
		expect(formOf('n.{key}[{form}]', 'n.crates[other]')).toEqual({ text: 'crates', form: 'other' });
		expect(formOf('{key}.{form}', 'crates.name')).toBeNull();
		expect(formOf('{key}.{form}', '.one')).toBeNull();
	});
});

describe('the language for testing', () => {
	const markup = [
		{ open: '**', close: '**', shows: 'strong' as const },
		{ code: '~n', shows: 'break' as const }
	];
	const part = fc.constantFrom('Fog', ' ', 'over', '%s', '{name}', '**', '~n', '<b>', '</b>', '||', 'ä', '1');

	test('law: longer by a third, with all that is not for reading as it was and where it was', () => {
		fc.assert(
			fc.property(fc.array(part, { maxLength: 12 }), (parts) => {
				const text = parts.join('');
				const made = pseudoText(text, { markup, codes: ['||', '%s', '{name}'] });
				const fixed = (said: string) => said.match(/%s|\{name\}|\*\*|~n|<\/?b>|\|\|/g) ?? [];
				expect(fixed(made)).toEqual(fixed(text));
				if (!/\p{L}/u.test(text)) {
					expect(made).toBe(text);
					return;
				}
				expect(made.startsWith('[') && made.endsWith(']')).toBe(true);
				expect(made.length).toBeGreaterThanOrEqual(Math.floor(text.length * 1.3));
			}),
			{ numRuns: runs(500) }
		);
	});

	test('is no longer than the game takes', () => {
		expect(pseudoText('Razorbill', { longest: 12 })).toBe('[Rázórbíll]');
		expect(pseudoText('Razorbills', { longest: 11 })).toBe('Rázórbíllš');
		expect(pseudoText('Fog')).toBe('[Fóg]');
	});

	test('is a mod of its own, over all texts, mine too', () => {
		const guide = guideOf('text/{language}.properties');
		const stack = stackOf(guide, PROPERTIES, {
			'text/en.properties': 'quay.about=My quay by the old harbour wall.\n'
		});
		const { pack, texts } = testingPack(stack, buildLinks(stack), 'fr', identityOf(stack, 'Pier'));
		expect(texts).toBe(2);
		const own = Object.fromEntries(
			[...pack.contents].map(([path, content]) => [path, new TextDecoder().decode(content)])
		);
		expect(own).toEqual({
			'text/fr.properties': expect.stringMatching(
				/^quay.name=\[Qúáý\]\nquay.about=\[Mý qúáý .*\]\n$/
			) as string
		});
	});
});
