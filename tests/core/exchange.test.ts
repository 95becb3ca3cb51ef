// Texts that are given out to translators and taken in again, and read by other programs on the way.
import fc from 'fast-check';
// @ts-expect-error: this package brings no types
import gettextParser from 'gettext-parser';
import Papa from 'papaparse';
import { parseXml, XmlElement } from '@rgrove/parse-xml';
import { describe, expect, test } from 'vitest';
// @ts-expect-error: this package brings no types
import xliffReader from 'xliff';
import { parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { applyPlan } from '$core/change';
import { myFiles, planFor, stackAfter } from '$core/edits';
import type { Stack } from '$core/stack';
import {
	coverageOf,
	ExchangeFault,
	FORM_NAMES,
	giveAs,
	givenOut,
	readReturned,
	takenIn,
	textOfReturned,
	type Form,
	type Given,
	type TextUnit
} from '$core/words';
import { tagOf } from '$core/text';
import { runs } from '../runs';
import { randomBy } from '../random';

const GUIDE = parseGuide(`
guide: 1
words: { kind: text, main: en, languages: { en: English, de: Deutsch, zh_cn: Chinese } }
kinds:
  knot:
    title: Knot
    files: [knots.csv]
    key: id
    merge: record
    texts:
      - { label: Name, key: 'knot.{id}', name: true, longest: 24 }
      - { label: About, key: 'about.{id}' }
  text:
    title: Text
    plural: Texts
    files: ['text/{language}.properties']
    merge: record
`);
const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));

/** A text as a properties file has it. */
const line = (key: string, text: string) =>
	`${key}=${text.replaceAll('\\', '\\\\').replaceAll('\n', '\\n').replace(/^ /, '\\ ')}\n`;

function stackOf(game: Record<string, Record<string, string>>, mine: typeof game = {}): Stack {
	const files = (languages: typeof game) =>
		Object.fromEntries(
			Object.entries(languages).map(([code, texts]) => [
				`text/${code}.properties`,
				Object.entries(texts)
					.map(([key, text]) => line(key, text))
					.join('')
			])
		);
	return assembleStack(
		[
			{
				id: 'game',
				title: 'Game',
				owner: 'game',
				files: bytes({ ...files(game), 'knots.csv': 'id,length\nreef,3\nbend,4\nhitch,5\n' })
			},
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(files(mine)) }
		],
		GUIDE
	);
}

const GAME = {
	en: {
		'knot.reef': 'Reef knot',
		'knot.bend': 'Sheet bend',
		'knot.hitch': 'Hitch',
		'about.reef': 'Holds %d.'
	},
	de: { 'knot.reef': 'Kreuzknoten', 'knot.bend': 'Schotstek', 'about.reef': 'Hält %d.' },
	zh_cn: { 'knot.reef': '平结' }
};
const give = (stack: Stack, more: Partial<Parameters<typeof givenOut>[2]> = {}): Given =>
	givenOut(stack, buildLinks(stack), { to: 'de', open: true, mine: false, ...more });
const keysOf = ({ units }: Given) => units.map(({ key }) => key);

