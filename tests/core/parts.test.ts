// Files that hold records of several kinds, and formats that are detected from what is in them.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack, repairsFor, typeFault } from '$core/checks';
import { applyPlan, bytesOf, invertPlan, type Files, type Plan } from '$core/change';
import { NotPossible, planFor, stackAfter } from '$core/edits';
import { readDocument, tellFormats } from '$core/formats';
import { claimAt, claimsOf, EMPTY_GUIDE, parseGuide, pathMatcher, spokenPath } from '$core/guide';
import { proposalsFor } from '$core/infer';
import { buildLinks, linksFrom } from '$core/links';
import { assembleStack } from '$core/model';
import { switched } from '$core/numbers';
import { valueOf, type Stack } from '$core/stack';

const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stackOf = (
	game: Record<string, string>,
	mine: Record<string, string> = {},
	guide = EMPTY_GUIDE
): Stack =>
	assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		guide
	);

/** Boats, winches and lights mixed in one list, as one would keep a store-room. */
function store(seed: number, count: number): object[] {
	return Array.from({ length: count }, (_, nth) => {
		const at = nth * 3 + seed;
		return [
			{ sort: 'boat', id: `hull_${at}`, seats: 2 + (at % 9), winch: `drum_${(at % count) * 3 + seed + 1}` },
			{ sort: 'winch', id: `drum_${at + 1}`, pull: 10 * (1 + (at % 7)), rope: 40 + at },
			{ sort: 'light', id: `hull_${at}`, colour: at % 2 ? 'red' : 'green', reach: at / 4 }
		];
	}).flat();
}

const text = (list: object[]) => `${JSON.stringify(list, null, '\t')}\n`;

test('a new file of mine that is mostly faults is never taken for a text in silence', () => {
	const hulls = `${Array.from({ length: 9 }, (_, nth) => `[hull_${nth}]\nseats = ${nth}`).join('\n')}\n`;
	const mine = {
		'settings/odd.ini': 'this is no setting\nnor is this\n[half\nseats = 1\nand nothing here\n'
	};
	const snags = checkStack(stackOf({ 'data/hulls.ini': hulls }, mine));
	expect(snags.map(({ rule, severity, file, line }) => [rule, severity, file, line])).toEqual(
		[1, 2, 3, 5].map((line) => ['unreadable-file', 'blocks', 'settings/odd.ini', line])
	);
});

