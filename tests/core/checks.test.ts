import { describe, expect, test } from 'vitest';
import { bytesOf, applyPlan } from '$core/change';
import { checkStack, countSnags, limitFault, repairsFor, typeFault } from '$core/checks';
import { planFor } from '$core/edits';
import { type TextFile } from '$core/text';
import { isEditable, buildStack, type Stack } from '$core/stack';
import { GUIDE, HEAD, stackOf } from './game';

const found = (stack: Stack) =>
	checkStack(stack).map(
		(snag) =>
			`${snag.severity} ${snag.rule} ${snag.file}:${snag.line} ${snag.record ?? ''}.${snag.field ?? ''}`
	);

/** My mod as text after a plan. */
function after(stack: Stack, plan: ReturnType<typeof planFor>): Record<string, string> {
	const files = new Map<string, TextFile>();
	for (const [path, { text }] of stack.mine!.files) if (text) files.set(path, text);
	return Object.fromEntries(
		[...applyPlan(files, plan)].map(([path, file]) => [path, new TextDecoder().decode(bytesOf(file))])
	);
}

const row = (...cells: string[]) => `${cells.join('\t')}\n`;
const NAMES = { 'words/en/m.properties': 'cart.x=X\n', 'words/fr/m.properties': 'cart.x=X\n' };

/** One fault for each rule, as a mod; with it the snag that must come of it, and nothing else. */
const FAULTS: [string, Record<string, string>, string][] = [
	[
		'a reference to nothing',
		{ 'carts.tsv': HEAD + row('hand', '20', 'oak_3', 'shoe', 'pony', '0', 'cart.hand') },
		'blocks missing-reference carts.tsv:2 hand.wheel'
	],
	[
		'a needed reference left empty',
		{ 'carts.tsv': HEAD + row('hand', '20', '', 'shoe', 'pony', '0', 'cart.hand') },
		'blocks missing-reference carts.tsv:2 hand.wheel'
	],
	[
		'a reference of the wrong kind',
		{ 'carts.tsv': HEAD + row('hand', '20', 'oak_2', 'oak_4', 'pony', '0', 'cart.hand') },
		'blocks wrong-kind carts.tsv:2 hand.brake'
	],
	[
		'a record without a name',
		{ 'carts.tsv': HEAD + row('x', '20', 'oak_2', '', '', '0', 'cart.x') },
		'blocks missing-text carts.tsv:2 x.Name'
	],
	[
		'a number beyond its limit',
		{ 'carts.tsv': HEAD + row('hand', '91', 'oak_2', 'shoe', 'pony', '0', 'cart.hand') },
		'blocks hard-limit carts.tsv:2 hand.load'
	],
	[
		'a word where a number stands',
		{ 'carts.tsv': HEAD + row('hand', 'much', 'oak_2', 'shoe', 'pony', '0', 'cart.hand') },
		'blocks wrong-type carts.tsv:2 hand.load'
	],
	[
		'a record without an id',
		{ 'brakes.xml': '<brakes>\n\t<brake grip="4" />\n</brakes>\n' },
		'blocks missing-id brakes.xml:2 #1.id'
	],
	[
		'the same id twice',
		{
			'carts.tsv': HEAD + row('x', '1', 'oak_2', '', '', '0', 'k') + row('x', '2', 'oak_2', '', '', '0', 'k'),
			...NAMES
		},
		'blocks duplicate-id carts.tsv:3 x.'
	],
	[
		'a record that says nothing new',
		{ 'carts.tsv': HEAD + row('hand', '20', 'oak_2', 'shoe', 'pony', '0', 'cart.hand') },
		'note same-as-base carts.tsv:2 hand.'
	],
	[
		'an id that is too long',
		{
			'carts.tsv': HEAD + row('much_too_long', '1', 'oak_2', '', '', '0', 'k'),
			'words/en/m.properties': 'cart.much_too_long=X\n',
			'words/fr/m.properties': 'cart.much_too_long=X\n'
		},
		'blocks too-many-rows carts.tsv:2 much_too_long.id'
	],
	[
		'a file that does not parse',
		{ 'brakes.xml': '<brakes>\n<brake id="shoe" grip="4">\n</brakes>\n' },
		'blocks unreadable-file brakes.xml:3 .'
	]
];

test('the base alone has no snag', () => expect(found(stackOf())).toEqual([]));