describe('what is given out', () => {
	test('what is missing, or older than the main text; all of it; only what is mine', () => {
		const stack = stackOf(GAME, { en: { 'knot.bend': 'Becket bend', 'knot.own': 'Own knot' } });
		expect(keysOf(give(stack))).toEqual(['knot.bend', 'knot.hitch', 'knot.own']);
		expect(keysOf(give(stack, { mine: true }))).toEqual(['knot.bend', 'knot.own']);
		expect(keysOf(give(stack, { open: false }))).toHaveLength(5);
		expect(coverageOf(stack).map(({ code, stale }) => [code, stale])).toEqual([
			['en', 0],
			['de', 1],
			['zh_cn', 0]
		]);
	});

	test('a text that I wrote in both languages is not called old: nothing tells which came first', () => {
		const both = { en: { 'knot.bend': 'Becket bend' }, de: { 'knot.bend': 'Stek' } };
		expect(coverageOf(stackOf(GAME, both)).every(({ stale }) => stale === 0)).toBe(true);
		// A file of mine that says what the game says changes nothing.
		const copied = { en: { 'knot.bend': 'Sheet bend' } };
		expect(coverageOf(stackOf(GAME, copied)).every(({ stale }) => stale === 0)).toBe(true);
	});

	test('with who uses it, its room, and the other languages', () => {
		const [unit] = give(stackOf(GAME), { open: false }).units;
		expect(unit).toMatchObject({
			key: 'knot.reef',
			source: 'Reef knot',
			target: 'Kreuzknoten',
			usedBy: ['Reef knot (knot reef, name)'],
			longest: 24,
			others: [['zh_cn', '平结']]
		});
	});

	test('what XML cannot hold is refused with the key, and other forms hold it', () => {
		const given: Given = { from: 'en', to: 'de', units: [unitOf('bell', 'a\u0007b', '')] };
		expect(() => giveAs(given, 'xliff')).toThrow(/“bell” holds a control character/);
		expect(readReturned(giveAs(given, 'po')).texts[0]!.source).toBe('a\u0007b');
		// What only goes along to look at keeps nothing from being given out.
		const beside = {
			...unitOf('bell', 'a', 'b'),
			remark: 'ring\u0007',
			others: [['fr', 'c\u0001']] as [string, string][]
		};
		for (const form of ['xliff', 'xliff2'] as const)
			expect(readReturned(giveAs({ ...given, units: [beside] }, form)).texts[0]).toMatchObject({
				target: 'b'
			});
	});
});

const unitOf = (key: string, source: string, target: string): TextUnit => ({
	key,
	source,
	target,
	stale: false,
	usedBy: ['Somebody (knot x, name)'],
	remark: undefined,
	longest: null,
	others: [['fr', 'une « chose »\nde plus']]
});

/** Texts with all that has a meaning in one of the forms. */
const text = fc
	.array(
		fc.oneof(
			fc.constantFrom(
				'"',
				"'",
				'\\',
				'\n',
				'\r\n',
				'\t',
				'<b>',
				'</b>',
				']]>',
				'&amp;',
				'&',
				',',
				';',
				'%d',
				' '
			),
			fc.constantFrom(
				'{who}',
				'\\n',
				'#',
				'#~',
				'msgid "x"',
				'=',
				'ß',
				'平结',
				'😀',
				'a',
				'Zwei Worte',
				'\u00a0'
			)
		),
		{ minLength: 1, maxLength: 12 }
	)
	.map((parts) => parts.join(''));
const key = fc.stringMatching(/^[a-z]{1,8}(\.[a-z0-9_]{1,6}){0,2}$/);
const units = fc
	.uniqueArray(fc.record({ key, source: text, target: fc.oneof(fc.constant(''), text) }), {
		selector: (unit) => unit.key,
		minLength: 1,
		maxLength: 12
	})
	.map((list) => list.map((unit) => unitOf(unit.key, unit.source, unit.target)));
const given = units.map((list): Given => ({ from: 'en', to: 'de', units: list }));

/** What another reader sees: key (where it tells it), source and translation. */
type Seen = { key: string | null; source: string; target: string }[];
const xliff = xliffReader as Record<
	'xliff12ToJs' | 'xliff2js',
	(text: string) => Promise<{
		resources: Record<string, Record<string, { source: unknown; target?: unknown }>>;
	}>
>;
const gettext = gettextParser as unknown as {
	po: {
		parse(text: string): {
			translations: Record<string, Record<string, { msgid: string; msgctxt?: string; msgstr: string[] }>>;
		};
		compile(table: object, options?: object): Buffer;
	};
};
const OTHERS: Record<Form, (text: string) => Promise<Seen>> = {
	po: (file) =>
		Promise.resolve(
			Object.values(gettext.po.parse(file).translations)
				.flatMap((context) => Object.values(context))
				.filter(({ msgctxt }) => msgctxt)
				.map(({ msgctxt, msgid, msgstr }) => ({ key: msgctxt!, source: msgid, target: msgstr[0]! }))
		),
	csv: (file) =>
		Promise.resolve(
			Papa.parse<Record<string, string>>(file, { header: true, skipEmptyLines: true }).data.map((row) => ({
				key: row.key!,
				source: row.en!,
				target: row.de!
			}))
		),
	xliff: async (file) => listed(await xliff.xliff12ToJs(file)),
	xliff2: async (file) => listed(await xliff.xliff2js(file))
};
const listed = ({ resources }: Awaited<ReturnType<typeof xliff.xliff2js>>): Seen =>
	Object.values(Object.values(resources)[0]!).map(({ source, target }) => ({
		key: null,
		source: plain(source),
		target: plain(target)
	}));
