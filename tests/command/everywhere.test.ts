// A record of each kind renamed, copied as new, removed again: the game loads cleanly and sees what was meant.
import { bytesOf, contentOf } from '$core/change';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { myFiles, planFor, stackAfter, type Intention } from '$core/edits';
import { createPool } from '$core/facts';
import { parseGuide, type Guide } from '$core/guide';
import { buildLinks, linksTo } from '$core/links';
import { buildStack, type Layer, type Stack } from '$core/stack';
import { guideWith, loadLayer } from '$core/model';
import {} from '$core/text';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const game = mkdtempSync(join(tmpdir(), 'kettle-everywhere-'));
const pool = createPool();
let guide: Guide;
let base: Layer;
let fresh: Stack;

beforeAll(async () => {
	cpSync(join(demo, 'base'), game, { recursive: true });
	writeFileSync(join(game, 'load-order.json'), '{"mods":["one"]}');
	const shipped = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
	base = loadLayer(
		{ id: 'base', title: 'Base', owner: 'game' },
		await readAll(await openFolder(join(demo, 'base'))),
		{
			guide: shipped,
			pool
		}
	);
	guide = guideWith(shipped, base);
	const identity = new TextEncoder().encode('{"name":"one","title":"One","version":"1","gameVersion":"1.4"}');
	const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, new Map([['mod.json', identity]]), {
		guide,
		pool
	});
	fresh = buildStack([base, mine], guide, pool);
});
afterAll(() => rmSync(game, { recursive: true }));

const apply = (stack: Stack, intention: Intention): Stack =>
	stackAfter(stack, planFor(stack, intention, 'one'));

/** Installs my mod and starts the game; what it says besides that all is well. */
function start(stack: Stack) {
	rmSync(join(game, 'mods'), { recursive: true, force: true });
	for (const [path, file] of myFiles(stack)) {
		const to = join(game, 'mods/one', path);
		mkdirSync(dirname(to), { recursive: true });
		writeFileSync(to, bytesOf(file));
	}
	const loaded = loadGame(game);
	const said = loaded.log.filter(({ level }) => level !== 'INFO');
	return { loaded, log: said.map(({ level, place, message }) => `${level} ${place} ${message}`) };
}

/** Snags but those that say that something of mine does nothing yet. */
const snags = (stack: Stack) =>
	checkStack(stack)
		.filter(({ severity, rule }) => severity !== 'note' && rule !== 'same-as-base')
		.map(({ message }) => message);

/** Ids that the game knows after loading, by the kind that the guide calls them. */
function known({ vessels, engines, gear, world }: ReturnType<typeof loadGame>): Record<string, Set<string>> {
	const keys = (things: Map<string, unknown> | undefined) => new Set(things?.keys() ?? []);
	return {
		vessel: keys(vessels),
		engine: keys(engines),
		deck_gear: keys(gear.deck),
		hull_gear: keys(gear.hull),
		bridge_gear: keys(gear.bridge),
		role: keys(world.roles),
		ability: keys(world.abilities),
		hazard: keys(world.hazards),
		salvage: keys(world.salvage),
		call: keys(world.calls),
		ambience: keys(world.ambience),
		station: keys(world.stations),
		bay: keys(world.bays),
		lane: new Set(world.lanes.map(({ id }) => id)),
		omen: keys(world.omens),
		start: keys(world.starts),
		tint: keys(world.tints),
		mode: keys(world.modes)
	};
}

const KINDS = [
	'vessel',
	'engine',
	'deck_gear',
	'hull_gear',
	'bridge_gear',
	'role',
	'ability',
	'hazard',
	'salvage',
	'call',
	'ambience',
	'station',
	'bay',
	'lane',
	'omen',
	'start',
	'mode',
	'tint',
	'control'
];
const NUMBERED: Record<string, string> = { hazard: '88', salvage: '99' };