describe.each(FAULTS)('%s', (_, mine, snag) => {
	test('is found, with its place, and nothing else is', () => expect(found(stackOf(mine))).toEqual([snag]));

	test('is settled by its first repair, which brings no other about', () => {
		const stack = stackOf(mine);
		const [only] = checkStack(stack);
		const repairs = repairsFor(stack, only!);
		expect(repairs.length > 0).toBe(only!.repairable);
		for (const repair of repairs) {
			const left = found(stackOf(after(stack, planFor(stack, repair.intention, 'mill'))));
			// Going back to the base leaves a record that says nothing new: a note, never worse.
			expect(left.filter((line) => !line.startsWith('note same-as-base'))).toEqual([]);
		}
	});
});

test('too many rows, and two languages of which one lacks a text', () => {
	const rows = ['a', 'b', 'c'].map((id) => row(id, '1', 'oak_2', '', '', '0', 'k')).join('');
	const words = 'cart.a=A\ncart.b=B\ncart.c=C\n';
	const many = checkStack(
		stackOf({ 'carts.tsv': HEAD + rows, 'words/en/m.properties': words, 'words/fr/m.properties': words })
	);
	expect(many.map((snag) => snag.message)).toEqual([
		'There are 5 carts; the game has room for 4. It refuses the file from `c` on.'
	]);
	const half = checkStack(
		stackOf({
			'carts.tsv': HEAD + row('x', '1', 'oak_2', '', '', '0', 'k'),
			'words/en/m.properties': 'cart.x=X\n'
		})
	);
	expect(half[0]?.message).toContain('in Français');
});

test('messages say what is wrong, where, what the game would do and what may be meant', () => {
	const [snag] = checkStack(
		stackOf({ 'carts.tsv': HEAD + row('hand', '20', 'oak_3', 'shoe', 'pony', '0', 'cart.hand') })
	);
	expect(snag?.message).toBe(
		'`wheels.ini` has no wheel `oak_3`. The game skips cart Hand cart (line 2). Did you mean `oak_2`?'
	);
	expect(countSnags([snag!])).toEqual({ blocks: 1, warns: 0, note: 0 });
});

test('faults of a value are told while it is typed', () => {
	const about = { type: 'whole' as const, required: true, unused: false, min: 0, max: 9 };
	expect([typeFault(about, ''), typeFault(about, '1.5'), typeFault(about, '5')]).toEqual([
		'is empty',
		'must be a whole number',
		null
	]);
	expect([
		limitFault(about, '-1')?.clamped,
		limitFault(about, '12')?.clamped,
		limitFault(about, '9')
	]).toEqual([0, 9, null]);
});

test('a file that no layer has is warned of, with the one that may be meant; those in any layer are there', () => {
	const guide = GUIDE.replace(
		'brake: { title: Brake, files: [brakes.xml], key: id, merge: record }',
		'brake: { title: Brake, files: [brakes.xml], key: id, merge: record, fields: { grip: { title: Picture, type: file } } }'
	);
	const brakes =
		'<brakes>\n\t<brake id="shoe" grip="plane.txt" />\n\t<brake id="drum" grip="plain.txt" />\n</brakes>\n';
	const stack = stackOf({ 'brakes.xml': brakes }, {}, guide);
	const [snag, ...others] = checkStack(stack);
	expect(others).toEqual([]);
	expect(snag).toMatchObject({
		rule: 'missing-file',
		severity: 'warns',
		record: 'shoe',
		field: 'grip',
		line: 2
	});
	expect(snag!.message).toContain('Did you mean `plain.txt`?');
	const [repair] = repairsFor(stack, snag!);
	expect(after(stack, planFor(stack, repair!.intention, 'm'))['brakes.xml']).toBe(
		brakes.replace('plane', 'plain')
	);
});

test('a snag is at the line of its field, in my mod and in somebody else’s', () => {
	const brakes = '<brakes>\n\t<brake id="shoe"\n\t\tgrip="40" />\n</brakes>\n';
	const guide = GUIDE.replace(
		'brake: { title: Brake, files: [brakes.xml], key: id, merge: record }',
		'brake: { title: Brake, files: [brakes.xml], key: id, merge: record, fields: { grip: { title: Grip, type: whole, max: 9 } } }'
	);
	const stack = stackOf({ 'brakes.xml': brakes }, {}, guide);
	for (const owner of ['me', 'others'] as const) {
		const layers = stack.layers.map((layer) => (isEditable(layer) ? { ...layer, owner } : layer));
		const [snag] = checkStack(buildStack(layers, stack.guide, stack.pool));
		expect([snag?.rule, snag?.file, snag?.line]).toEqual(['hard-limit', 'brakes.xml', 3]);
	}
});
