import fc from 'fast-check';
import iconv from 'iconv-lite';
import { describe, expect, test } from 'vitest';
import { bytesOf, applyPlan, invertPlan, type Plan, type Files } from '$core/change';
import { newValues, NotPossible, planFor, saidByLayer, StaleValue, type Intention } from '$core/edits';
import { EditRefused } from '$core/formats';
import { decode, type TextFile } from '$core/text';
import { EMPTY_GUIDE, parseGuide } from '$core/guide';
import { baseValueOf, nameOf, valueOf, type Stack } from '$core/stack';
import { assembleStack } from '$core/model';
import { GUIDE, HEAD, stackOf } from './game';

const files = (stack: Stack) => {
	const map = new Map<string, TextFile>();
	for (const [path, { text }] of stack.mine!.files) if (text) map.set(path, text);
	return map;
};
const texts = (map: Files) =>
	Object.fromEntries(
		[...map]
			.map(([path, file]) => [path, new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytesOf(file))])
			.sort()
	);
const after = (stack: Stack, plan: Plan) => texts(applyPlan(files(stack), plan));
const plan = (stack: Stack, intention: Intention) => planFor(stack, intention, 'mill');

test('several values of several records: each record is taken once, in one file', () => {
	const stack = stackOf();
	const made = plan(stack, {
		do: 'cells',
		kind: 'cart',
		cells: ['hand', 'pony'].flatMap((id) => [
			{ id, field: 'load', value: '33' },
			{ id, field: 'mark', value: '1' },
			{ id, field: 'wheel', value: 'oak_4' }
		])
	});
	expect(after(stack, made)).toEqual({
		'carts.tsv': `${HEAD}hand\t33\toak_4\tshoe\tpony\t1\tcart.hand\npony\t33\toak_4\t\t\t1\tcart.pony\n`
	});
	expect(made.values).toHaveLength(5);
	expect(made.title).toBe('Set 5 values of 2 carts');
});

describe('set', () => {
	test('takes just the record into a file of its own, with the header, and changes one value', () => {
		const stack = stackOf();
		const made = plan(stack, { do: 'set', kind: 'cart', id: 'pony', field: 'load', value: '70' });
		expect(after(stack, made)).toEqual({ 'carts.tsv': `${HEAD}pony\t70\toak_4\t\t\t5\tcart.pony\n` });
		expect(made.values).toMatchObject([
			{ id: 'pony', name: 'Pony cart', field: 'load', before: '60', after: '70' }
		]);
		expect(made.title).toBe('Set load of Pony cart: 60 to 70');
		expect(made.notes[0]).toContain('record by record');
	});

	test('writes a number as the base writes it, says what its style cannot hold, and leaves names as they are typed', () => {
		const guide = GUIDE.replace(
			'wheel: { title: Wheel, files: [wheels.ini], merge: record }',
			`wheel:
    title: Wheel
    files: [wheels.ini]
    merge: record
    fields: { size: { type: decimal }, code: { type: text } }`
		);
		const stack = stackOf({}, { 'wheels.ini': '[oak_2]\nsize = 2.50\ncode = 007\n' }, guide);
		const set = (field: string, value: string) =>
			plan(stack, { do: 'set', kind: 'wheel', id: 'oak_2', field, value });
		expect(after(stack, set('size', '3'))).toEqual({ 'wheels.ini': '[oak_2]\nsize = 3.00\ncode = 007\n' });
		expect(set('size', '3').values[0]).toMatchObject({ before: '2.50', after: '3.00' });
		const longer = set('size', '3.125');
		expect(longer.notes.join(' ')).toContain('3.125 has 3 decimals; the file writes 2 here.');
		expect(after(stack, longer)['wheels.ini']).toContain('size = 3.125');
		expect(after(stack, set('code', '12'))['wheels.ini']).toContain('code = 12\n');
	});

	test('a file of my mod is in the encoding of the base’s, however few letters it has, and refuses what that cannot hold', () => {
		const stack = assembleStack(
			[
				{
					id: 'base',
					title: 'Base',
					owner: 'game',
					files: new Map([
						['a.ini', new Uint8Array(iconv.encode('[one]\nx = 灯台の島に船が入る\n', 'shift_jis'))]
					])
				},
				{
					id: 'mine',
					title: 'My mod',
					owner: 'me',
					files: new Map([['a.ini', new Uint8Array(iconv.encode('[one]\nx = abc\n', 'shift_jis'))]])
				}
			],
			EMPTY_GUIDE
		);
		expect(stack.mine!.files.get('a.ini')!.text!.encoding).toBe('shift_jis');
		// Another program saved it as UTF-8: its letters tell.
		expect(decode(new TextEncoder().encode('x = 灯台'), undefined, 'shift_jis').encoding).toBe('utf-8');
		const set = (value: string) => plan(stack, { do: 'set', kind: 'a', id: 'one', field: 'x', value });
		const file = applyPlan(files(stack), set('港')).get('a.ini')!;
		expect(iconv.decode(Buffer.from(bytesOf(file)), 'shift_jis')).toBe('[one]\nx = 港\n');
		expect(() => set('ä')).toThrow(/“ä” \(line 2, column 5\) cannot be written in shift_jis/);
	});

	test('keeps commentary, marks and line ends of the file it takes from', () => {
		const stack = stackOf(
			{},
			{ 'wheels.ini': '\ufeff[oak_2]\r\nsize = 2\r\n\r\n; the strong one\r\n[oak_4]\r\nsize = 4\r\n' }
		);
		expect(
			after(stack, plan(stack, { do: 'set', kind: 'wheel', id: 'oak_4', field: 'size', value: '5' }))
		).toEqual({
			'wheels.ini': '\ufeff; the strong one\r\n[oak_4]\r\nsize = 5\r\n'
		});
	});

	test('writes a text into my own file, and over my own text when there is one', () => {
		const stack = stackOf();
		const first = after(
			stack,
			plan(stack, { do: 'set', kind: 'text', id: 'cart.hand', field: 'fr', value: 'Brouette' })
		);
		expect(first).toEqual({ 'words/fr/mill.properties': 'cart.hand=Brouette\n' });
		const next = stackOf(first);
		expect(nameOf(next, next.tables.get('cart')!.byId.get('hand')!)).toBe('Hand cart');
		expect(
			after(next, plan(next, { do: 'set', kind: 'text', id: 'cart.hand', field: 'fr', value: 'Diable' }))
		).toEqual({ 'words/fr/mill.properties': 'cart.hand=Diable\n' });
	});

	test('copies the whole file where the game reads it whole, and says so', () => {
		const stack = stackOf();
		const made = plan(stack, { do: 'set', kind: 'about', id: 'about', field: 'title', value: 'Windmill' });
		expect(after(stack, made)).toEqual({ 'about.json': '{ "title": "Windmill", "version": "2.1" }\n' });
		expect(made.notes[0]).toContain('whole file');
	});

	test('is refused when the value on the screen is no longer the one in the file', () => {
		const intention = { do: 'set', kind: 'cart', id: 'pony', field: 'load', value: '70' } as const;
		expect(() => plan(stackOf(), { ...intention, expected: '61' })).toThrow(StaleValue);
		expect(() => plan(stackOf(), { ...intention, expected: '60' })).not.toThrow();
		expect(() => plan(stackOf(), { ...intention, value: '60', id: 'none' })).toThrow(NotPossible);
		expect(() => plan(stackOf(), { ...intention, value: 'a\tb' })).toThrow(EditRefused);
	});
});

