// What a mod is told of its own texts, held against how the game writes its own.
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import { baseValueOf } from '$core/stack';
import { coverageOf, textTable, tokensOf, unevenTags } from '$core/words';

const properties = parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English, fr: Français } }
kinds:
  text: { title: Text, plural: Texts, files: ['text/{language}.properties'], merge: record }
`);
/** The same with a column for each language. */
const columns = parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English, fr: Français } }
kinds:
  text: { title: Text, plural: Texts, files: ['text/*.csv'], key: key, merge: record }
`);

type Texts = Record<string, [en: string, fr: string]>;
const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const asProperties = (texts: Texts) =>
	bytes(
		Object.fromEntries(
			[0, 1].map((nth) => [
				`text/${['en', 'fr'][nth]!}.properties`,
				Object.entries(texts)
					.filter(([, pair]) => pair[nth] !== '')
					.map(([key, pair]) => `${key}=${pair[nth]!}\n`)
					.join('')
			])
		)
	);
const asTable = (texts: Texts, name: string) =>
	bytes({
		[`text/${name}.csv`]: `key,en,fr\n${Object.entries(texts)
			.map(([key, pair]) => [key, ...pair].map((cell) => `"${cell.replaceAll('"', '""')}"`).join(','))
			.join('\n')}\n`
	});

const GAME: Texts = Object.fromEntries(
	Array.from({ length: 240 }, (_, nth) => [
		`line.${nth}`,
		nth % 3 === 0
			? [`The <b>boat</b> is “here”, ${nth}`, `Le <b>bateau</b> est « ici », ${nth}`]
			: nth % 3 === 1
				? [`Quay [i]number[/i] ${nth}, don't`, `Le quai [i]numéro[/i] ${nth}, l'eau`]
				: [`A line<br>of two ${nth}`, `Une ligne<br>de deux ${nth}`]
	])
);

/** What is told of texts of mine, as rule, severity and key. */
function told(mine: Texts, how: 'properties' | 'columns', game: Texts = GAME, script?: string) {
	const [files, guide] = how === 'columns' ? [asTable, columns] : [asProperties, properties];
	const stack = assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: files(game, 'game') },
			{
				id: 'mine',
				title: 'Mine',
				owner: 'me',
				files: new Map([...files(mine, 'mine'), ...bytes(script === undefined ? {} : { 'go.lua': script })])
			}
		],
		guide
	);
	const rules = ['open-tag', 'odd-letter', 'odd-quotes', 'same-text', 'text-case'];
	return checkStack(stack)
		.filter(({ rule }) => rules.includes(rule))
		.map(({ rule, severity, record, field }) => [rule, severity, record, field].join(' '));
}

describe.each(['properties', 'columns'] as const)('texts in %s', (how) => {
	test('a game as it is has none of it, nor a mod that says what the game says', () => {
		expect(told({}, how)).toEqual([]);
		expect(told({ 'line.3': GAME['line.3']!, own: ['My own line', 'Ma propre ligne'] }, how)).toEqual([]);
	});

	test('a tag without its other half, unless the game leaves it so too', () => {
		const mine: Texts = {
			'line.0': ['The <b>boat is here', 'Le <b>bateau</b> est ici'],
			own: ['One<br>two [i]three[/i]', 'Un<br>deux [i]trois[/i] [/i]'],
			rare: ['A <u>line', 'Une <u>ligne</u>']
		};
		expect(told(mine, how)).toEqual([
			'open-tag warns line.0 en',
			'open-tag warns own fr',
			'open-tag note rare en'
		]);
	});

	test('a key that differs from one of the game only in case', () => {
		expect(told({ 'Line.7': ['Something else', 'Autre chose'] }, how)).toEqual(['text-case note Line.7 ']);
		// A script of mine asks for it: it is a text of its own.
		expect(told({ 'Line.7': ['Something else', 'Autre chose'] }, how, GAME, 'say("Line.7")\n')).toEqual([]);
	});

	test('a character that no text of the game has, in any language', () => {
		// What the game has in another language, or as a capital, its fonts have.
		expect(told({ own: ['The gŵyl é É', 'La gŵyl'] }, how)).toEqual([
			'odd-letter note own en',
			'odd-letter note own fr'
		]);
		// Of writings with thousands of signs a game has a part only.
		expect(told({ own: ['船', '船だ'] }, how)).toEqual(['odd-letter note own en', 'odd-letter note own fr']);
		const han = { ...GAME, 'line.1': ['港', '港'] as [string, string] };
		expect(told({ own: ['船', '船だ'] }, how, han)).toEqual(['odd-letter note own fr']);
		// Few texts do not tell what a font holds.
		const few = Object.fromEntries(Object.entries(GAME).slice(0, 60));
		expect(told({ own: ['The gŵyl', 'La gŵyl'] }, how, few)).toEqual([]);
	});

	test('straight quotes where the game has curly ones, and the other way round; apostrophes are none', () => {
		expect(told({ own: ['Say "go", don\'t', "Dire « va », l'eau"] }, how)).toEqual([
			'odd-quotes note own en'
		]);
		const straight = Object.fromEntries(
			Object.entries(GAME).map(([key, [en, fr]]): [string, [string, string]] => [
				key,
				[en.replace(/[“”]/g, '"'), fr]
			])
		);
		expect(told({ own: ['Say “go”', 'Dire « va »'] }, how, straight)).toEqual(['odd-quotes note own en']);
	});

	test('a text that is not translated, where the game translates nearly all', () => {
		expect(told({ own: ['Anchor', 'Anchor'], mark: ['12', '12'] }, how)).toEqual(['same-text note own fr']);
		const same = Object.fromEntries(
			Object.entries(GAME).map(([key, [en, fr]], nth): [string, [string, string]] => [
				key,
				[en, nth % 5 === 0 ? en : fr]
			])
		);
		expect(told({ own: ['Anchor', 'Anchor'] }, how, same)).toEqual([]);
	});
});

test('a whole file of texts that stands in for that of the game is mine only where it says something else', () => {
	const whole = parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English, fr: Français } }
kinds:
  text: { title: Text, plural: Texts, files: ['text/{language}.properties'], merge: file }
`);
	const game = asProperties(GAME);
	const mine = new Map(
		[...game].map(([path, text]) => [
			path,
			new TextEncoder().encode(
				new TextDecoder()
					.decode(text)
					.replace('line.4=Le quai', 'line.4=La jetée')
					.replace(/line\.8=.*\n/, '')
			)
		])
	);
	const stack = assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: game },
			{ id: 'mine', title: 'Mine', owner: 'me', files: mine }
		],
		whole
	);
	expect(coverageOf(stack).map(({ code, mine, there }) => [code, mine, there])).toEqual([
		['en', 0, 239],
		['fr', 1, 239]
	]);
	const table = textTable(stack)!;
	expect(baseValueOf(table.byId.get('line.4')!, 'fr')).toBe(GAME['line.4']![1]);
	expect(baseValueOf(table.byId.get('line.4')!, 'en')).toBe(GAME['line.4']![0]);
});