describe('a list of several kinds', () => {
	const files = {
		'data/aft/one.json': text(store(1, 12)),
		'data/two.json': text(store(100, 12)),
		'data/fore/three.json': text(store(200, 12))
	};

	test('is told apart by the field that says what else is there, across files', () => {
		const { guide, tables } = stackOf(files);
		expect(Object.keys(guide.kinds).sort()).toEqual(['boat', 'light', 'winch']);
		for (const [kind, { where, key, inferred }] of Object.entries(guide.kinds))
			expect([where, key, inferred]).toEqual([{ field: 'sort', is: [kind] }, 'id', true]);
		expect([...tables.values()].map(({ count }) => count)).toEqual([36, 36, 36]);
		expect(guide.kinds.boat!.fields.winch!.reference!.kinds).toEqual(['winch']);
	});

	test('has ids that are unique only among their kind, and a name means the record of the right one', () => {
		const stack = stackOf(files);
		const [boat, light] = ['boat', 'light'].map((kind) => stack.tables.get(kind)!.byId.get('hull_1')!);
		expect(valueOf(boat!, 'seats')).toBe('3');
		expect(valueOf(light!, 'colour')).toBe('red');
		const [link] = linksFrom(buildLinks(stack), boat!);
		expect(link?.to?.kind).toBe('winch');
	});

	test('two tables with words of their own in a field of one name are two kinds, not one for each word', () => {
		const quays = Array.from({ length: 60 }, (_, nth) => ({
			code: `q${nth}`,
			shore: ['EA', 'WE', 'NO'][nth % 3],
			deep: nth,
			// Some lack it, of whatever shore.
			...(nth % 7 === 3 ? {} : { lamps: nth % 4 })
		}));
		const isles = Array.from({ length: 40 }, (_, nth) => ({
			isle: `i${nth}`,
			shore: ['East', 'West', 'North'][nth % 3]
		}));
		const { tables, guide } = stackOf({ 'quays.json': text(quays), 'isles.json': text(isles) });
		expect([...tables].map(([kind, { count }]) => [kind, count]).sort()).toEqual([
			['isles', 40],
			['quays', 60]
		]);
		expect(guide.kinds.quays!.where).toBeUndefined();
		// What tells the records of one file apart does so beside others still.
		const mixed = stackOf({ 'isles.json': text(isles), 'store.json': text(store(1, 12)) });
		expect([...mixed.tables.keys()].sort()).toEqual(['boat', 'isles', 'light', 'winch']);
	});

	test('a record of none of them is not taken for one, and not lost', () => {
		const guide = stackOf(files).guide;
		const odd = [...store(1, 4), { sort: 'flag', id: 'ensign', cloth: 'wool' }];
		const stack = stackOf(files, { 'data/new.json': text(odd) }, guide);
		expect(stack.mine!.files.get('data/new.json')!.facts!.count).toBe(odd.length);
		for (const kind of ['boat', 'winch', 'light'])
			expect(stack.tables.get(kind)!.byId.has('ensign')).toBe(false);
		const { parts } = stack.mine!.files.get('data/new.json')!.facts!;
		expect(claimAt(guide, 'data/new.json', parts, odd.length - 1)).toBeNull();
		expect(claimAt(guide, 'data/new.json', parts, 0)?.kind).toBe('boat');
		expect(claimsOf(guide, 'data/new.json')).toHaveLength(3);
	});

	test('edits of one kind leave the records of the others as they are, and every plan has its inverse', () => {
		const base = stackOf(files);
		const edit = fc.oneof(
			fc.record({ do: fc.constant('set'), field: fc.constant('seats'), value: fc.nat(99).map(String) }),
			fc.record({ do: fc.constant('copy'), newId: fc.stringMatching(/^new_[a-z]{4}$/) }),
			fc.record({ do: fc.constant('rename'), newId: fc.stringMatching(/^other_[a-z]{4}$/) })
		);
		fc.assert(
			fc.property(fc.nat(35), edit, (nth, change) => {
				const id = base.tables.get('boat')!.record(nth).id;
				let made: Plan;
				try {
					made = planFor(base, { kind: 'boat', id, ...change } as never, 'mine');
				} catch (fault) {
					// A value that is there already is no change.
					expect(fault).toBeInstanceOf(NotPossible);
					return;
				}
				const before: Files = new Map();
				const next = stackAfter(base, made);
				for (const kind of ['winch', 'light']) {
					// Records of a file that my mod has are after the others.
					const say = (stack: Stack) =>
						stack.tables
							.get(kind)!
							.records.map(({ id: other, values }) =>
								JSON.stringify([other, [...values].map(([path, { value }]) => [path, value])])
							)
							.sort();
					expect(say(next)).toEqual(say(base));
				}
				const count = base.tables.get('boat')!.count + (change.do === 'copy' ? 1 : 0);
				expect(next.tables.get('boat')!.count).toBe(count);
				expect(applyPlan(applyPlan(before, made), invertPlan(before, made)).size).toBe(0);
			})
		);
	});
});

test('lists beside each other in one file are kinds of their own, and what wraps them is none', () => {
	const { guide, tables } = stackOf({
		'store.json': JSON.stringify({
			version: 3,
			boats: store(1, 12).filter((_, nth) => nth % 3 === 0),
			winches: store(1, 12).filter((_, nth) => nth % 3 === 1)
		})
	});
	expect(Object.values(guide.kinds).map(({ at }) => at)).toEqual(['boats', 'winches']);
	expect([...tables.values()].map(({ count }) => count)).toEqual([12, 12]);
});

test('trees of the same names and ids are worlds apart', () => {
	const tree = (boats: number) => ({
		'boats.json': Object.fromEntries(
			Array.from({ length: 12 }, (_, nth) => [`hull_${nth}`, { seats: nth + boats, crew: `hand_${nth}` }])
		),
		'crew.json': Object.fromEntries(
			Array.from({ length: 12 }, (_, nth) => [`hand_${nth}`, { pay: nth * boats, home: `quay ${nth}` }])
		)
	});
	const files = Object.fromEntries(
		['calm', 'storm'].flatMap((world, nth) =>
			Object.entries(tree(nth + 2)).map(([name, data]) => [`${world}/${name}`, JSON.stringify(data)])
		)
	);
	const { tables } = stackOf(files);
	expect([...tables.values()].map(({ count }) => count)).toEqual([12, 12, 12, 12]);
});