/** That reader parts a text where an entity stood. */
const plain = (said: unknown): string =>
	Array.isArray(said) ? said.map(plain).join('') : typeof said === 'string' ? said : '';

describe.each(FORM_NAMES)('%s', (form) => {
	test('law: what is given out comes back as it was', () => {
		fc.assert(
			fc.property(given, (all) => {
				const { to, texts, faults } = readReturned(giveAs(all, form));
				expect(to).toBe('de');
				expect(faults).toEqual([]);
				expect(texts.map(({ key, source, target, before }) => [key, source, target, before ?? ''])).toEqual(
					all.units.map(({ key, source, target }) => [key, source, target, target])
				);
			}),
			{ numRuns: runs(300) }
		);
	});

	test('law: another reader sees the same texts', async () => {
		await fc.assert(
			fc.asyncProperty(given, async (all) => {
				const seen = await OTHERS[form](giveAs(all, form));
				// The reader of XLIFF drops spaces beside an entity; a reader of XML is asked for these below.
				const said = (text: string) => (form.startsWith('xliff') ? text.replace(/\s/g, '') : text);
				const inOrder = (list: Seen) =>
					list.map(({ key, source, target }) => JSON.stringify([key, said(source), said(target)])).sort();
				expect(inOrder(seen)).toEqual(
					inOrder(
						all.units.map(({ key, source, target }) => ({
							key: form.startsWith('xliff') ? null : key,
							source,
							target
						}))
					)
				);
			}),
			{ numRuns: runs(200) }
		);
	});

	test('300 edits made outside give exactly these edits, and nothing else in my mod changes', () => {
		const random = randomBy(7);
		const game = { en: {} as Record<string, string>, de: {} as Record<string, string> };
		for (let nth = 0; nth < 600; nth++) {
			game.en[`k.${nth}`] = `Line ${nth} "of" <b>it</b>`;
			if (nth % 3 > 0) game.de[`k.${nth}`] = `Zeile ${nth}`;
		}
		const stack = stackOf(game);
		const edits = new Map<string, string>();
		while (edits.size < 300) {
			const nth = Math.floor(random() * 600);
			edits.set(`k.${nth}`, `Neu ${nth} & „${Math.floor(random() * 1000)}“`);
		}
		const back = editedBy(form, giveAs(give(stack, { open: false }), form), edits);
		const { taken, changed, there, empty, faults, unknown } = takenIn(stack, readReturned(back));
		expect({ changed, faults, unknown }).toEqual({ changed: [], faults: [], unknown: [] });
		expect(new Map(taken.map(({ key, text }) => [key, text]))).toEqual(edits);
		expect(there + empty).toBe(300);
		const plan = planFor(
			stack,
			{
				do: 'cells',
				kind: 'text',
				cells: taken.map(({ key, now, text }) => ({ id: key, field: 'de', value: text, expected: now }))
			},
			'mine'
		);
		const after = stackAfter(stack, plan).tables.get('text')!;
		for (let row = 0; row < after.count; row++) {
			const record = after.record(row);
			expect(record.value('de') ?? '').toBe(edits.get(record.id) ?? game.de[record.id] ?? '');
		}
		expect(after.count).toBe(600);
		expect([...applyPlan(myFiles(stack), plan).keys()]).toEqual(['text/de.properties']);
	});
});

test.each(['xliff', 'xliff2'] as const)(
	'law: a reader of XML sees every letter of the texts in %s',
	(form) => {
		fc.assert(
			fc.property(given, (all) => {
				const seen: string[] = [];
				const walk = (node: XmlElement) => {
					if (node.name === 'source' || node.name === 'target') seen.push(node.text);
					for (const child of node.children) if (child instanceof XmlElement) walk(child);
				};
				walk(parseXml(giveAs(all, form)).root!);
				const empty = form === 'xliff' ? [''] : [];
				expect(seen).toEqual(
					all.units.flatMap(({ source, target }) => [source, ...(target === '' ? empty : [target])])
				);
			}),
			{ numRuns: runs(200) }
		);
	}
);