test('a tag in brackets is one only where another closes it', () => {
	expect(tokensOf('Press [E] to board')).toBeNull();
	expect(tokensOf('[color=red]Ice[/color] and [E]')).toMatchObject({
		opening: ['color'],
		closing: ['color']
	});
	expect(unevenTags('[b]Ice[/b][/b]')).toEqual(['b']);
});

test('a new text that nothing uses, where the game uses nearly all of its own', () => {
	const guide = parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English }, plurals: '{key}.{form}' }
kinds:
  text: { title: Text, plural: Texts, files: ['text/{language}.properties'], merge: record }
  knot: { title: Knot, files: [knots.csv], key: id, merge: record, texts: [{ label: Name, key: 'knot.{id}' }] }
`);
	const unused = (mine: Record<string, string>, idle: number) => {
		const knots = Array.from({ length: 120 }, (_, nth) => `k${nth}`);
		const texts = [
			...knots.map((id) => `knot.${id}=Knot`),
			...Array.from({ length: idle }, (_, nth) => `idle.${nth}=Idle`)
		];
		const stack = assembleStack(
			[
				{
					id: 'game',
					title: 'Game',
					owner: 'game',
					files: bytes({
						'knots.csv': `id\n${knots.join('\n')}\n`,
						'text/en.properties': `${texts.join('\n')}\n`
					})
				},
				{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
			],
			guide
		);
		return checkStack(stack).flatMap(({ rule, severity, record }) =>
			rule === 'unused-text' ? [`${severity} ${record!}`] : []
		);
	};
	const own = {
		'text/en.properties': 'lost=Lost\nknot.k1=Another knot\nknot.k121=New\nrope.other=Ropes\n',
		'knots.csv': 'id\nk121\n',
		'go.lua': 'count("rope")\n'
	};
	expect(unused(own, 2)).toEqual(['note lost']);
	expect(unused(own, 12)).toEqual([]);
});