/** The record of a kind that most others name; of starts one whose id is no word of the page. */
function busiest(stack: Stack, kind: string): string {
	if (kind === 'start') return 'ice_edge';
	const links = buildLinks(stack);
	const users = (id: string) =>
		linksTo(links, stack.tables.get(kind)!.byId.get(id)!).filter(({ text }) => !text).length;
	return [...stack.tables.get(kind)!.byId.keys()].sort((a, b) => users(b) - users(a))[0]!;
}

/** Ids of kinds of which a packed table has room for ten bytes only. */
const SHORT: Record<string, string> = { control: 'new_ctl', packed_control: 'new_packed' };

/** Lines of my mod's files in which an id stands as a word. */
const placesOf = (stack: Stack, id: string): string[] =>
	[...myFiles(stack)].flatMap(([path, file]) => {
		const content = contentOf(file);
		if (typeof content !== 'string') return [];
		return [...content.split('\n').entries()].flatMap(([at, line]) =>
			new RegExp(`(?<![\\p{L}\\p{N}_])${id}(?![\\p{L}\\p{N}_])`, 'u').test(line)
				? [`${path}:${at + 1} ${line.trim()}`]
				: []
		);
	});

describe.each(KINDS)('%s', (kind) => {
	test('renamed everywhere', () => {
		const id = busiest(fresh, kind);
		const newId = NUMBERED[kind] ?? SHORT[kind] ?? `new_${kind}`;
		const stack = apply(fresh, { do: 'rename', kind, id, newId });
		const { loaded, log } = start(stack);
		expect(log).toEqual([]);
		expect(snags(stack)).toEqual([]);
		const ids = known(loaded)[kind];
		if (ids) expect(ids.has(newId)).toBe(true);
		const links = buildLinks(stack);
		const left = stack.tables.get(kind)!.byId.get(id);
		const named = left ? linksTo(links, left) : [];
		expect(
			named
				.filter(({ text, from, field }) => !text && from.id !== id && !field.startsWith('#'))
				.map(({ from, field }) => `${from.kind}/${from.id} ${field}`)
		).toEqual([]);
		// The game goes on having its own piece, whose twin in the whole file of the second winter stays with it; and what
		// takes the old one out has to name it.
		const places = placesOf(stack, id).filter(
			(place) => !place.startsWith('data/gear/cold/') && !place.startsWith('data/controls.out.json')
		);
		if (!(kind in NUMBERED)) expect(places).toEqual([]);
	});
	test('copied as new with all that belongs to it, and removed again', () => {
		const id = busiest(fresh, kind);
		const newId = NUMBERED[kind] ?? SHORT[kind] ?? `new_${kind}`;
		const stack = apply(fresh, { do: 'copy', kind, id, newId, names: {} });
		const { loaded, log } = start(stack);
		// A copy of a rule over ranges covers what the first covers.
		const heard = kind === 'ambience' ? 1 : 0;
		expect(log.filter((line) => line.includes('is never heard where'))).toHaveLength(heard);
		expect(log).toHaveLength(heard);
		// Nor may it keep what each has for itself, a bit or a key: that is told until somebody gives it its own.
		const expected = (said: string) =>
			(kind === 'ambience' && said.includes('overlaps')) || said.includes('is already used by');
		expect(snags(stack).filter((said) => !expected(said))).toEqual([]);
		const ids = known(loaded)[kind];
		if (ids) expect([ids.has(newId), ids.has(id)]).toEqual([true, true]);
		const [one, two] = [id, newId].map((which) => stack.tables.get(kind)!.byId.get(which)!);
		for (const [field, { derive }] of Object.entries(guide.kinds[kind]!.fields))
			// What names something in the folder of the model names what is in that of the copy.
			if (!derive && field !== '#id')
				expect([one!.value(field), one!.value(field)?.replaceAll(id, newId)]).toContain(two!.value(field));
		const back = apply(stack, { do: 'remove', kind, id: newId, settle: { how: 'empty' } });
		expect(start(back).log).toEqual([]);
		expect(back.tables.get(kind)!.byId.has(newId)).toBe(false);
		expect(snags(back)).toEqual([]);
	});
});