test('a copy gets its id, what is derived from it, and its texts', () => {
	const stack = stackOf();
	const made = plan(stack, {
		do: 'copy',
		kind: 'cart',
		id: 'hand',
		newId: 'dog',
		names: { en: 'Dog cart' }
	});
	expect(after(stack, made)).toEqual({
		'carts.tsv': `${HEAD}dog\t20\toak_2\tshoe\tpony\t0\tcart.dog\n`,
		'words/en/mill.properties': 'cart.dog=Dog cart\n',
		'words/fr/mill.properties': 'cart.dog=Charrette à bras\n'
	});
	expect(made.values.find((value) => value.field === 'key')?.follows).toBe('follows from the id');
	for (const newId of ['pony', 'PONY', 'far_too_long', 'a b'])
		expect(() => plan(stack, { do: 'copy', kind: 'cart', id: 'hand', newId, names: {} })).toThrow(
			NotPossible
		);
});

test('values become what a layer says, also where a whole file of mine hides what it says', () => {
	const whole = GUIDE.replace(
		'wheel: { title: Wheel, files: [wheels.ini], merge: record }',
		'wheel: { title: Wheel, files: [wheels.ini], merge: file }'
	);
	const mine = { 'wheels.ini': '[oak_2]\nsize = 9\n\n[oak_4]\nsize = 9\n\n[elm]\nsize = 9\n' };
	for (const guide of [GUIDE, whole]) {
		const stack = stackOf(mine, {}, guide);
		const wheels = stack.tables.get('wheel')!.records;
		const values = (layer: number) =>
			newValues(
				wheels,
				'size',
				{ by: 'layer', layer: stack.layers[layer]!.id },
				{
					whole: true,
					said: saidByLayer(stack, stack.layers[layer]!)
				}
			).map(({ record, after, fault }) => [record.id, fault ? 'says nothing' : after]);
		expect(values(0)).toEqual([
			['oak_2', '2'],
			['oak_4', '4'],
			['elm', 'says nothing']
		]);
		expect(values(1).map(([, size]) => size)).toEqual(['9', '9', '9']);
	}
});

test('taking, then giving back, leaves no file behind', () => {
	const stack = stackOf();
	const taken = after(stack, plan(stack, { do: 'take', kind: 'brake', id: 'drum' }));
	expect(taken).toEqual({ 'brakes.xml': '<brakes>\n\t<brake id="drum" grip="8" />\n</brakes>\n' });
	const next = stackOf(taken);
	expect(after(next, plan(next, { do: 'remove', kind: 'brake', id: 'drum' }))).toEqual({});
	expect(() => plan(stack, { do: 'remove', kind: 'brake', id: 'drum' })).toThrow('never edited');
});