test('of kinds with the same ids in two worlds those of the own one are meant, where another field tells the kind', () => {
	const names = ['oak', 'elm', 'ash', 'fir', 'yew', 'larch', 'birch', 'alder'];
	const tree = (nth: number) => ({
		'hulls.json': names.map((name) => ({ id: `${name}_hull`, seats: nth + name.length })),
		'sails.json': names.map((name) => ({ id: `${name}_sail`, area: nth * 3 + name.length })),
		'wants.json': names.map((name, at) => ({
			id: `${name}_want`,
			sort: at % 2 ? 'hull' : 'sail',
			what: `${names[(at + 3 * nth) % 8]}_${at % 2 ? 'hull' : 'sail'}`
		}))
	});
	const { guide } = stackOf(
		Object.fromEntries(
			['calm', 'storm'].flatMap((world, nth) =>
				Object.entries(tree(nth + 2)).map(([name, data]) => [`${world}/${name}`, JSON.stringify(data)])
			)
		)
	);
	const wants = Object.values(guide.kinds).filter(({ files }) => files[0]!.endsWith('wants.json'));
	expect(wants).toHaveLength(2);
	for (const { files, fields } of wants) {
		const meant = fields.what!.reference!.kinds.map((kind) => guide.kinds[kind]!.files[0]!.split('/')[0]);
		expect(meant).toEqual([files[0]!.split('/')[0], files[0]!.split('/')[0]]);
	}
});

test('a field that is different in each record does not tell which kind another one names', () => {
	const names = [
		'oak',
		'elm',
		'ash',
		'fir',
		'yew',
		'larch',
		'birch',
		'alder',
		'hazel',
		'holly',
		'rowan',
		'beech'
	];
	const { guide } = stackOf({
		'hulls.json': JSON.stringify(names.map((name, at) => ({ id: `${name}_hull`, seats: at }))),
		'sails.json': JSON.stringify(names.map((name, at) => ({ id: `${name}_sail`, area: at * 3 }))),
		'loads.json': JSON.stringify(
			names.map((name, at) => ({
				id: `${name}_load`,
				mark: `mark ${at}`,
				pair: [
					`${names[(at * 5) % 12]}_${at % 2 ? 'hull' : 'sail'}`,
					`${names[(at * 7) % 12]}_${at % 3 ? 'sail' : 'hull'}`
				],
				of: `${names[(at * 5 + 1) % 12]}_${at % 2 ? 'hull' : 'sail'}`
			}))
		)
	});
	const { fields } = guide.kinds.loads!;
	expect(fields.of!.reference).toMatchObject({
		kinds: expect.arrayContaining(['hulls', 'sails']) as string[]
	});
	expect(fields.of!.reference!.by).toBeUndefined();
	// Nor do a few pairs of different values say that each place of a list has a meaning.
	expect(Object.keys(fields).filter((path) => path.startsWith('pair'))).toEqual(['pair[]']);
	expect(fields['pair[]']!.reference!.by).toBeUndefined();
});

test('records may be named by another field than the one that names them to others', () => {
	const boats = Array.from({ length: 20 }, (_, nth) => `${nth + 1}\tGULL_${nth}\tgull ${nth}`);
	const calls = Array.from({ length: 20 }, (_, nth) => `${nth + 100}\tGULL_${(nth * 7) % 20}`);
	const stack = stackOf({
		'boats.tsv': `id\tcode\tname\n${boats.join('\n')}\n`,
		'calls.tsv': `id\tboat\n${calls.join('\n')}\n`
	});
	const reference = stack.guide.kinds.calls!.fields.boat!.reference!;
	expect([reference.kinds, reference.key]).toEqual([['boats'], 'code']);
	const [link] = linksFrom(buildLinks(stack), stack.tables.get('calls')!.byId.get('101')!);
	expect(link?.to?.id).toBe('8');
});