/** What a program of a translator does: translations are written over, all else stays. */
function editedBy(form: Form, file: string, edits: ReadonlyMap<string, string>): string {
	if (form === 'po') {
		const table = gettext.po.parse(file);
		for (const context of Object.values(table.translations))
			for (const message of Object.values(context)) {
				const text = edits.get(message.msgctxt ?? '');
				if (text !== undefined) message.msgstr = [text];
			}
		// Its lines are broken where this program breaks them.
		return gettext.po.compile(table, { foldLength: 40 }).toString();
	}
	if (form === 'csv') {
		const { data } = Papa.parse<Record<string, string>>(file, { header: true, skipEmptyLines: true });
		const rows = data.map((row) => ({ ...row, de: edits.get(row.key!) ?? row.de! }));
		// Another separator, quotes only where they must be, and other line ends.
		return Papa.unparse(rows, { delimiter: ';', newline: '\n' });
	}
	const unit = form === 'xliff' ? 'trans-unit' : 'unit';
	return file.replace(new RegExp(`<${unit} [^]*?</${unit}>`, 'g'), (whole) => {
		const text = edits.get(/ (?:res)?name="([^"]*)"/.exec(whole)![1]!);
		if (text === undefined) return whole;
		const target = `<target><![CDATA[${text}]]></target>`;
		return whole.includes('<target')
			? whole.replace(/<target[^]*?<\/target>/, target)
			: whole.replace('</source>', `</source>${target}`);
	});
}