test('base and mine are told apart, value by value', () => {
	const stack = stackOf({ 'carts.tsv': `${HEAD}hand\t25\toak_2\tdrum\tpony\t0\tcart.hand\n` });
	const hand = stack.tables.get('cart')!.byId.get('hand')!;
	expect([valueOf(hand, 'load'), baseValueOf(hand, 'load'), baseValueOf(hand, 'brake')]).toEqual([
		'25',
		'20',
		'shoe'
	]);
});

test('any plan followed by its inverse is the identity, and undoing many in order as well', () => {
	const some = fc.oneof(
		fc.record({
			do: fc.constant('set' as const),
			kind: fc.constant('cart'),
			id: fc.constantFrom('hand', 'pony'),
			field: fc.constantFrom('load', 'wheel'),
			value: fc.stringMatching(/^[a-z0-9]{0,6}$/)
		}),
		fc.record({
			do: fc.constant('set' as const),
			kind: fc.constant('brake'),
			id: fc.constantFrom('shoe', 'drum'),
			field: fc.constantFrom('grip', 'wear'),
			value: fc.stringMatching(/^[a-z0-9 <&"]{0,6}$/)
		}),
		fc.record({
			do: fc.constant('set' as const),
			kind: fc.constant('wheel'),
			id: fc.constantFrom('oak_2', 'oak_4'),
			field: fc.constantFrom('size', 'age'),
			value: fc.stringMatching(/^[a-z0-9]{0,6}$/)
		}),
		fc.record({
			do: fc.constant('set' as const),
			kind: fc.constant('text'),
			id: fc.constantFrom('cart.hand', 'new.key'),
			field: fc.constantFrom('en', 'fr'),
			value: fc.stringMatching(/^[a-zé0-9 =:\\]{0,9}$/)
		}),
		fc.record({
			do: fc.constant('take' as const),
			kind: fc.constantFrom('cart', 'brake'),
			id: fc.constantFrom('hand', 'shoe')
		}),
		fc.record({
			do: fc.constant('copy' as const),
			kind: fc.constantFrom('cart', 'wheel', 'brake'),
			id: fc.constantFrom('hand', 'oak_4', 'drum'),
			newId: fc.stringMatching(/^[a-z]{1,6}$/),
			without: fc.constantFrom<('text' | 'list' | 'twin')[]>([], ['text'], ['list', 'twin']),
			names: fc.constant({})
		}),
		fc.record({
			do: fc.constant('remove' as const),
			kind: fc.constantFrom('cart', 'brake'),
			id: fc.constantFrom('hand', 'pony', 'shoe')
		})
	);
	fc.assert(
		fc.property(fc.array(some, { maxLength: 8 }), (intentions) => {
			let stack = stackOf();
			const steps: { before: Record<string, string>; back: Plan }[] = [];
			for (const intention of intentions) {
				let made: Plan;
				try {
					made = plan(stack, intention);
				} catch (error) {
					expect(error instanceof NotPossible || error instanceof EditRefused, String(error)).toBe(true);
					continue;
				}
				steps.push({ before: texts(files(stack)), back: invertPlan(files(stack), made) });
				stack = stackOf(after(stack, made));
			}
			let now: Files = files(stack);
			for (const { before, back } of steps.reverse()) {
				now = applyPlan(now, back);
				expect(texts(now)).toEqual(before);
			}
			expect(now.size).toBe(0);
		}),
		{ numRuns: 200 }
	);
});

test('one record in a mod is read as the many in the base are, whatever its shape alone would say', () => {
	const layer = (id: string, owner: 'game' | 'me', files: Record<string, string>) => ({
		id,
		title: id,
		owner,
		files: new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]))
	});
	const base = layer('base', 'game', {
		'crew.json': '{ "mate": { "pay": { "day": 1 } }, "cook": { "pay": { "day": 2 }, "tea": true } }',
		'about.json': '{ "title": "x", "list": [{ "a": 1 }] }'
	});
	const mine = layer('mine', 'me', {
		'crew.json': '{ "mate": { "pay": { "day": 9 } } }',
		'about.json': '{ "title": "y" }'
	});
	for (const guide of [
		EMPTY_GUIDE,
		parseGuide(
			'guide: 1\nkinds:\n  crew: { title: Crew, files: [crew.json], merge: record }\n  about: { title: About, files: [about.json] }\n'
		)
	]) {
		const stack = assembleStack([base, mine], guide);
		const mate = stack.tables.get('crew')!.byId.get('mate')!;
		expect(mate.presences.map(({ layer: { owner } }) => owner)).toContain('me');
		expect(valueOf(mate, 'pay.day')).toBe('9');
		expect(stack.tables.get('about')!.records).toHaveLength(1);
		expect(valueOf(stack.tables.get('about')!.records[0]!, 'title')).toBe('y');
	}
});