test('a path of the guide may leave names open and mean one place of a list', () => {
	const fields = { 'wants.*': {}, 'crew[][0]': {}, 'marks[]': {} } as never;
	expect(spokenPath({ fields }, 'wants.lamp')).toBe('wants.*');
	expect(spokenPath({ fields }, 'crew[3][0]')).toBe('crew[][0]');
	expect(spokenPath({ fields }, 'crew[3][1]')).toBeNull();
	expect(spokenPath({ fields }, 'marks[2]')).toBe('marks[]');
	expect(pathMatcher('a.*[].b')('a.x[4].b')).toBe(true);
	expect(pathMatcher('a.*[].b')('a.x.y[4].b')).toBe(false);
});

test('of the patterns that mean a path the first is spoken of, as when all are tried', () => {
	const part = fc.constantFrom('a', 'b', 'ab', 'a b');
	const step = fc.oneof(part, fc.constantFrom('*', 'a[]', '*[]', 'b[1]', 'a[][0]', '[]'));
	const pattern = fc
		.tuple(fc.array(step, { minLength: 1, maxLength: 4 }), fc.boolean())
		.map(([steps, open]) => steps.join('.') + (open ? '.**' : ''));
	const path = fc
		.array(fc.oneof(part, fc.constantFrom('a[0]', 'b[1]', 'a[2][0]', '[1]')), { minLength: 1, maxLength: 5 })
		.map((steps) => steps.join('.'));
	fc.assert(
		fc.property(
			fc.uniqueArray(pattern, { maxLength: 12 }),
			fc.array(path, { maxLength: 12 }),
			(patterns, paths) => {
				const fields = Object.fromEntries(
					patterns.map((one) => [one, { required: false, unused: false } as const])
				);
				for (const one of paths) {
					const plain = one.replace(/\[\d+\]/g, '[]');
					const exact = [one, plain].find((name) => patterns.includes(name));
					const first = patterns
						.filter((name) => /\*|\[\d/.test(name))
						.find((name) => pathMatcher(name)(one));
					expect(spokenPath({ fields }, one)).toBe(exact ?? first ?? null);
				}
			}
		),
		{ numRuns: 1000 }
	);
});

describe('the format of a text is told from what is in it', () => {
	const told = (lines: string[]) => tellFormats(`${lines.join('\n')}\n`)[0]?.format;
	const many = (line: (nth: number) => string[]) => Array.from({ length: 6 }, (_, nth) => line(nth)).flat();
	test.each<[string | undefined, string[]]>([
		[
			'sections',
			many((nth) => ['[tug]', `id = "tug_${nth}"`, `tow = ${nth}`, 'about = _("one', 'two")', ''])
		],
		['tagged', many((nth) => [`N:${nth}:Tug ${nth}`, `W:${nth}:4`, 'D:of oak: and iron', ''])],
		['indented', many((nth) => [`tug "tug ${nth}"`, `\ttow ${nth}`, '\tlamp', '\t\treach 4', ''])],
		[
			'parens',
			['; tugs', ...many((nth) => [`(tug tug_${nth}`, `\t(tow ${nth}) ; tons`, '\t(lamps red green))'])]
		],
		['parens', ['(fleet', ...many((nth) => [`  (:name "Tug ${nth}" :tow ${nth} :crew (mate cook))`]), ')']],
		[
			undefined,
			['(define (tow tug)', '  (if (> (weight tug) 3)', '    (begin (pull tug) (rest tug))', '    #f))']
		],
		[
			undefined,
			['(All of this was found on a slip of paper, and nobody knows whose it was.)', '', 'It said no more.']
		],
		['stanzas', many((nth) => [`Name: tug_${nth}`, `Tow: ${nth}`, ''])],
		['tsv', ['id\ttow', ...many((nth) => [`tug_${nth}\t${nth}`])]],
		['properties', many((nth) => [`tug.tug_${nth}.name = Tug ${nth}`])],
		['json', ['[', '{"id": "tug"}', ']']],
		[
			undefined,
			[
				'The boats of this bay',
				'',
				'Some are old: the oldest was built of oak.',
				'Others are of iron, and [some] say = nothing.',
				'',
				'Note: this is no table, and it has no end.'
			]
		],
		[undefined, ['# nothing but a word above the line', '']]
	])('%s', (format, lines) => expect(told(lines)).toBe(format));

	test('and is read and edited so, whatever its file is called', () => {
		const rules = many((nth) => ['[tug]', `id = "tug_${nth}"`, `tow = ${nth}`, '']).join('\n');
		const stack = stackOf({ 'data/tugs.rules': rules });
		const { kinds } = stack.guide;
		expect([kinds.tug?.written, kinds.tug?.element, kinds.tug?.key]).toEqual([
			{ format: 'sections' },
			'tug',
			'id'
		]);
		const made = planFor(stack, { do: 'set', kind: 'tug', id: 'tug_3', field: 'tow', value: '9' }, 'mine');
		const file = applyPlan(new Map(), made).get('data/tugs.rules')!;
		expect(new TextDecoder().decode(bytesOf(file))).toBe(rules.replace('tow = 3', 'tow = 9'));
	});

	test('lists in parentheses are kinds with references, also where each has a file of its own', () => {
		const tugs = many((nth) => [
			`(tug tug_${nth}`,
			`  (shown (_ "Tug ${nth}"))`,
			`  (steam ${nth % 2 ? '#t' : '#f'})`,
			`  (mates tug_${(nth + 1) % 6} tug_${(nth + 2) % 6})`,
			`  (winch (drum iron) (pull ${nth * 3}.5)))`
		]).join('\n');
		const piers = Object.fromEntries(
			Array.from({ length: 6 }, (_, nth) => [
				`piers/${nth}.scm`,
				`(pier\n  (id pier_${nth})\n  (first tug_${nth})\n  (lamps ${nth}))\n`
			])
		);
		const stack = stackOf({ 'data/tugs.scm': tugs, ...piers });
		const { tug, ...others } = stack.guide.kinds;
		expect(tug!.fields['mates[]']!.reference!.kinds).toEqual(['tug']);
		expect(tug!.fields.steam!.type).toBe('switch');
		expect(stack.tables.get('tug')!.byId.get('tug_3')!.value('shown')).toBe('Tug 3');
		const [pier] = Object.values(others);
		expect(Object.keys(others)).toHaveLength(1);
		expect(pier!.fields.first!.reference!.kinds).toEqual(['tug']);
		const plan = planFor(
			stack,
			{ do: 'set', kind: 'tug', id: 'tug_3', field: 'shown', value: 'The "Old" Tug' },
			'mine'
		);
		expect(new TextDecoder().decode(bytesOf(applyPlan(new Map(), plan).get('data/tugs.scm')!))).toBe(
			tugs.replace('"Tug 3"', '"The \\"Old\\" Tug"')
		);
	});

	test('a mark of comments inside a word of a list is part of it, and a text without an end is told', () => {
		const doc = readDocument(
			'a',
			'(tug one (mark a#|b) (tow 3))\n; the other\n(tug two (mark c) (tow 4))\n',
			{
				format: 'parens'
			}
		)!;
		expect(doc.records.map(({ id, remark }) => [id, remark])).toEqual([
			['one', undefined],
			['two', 'the other']
		]);
		expect(doc.records[0]!.fields.map(({ path, value }) => [path, value])).toEqual([
			['id', 'one'],
			['mark', 'a#|b'],
			['tow', '3']
		]);
		const problemsOf = (text: string) => readDocument('a', text, { format: 'parens' })!.problems.length;
		expect(problemsOf('(tug one (said "a\\\\"))')).toBe(0);
		// The quote, and each of the lists around it.
		expect(problemsOf('(tug one (said "a\\"))')).toBe(3);
		expect(problemsOf(`(tug one (said "${'a'.repeat(20_000_000)}`)).toBe(3);
		expect(switched('#f')).toEqual({ on: false, other: '#t' });
		expect(typeFault({ type: 'switch', required: false } as never, '#t')).toBeNull();
	});

	test('what a way of reading gives is offered once, whoever said it', () => {
		const tugs = many((nth) => [`(tug tug_${nth}`, `\t(tow ${nth})`, '\t(lamps red green))']).join('\n');
		const offered = proposalsFor(tugs, [{ format: 'parens', at: '' }]).map(({ how }) => how);
		expect(offered[0]).toEqual({ format: 'parens', at: '' });
		expect(offered.filter(({ format }) => format === 'parens')).toHaveLength(1);
		expect(offered.length).toBeGreaterThan(1);
	});

	test('what cannot be read of it is a warning at most', () => {
		const rules = many((nth) => ['[tug]', `id = "tug_${nth}"`, `tow = ${nth}`, '']);
		const broken = rules.map((line) => (line === 'id = "tug_2"' ? 'id = "tug_2' : line));
		const stack = stackOf({ 'tugs.rules': rules.join('\n') }, { 'tugs.rules': broken.join('\n') });
		const snags = checkStack(stack, buildLinks(stack)).filter(({ rule }) => rule === 'unreadable-file');
		expect(snags.map(({ line, severity }) => [line, severity])).toEqual([[10, 'warns']]);
	});
});

test('files of pairs of lines are told from each other, and a letter beside them is none', () => {
	const lines = (word: string) =>
		Array.from({ length: 14 }, (_, nth) => `Tug number ${nth}\n${word} ${nth}`).join('\n');
	const letter = Array.from(
		{ length: 28 },
		(_, nth) => `On day ${nth} the wind rose${nth % 3 ? ', and fell' : ''}.`
	).join('\n');
	const { guide, tables } = stackOf({
		'words/de.pairs': lines('Schlepper'),
		'words/sv.pairs': lines('Bogser'),
		'words/letter.pairs': letter
	});
	expect([guide.words?.kind, Object.keys(guide.words?.languages ?? {})]).toEqual(['text', ['de', 'sv']]);
	expect(guide.kinds.text!.written?.layout?.shape).toBe('groups');
	expect(Object.keys(guide.kinds)).toEqual(['text']);
	expect(valueOf(tables.get('text')!.byId.get('Tug number 3')!, 'sv')).toBe('Bogser 3');
});

test('programs that have every other line in common are no pairs of lines', () => {
	const program = (word: string) =>
		Array.from(
			{ length: 14 },
			(_, nth) => `\t/** How far tug ${nth} goes. */\n\treadonly ${word}_${nth}: number;`
		).join('\n');
	const game = { 'lib/near.d.ts': program('near'), 'lib/far.d.ts': program('far') };
	expect(Object.keys(stackOf(game).guide.kinds)).toEqual([]);
	const texts = Object.fromEntries(
		Object.entries(game).map(([path, text]) => [path, text.replace(/\/\*\* | \*\/|;/g, '')])
	);
	expect(Object.keys(stackOf(texts).guide.kinds)).not.toEqual([]);
});

test('a file that people claim for one kind is of that kind with all that is in it', () => {
	const guide = parseGuide('guide: 1\nkinds:\n  thing: { title: Thing, files: [store.xml], key: id }\n');
	const words = ['boat', 'winch'].flatMap((word) =>
		Array.from({ length: 3 }, (_, nth) => `<${word} id="${word}_${nth}" tow="${nth}"/>`)
	);
	const { tables } = stackOf({ 'store.xml': `<all>\n${words.join('\n')}\n</all>\n` }, {}, guide);
	expect([...tables].map(([kind, { count }]) => [kind, count])).toEqual([['thing', 6]]);
});

test('where records are named by another field, that is what is offered in place of what names nothing', () => {
	const guide = parseGuide(
		'guide: 1\nkinds:\n  boat: { title: Boat, files: [boats.tsv], key: id }\n  call: { title: Call, files: [calls.tsv], key: id, fields: { boat: { type: reference, reference: { kinds: [boat], key: code } } } }\n'
	);
	const boats = 'id\tcode\n1\tGULL_ONE\n2\tTERN_TWO\n';
	const stack = stackOf(
		{ 'boats.tsv': boats, 'calls.tsv': 'id\tboat\na\tGULL_ONE\n' },
		{ 'calls.tsv': 'id\tboat\na\tGULL_OME\n' },
		guide
	);
	const [snag] = checkStack(stack).filter(({ rule }) => rule === 'missing-reference');
	expect(snag?.candidates).toEqual(['GULL_ONE']);
	expect(repairsFor(stack, snag!)[0]?.intention).toMatchObject({ field: 'boat', value: 'GULL_ONE' });
});
