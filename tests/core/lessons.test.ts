// The dial learns from what the game refuses and takes: after some broken mods, what it foretells is what the game says.
import { expect, test } from 'vitest';
import { checkStack, foretoldBy, heldAgainst, lessonFromTaken, lessonsFrom } from '$core/checks';
import { parseGuide, type Guide } from '$core/guide';
import { assembleStack } from '$core/model';
import { AT_LENGTH } from '../runs';
import { randomBy } from '../random';

const bytes = (text: string) => new TextEncoder().encode(text);
const CARTS = Array.from({ length: 30 }, (_, nth) => ({
	id: `cart_${nth}`,
	load: 20 + ((nth * 17) % 61),
	depth: -5 - ((nth * 5) % 23),
	wheel: `wheel_${nth % 4}`
}));
const carts = (rows: typeof CARTS) =>
	bytes(
		`id,load,depth,wheel\n${rows.map(({ id, load, depth, wheel }) => `${id},${load},${depth},${wheel}\n`).join('')}`
	);
const BASE = {
	id: 'base',
	title: 'Base',
	owner: 'game' as const,
	files: new Map([
		['carts.csv', carts(CARTS)],
		['wheels.csv', bytes(`id,size\n${[0, 1, 2, 3].map((nth) => `wheel_${nth},${nth + 1}\n`).join('')}`)]
	])
};

/** What the game really takes; the guide knows none of it at first. */
const LIMITS = { load: 137, depth: -64 };
const refuses = ({ load, depth, wheel }: (typeof CARTS)[number]): string | null =>
	load > LIMITS.load
		? `would break under ${load}`
		: depth < LIMITS.depth
			? `depth ${depth} is below the sea`
			: !/^wheel_[0-3]$/.test(wheel)
				? `no wheel ${wheel}`
				: null;

const guideFor = (load: object, depth: object, wheel: object): Guide =>
	parseGuide(
		`guide: 1\nkinds:\n  cart:\n    title: Cart\n    files: [carts.csv]\n    key: id\n    merge: record\n    fields: ${JSON.stringify({ load: { title: 'Load', ...load }, depth, wheel })}\n  wheel: { title: Wheel, files: [wheels.csv], key: id, merge: record }\n`
	);
const FOUND = { sure: 0.9, because: 'seen' };

test('200 broken mods, and the next 200: foretold is seen, and seen is foretold', () => {
	const random = randomBy(8);
	const MODS = AT_LENGTH ? 200 : 80;
	let statements: Record<'load' | 'depth' | 'wheel', Record<string, unknown>> = {
		load: { type: 'whole' },
		depth: { type: 'whole' },
		wheel: { type: 'reference', reference: { kinds: ['wheel'], found: FOUND }, found: FOUND }
	};
	const between = (from: number, to: number) => from + Math.floor(random() * (to - from + 1));
	/** One mod that changes one value, and whether what was foretold is what was seen. */
	const tried = (learning: boolean): boolean => {
		const cart = { ...CARTS[between(0, CARTS.length - 1)]! };
		const what = between(0, 2);
		if (what === 0) cart.load = between(0, 260);
		else if (what === 1) cart.depth = between(-130, 0);
		else cart.wheel = random() < 0.5 ? `wheel_${between(0, 3)}` : `rim_${between(0, 9)}`;
		const mine = {
			id: 'mine',
			title: 'Mine',
			owner: 'me' as const,
			files: new Map([['carts.csv', carts([cart])]])
		};
		const stack = assembleStack([BASE, mine], guideFor(statements.load, statements.depth, statements.wheel));
		const foretold = foretoldBy(checkStack(stack), 50);
		const said = refuses(cart);
		const lines =
			said === null ? [] : [{ kind: 'cart', record: cart.id, layer: null, path: null, line: null }];
		const { by, unseen } = heldAgainst(lines, foretold);
		const agrees = by.every((snag) => snag !== null) && unseen.length === 0;
		if (agrees || !learning) return agrees;
		const lesson =
			said !== null && by[0] === null
				? lessonsFrom(
						stack,
						{ kind: 'cart', record: cart.id, line: `BAD cart ${cart.id}: ${said}` },
						new Set([cart.id])
					)[0]
				: unseen[0] && lessonFromTaken(stack, unseen[0]);
		// Whatever is offered is about the value that was changed.
		if (lesson) {
			expect(lesson.field).toBe(['load', 'depth', 'wheel'][what]);
			const field = lesson.field as keyof typeof statements;
			const { found: _, ...before } = statements[field];
			statements = { ...statements, [field]: { ...before, ...lesson.statements } };
		}
		return false;
	};
	const count = (learning: boolean) =>
		Array.from({ length: MODS }, () => tried(learning)).filter(Boolean).length;
	const without = count(false);
	count(true);
	const after = count(false);
	expect(without / MODS).toBeLessThan(0.75);
	expect(after / MODS).toBeGreaterThanOrEqual(0.95);
	// No bound keeps out what the game is known to take.
	expect(Number(statements.load.max)).toBeLessThanOrEqual(LIMITS.load);
	expect(Number(statements.depth.min)).toBeGreaterThanOrEqual(LIMITS.depth);
	expect(statements.wheel.reference).toEqual({ kinds: ['wheel'], none: [] });
});