describe('what is taken in', () => {
	const back = (then: Stack) => readReturned(giveAs(give(then, { open: false }), 'po'));

	test('what changed meanwhile is told with all values, and not taken', () => {
		const returned = back(stackOf(GAME));
		for (const one of returned.texts) one.target = `${one.key} neu`;
		// The main text of one is another now, the translation of a second, and a third is gone.
		const now = stackOf(
			{ en: { ...GAME.en, 'about.reef': 'Holds %d well.' }, de: GAME.de, zh_cn: GAME.zh_cn },
			{ de: { 'knot.hitch': 'Stek' } }
		);
		returned.texts.push({ ...returned.texts[0]!, key: 'knot.gone', line: 99 });
		const { taken, changed, unknown } = takenIn(now, returned);
		expect(taken.map(({ key }) => key)).toEqual(['knot.reef', 'knot.bend']);
		expect(changed).toEqual([
			{
				key: 'about.reef',
				now: 'Hält %d.',
				text: 'about.reef neu',
				source: { then: 'Holds %d.', now: 'Holds %d well.' },
				then: 'Hält %d.'
			},
			{
				key: 'knot.hitch',
				now: 'Stek',
				text: 'knot.hitch neu',
				source: { then: 'Hitch', now: 'Hitch' },
				then: null
			}
		]);
		expect(unknown).toEqual([{ key: 'knot.gone', line: 99 }]);
	});

	test('a file that lost what was there before overwrites nothing', () => {
		const file = giveAs(give(stackOf(GAME), { open: false }), 'po').replace(/^#\..*\n/gm, '');
		const returned = readReturned(file.replace('"Kreuzknoten"', '"Knoten"'));
		const { taken, changed } = takenIn(stackOf(GAME), returned);
		expect(taken).toEqual([]);
		expect(changed.map(({ key, now, text }) => [key, now, text])).toEqual([
			['knot.reef', 'Kreuzknoten', 'Knoten']
		]);
	});

	test('what is empty, or marked as not done, is left as it is', () => {
		const stack = stackOf(GAME, { en: { 'knot.bend': 'Becket bend' } });
		for (const form of ['po', 'xliff', 'xliff2'] as const) {
			const result = takenIn(stack, readReturned(giveAs(give(stack), form)));
			expect({ form, ...result }).toMatchObject({ taken: [], changed: [], empty: 1, unfinished: 1 });
		}
	});

	test('the same key twice with two translations: the first counts, and it is told', () => {
		const stack = stackOf(GAME);
		const csv = 'key,en,de\nknot.hitch,Hitch,Stek\nknot.hitch,Hitch,Steg\nknot.hitch,Hitch,Stek\n';
		const { taken, faults } = takenIn(stack, readReturned(csv));
		expect(taken).toEqual([{ key: 'knot.hitch', now: '', text: 'Stek' }]);
		expect(faults).toEqual([{ line: 3, message: expect.stringContaining('is there twice') }]);
	});

	test('languages go by other spellings of their codes; one that the game has not, and the main one, are refused', () => {
		const stack = stackOf(GAME);
		expect([tagOf('zh_cn'), tagOf('de'), tagOf('old tongue!')]).toEqual(['zh-CN', 'de', 'x-old-tongue']);
		const chinese = giveAs(give(stack, { to: 'zh_cn' }), 'xliff2');
		expect(chinese).toContain('trgLang="zh-CN"');
		expect(takenIn(stack, readReturned(chinese)).to).toBe('zh_cn');
		const refused = (csv: string, said?: string) => () => takenIn(stack, readReturned(csv, said));
		expect(refused('key,en,fr\na,b,c\n')).toThrow('It has English (en), Deutsch (de), Chinese (zh_cn).');
		expect(refused('key,de,en\na,b,c\n')).toThrow('the main language');
		expect(refused('key,en,fr,de\nknot.hitch,Hitch,Noeud,Stek\n', 'de')()).toMatchObject({
			taken: [{ key: 'knot.hitch', text: 'Stek' }]
		});
	});

	test('in XLIFF parts of a text are joined, proposals of programs are not taken, and what says nothing is told', () => {
		const stack = stackOf(GAME);
		const of = (unit: string) =>
			`<xliff version="1.2"><file target-language="de"><body>${unit}</body></file></xliff>`;
		const parts = of(
			'<trans-unit id="1" resname="knot.hitch"><source>Hitch</source><target><mrk mtype="seg">St</mrk><g id="1">ek</g></target><alt-trans><source>X</source><target>Y</target></alt-trans></trans-unit>'
		);
		expect(takenIn(stack, readReturned(parts)).taken).toEqual([{ key: 'knot.hitch', now: '', text: 'Stek' }]);
		const empty = of(
			'\n<trans-unit id="knot.hitch"><source>Hitch</source><target>St<x id="1"/>ek</target></trans-unit>'
		);
		expect(readReturned(empty)).toMatchObject({
			texts: [],
			faults: [{ line: 2, message: expect.stringContaining('“knot.hitch” is left out') }]
		});
		const two = `<xliff version="2.0" trgLang="de"><file><unit id="knot.hitch"><segment><source>Hi</source><target>St</target></segment><ignorable><source> </source><target> </target></ignorable><segment><source>tch</source><target>ek</target></segment></unit></file></xliff>`;
		expect(readReturned(two).texts[0]).toMatchObject({ source: 'Hi tch', target: 'St ek', finished: true });
	});

	test.each([
		['', 'The file is empty.'],
		['hello', 'neither PO nor XLIFF nor CSV'],
		['id,en,de\na,b,c\n', 'neither PO nor XLIFF nor CSV'],
		['key,en\na,b\n', 'the columns must be “key”'],
		['key,en,de\na,"b,c\n', 'Line 2'],
		['msgid ""\nmsgstr ""\n"X: y\\n"\n', 'no line “Language'],
		['msgid "a\nmsgstr ""\n', 'Line 1'],
		['<xliff version="2.0"><file>', 'not well-formed XML'],
		['<xliff version="2.0"><file></file></xliff>', 'which language it is translated into']
	])('“%s” is refused in words', (file, said) => {
		expect(() => readReturned(file)).toThrow(ExchangeFault);
		expect(() => readReturned(file)).toThrow(said);
	});

	test('bytes that are not UTF-8 are refused, UTF-16 with a mark is read', () => {
		expect(() => textOfReturned(new Uint8Array([0x6b, 0xe4, 0x6b]))).toThrow('not in UTF-8');
		expect(textOfReturned(new Uint8Array([0xff, 0xfe, 0x6b, 0, 0xe4, 0]))).toBe('kä');
		expect(textOfReturned(new TextEncoder().encode('kä'))).toBe('kä');
	});
});