test('a line teaches nothing of values that it does not speak of', () => {
	const stack = assembleStack([BASE], guideFor({ type: 'whole' }, {}, {}));
	const from = (line: string) =>
		lessonsFrom(stack, { kind: 'cart', record: 'cart_3', line }, new Set(['cart_3']));
	expect(from('BAD cart cart_3: the moon is full')).toEqual([]);
	expect(lessonsFrom(stack, { kind: 'cart', record: 'none', line: 'load' }, new Set())).toEqual([]);
	expect(lessonsFrom(stack, { kind: 'none', record: 'cart_3', line: 'load' }, new Set())).toEqual([]);
	// The value lies among those that were taken: no bound would tell it.
	expect(from(`load ${CARTS[3]!.load}`)).toEqual([]);
});

test('a limit that people wrote blocks, also where the rest of the field was only found', () => {
	const heavy = { ...CARTS[0]!, load: 500 };
	const mine = {
		id: 'mine',
		title: 'Mine',
		owner: 'me' as const,
		files: new Map([['carts.csv', carts([heavy])]])
	};
	const severity = (load: object) =>
		checkStack(assembleStack([BASE, mine], guideFor(load, {}, {})))
			.filter(({ rule }) => rule === 'hard-limit')
			.map((snag) => snag.severity);
	const found = { sure: 0.9, because: 'seen' };
	expect(severity({ type: 'whole', max: 100, found })).toEqual(['warns']);
	expect(severity({ type: 'whole', max: 100, found: { ...found, said: ['min'] } })).toEqual(['warns']);
	expect(severity({ type: 'whole', max: 100, found: { ...found, said: ['max'] } })).toEqual(['blocks']);
});

test('rules of other sorts: a field that must be there, and one that must not lie before another', () => {
	const rows = (list: [string, string, string, string][]) =>
		bytes(`id,since,until,keeper\n${list.map((row) => row.join(',')).join('\n')}\n`);
	const base = {
		id: 'base',
		title: 'Base',
		owner: 'game' as const,
		files: new Map([
			[
				'posts.csv',
				rows(
					Array.from({ length: 9 }, (_, nth) => [
						`post_${nth}`,
						`19${10 + nth}-01-02`,
						`19${12 + nth}-05-06`,
						`keeper ${nth}`
					])
				)
			]
		])
	};
	const stackWith = (row: [string, string, string, string], fields: object) =>
		assembleStack(
			[
				base,
				{ id: 'mine', title: 'Mine', owner: 'me' as const, files: new Map([['posts.csv', rows([row])]]) }
			],
			parseGuide(
				`guide: 1\nkinds:\n  post: { title: Post, files: [posts.csv], key: id, merge: record, fields: ${JSON.stringify(fields)} }\n`
			)
		);
	const blocks = (row: [string, string, string, string], fields: object) =>
		checkStack(stackWith(row, fields))
			.filter(({ severity }) => severity === 'blocks')
			.map(({ rule, record }) => `${rule} ${record}`);
	const learn = (row: [string, string, string, string], line: string) =>
		lessonsFrom(stackWith(row, {}), { kind: 'post', record: row[0], line }, new Set([row[0]]));

	const early: [string, string, string, string] = ['post_3', '1913-01-02', '1911-05-06', 'keeper 3'];
	const [order] = learn(early, 'BAD post_3: until 1911-05-06 is earlier than since');
	expect(order).toMatchObject({ field: 'until', rule: { notBefore: 'since' } });
	expect(blocks(early, {})).toEqual([]);
	expect(blocks(early, { until: order!.statements })).toEqual(['out-of-order post_3']);
	expect(blocks(['post_3', '1913-01-02', '1913-05-06', 'k'], { until: order!.statements })).toEqual([]);
	// Named by one of them only, it is no rule about both.
	expect(learn(early, 'BAD post_3: until is wrong')).toEqual([]);

	const alone: [string, string, string, string] = ['post_4', '1914-01-02', '1916-05-06', ''];
	const [there] = learn(alone, 'BAD post_4: it has no keeper');
	expect(there).toMatchObject({ field: 'keeper', rule: { required: true } });
	expect(blocks(alone, { keeper: there!.statements })).toEqual(['wrong-type post_4']);
	expect(learn(alone, 'BAD post_4: something is missing')).toEqual([]);
});
