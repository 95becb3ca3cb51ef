// Add-ons that a game keeps in folders of their own: what is only there with one is not named by what is there without.
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { EMPTY_GUIDE } from '$core/guide';
import { assembleStack } from '$core/model';

type Thing = Record<string, unknown> & { id: string };
type Game = Record<string, Thing | Thing[]>;

const ADD_ONS = ['night_fair', 'old_harbour', 'ice_bridge', 'silent_mill', 'glass_stair'];
const NEEDS: Record<string, string[]> = {
	old_harbour: ['night_fair'],
	ice_bridge: ['old_harbour'],
	silent_mill: ['night_fair'],
	glass_stair: ['ice_bridge', 'silent_mill']
};
const CRIERS = 60;

const lamps = (of: string, count: number) =>
	Array.from({ length: count }, (_, nth): Thing => ({ id: `lamp_of_${of}_${nth}`, light: 3 + (nth % 7) }));
const criers = (of: string, count: number) =>
	Array.from({ length: count }, (_, nth): Thing => ({
		id: `crier_of_${of}_${nth}`,
		voice: 1 + ((nth * 7) % 90),
		lamp: `lamp_of_${of}_${nth % 6}`
	}));

/** A town, and add-ons that add lamps and criers to it. */
function town({ needs = true, keeps = true } = {}): Game {
	const game: Game = {
		'town/lamps.json': lamps('town', 30),
		'town/criers.json': criers('town', CRIERS)
	};
	for (const [nth, name] of ADD_ONS.entries()) {
		const own = { id: name, title: `Number ${nth}`, year: 1900 + nth };
		game[`more/${name}/about.json`] = needs ? { ...own, needs: NEEDS[name] ?? [] } : own;
		game[`more/${name}/lamps.json`] = lamps(name, 8);
		game[`more/${name}/criers.json`] = criers(name, 10);
	}
	const [first, second, third] = game['town/criers.json'] as Thing[];
	// These are only there with an add-on, and say so.
	Object.assign(first!, { only_with: 'ice_bridge', lamp: 'lamp_of_ice_bridge_1' });
	Object.assign(second!, { only_with: 'silent_mill', lamp: 'lamp_of_silent_mill_1' });
	Object.assign(third!, { only_with: 'glass_stair', lamp: 'lamp_of_glass_stair_1' });
	if (!keeps) (game['town/criers.json'] as Thing[])[7]!.lamp = 'lamp_of_night_fair_2';
	return game;
}

const bytes = (game: Game) =>
	new Map(
		Object.entries(game).map(([path, things]) => [
			path,
			new TextEncoder().encode(`${JSON.stringify(things, null, '\t')}\n`)
		])
	);

/** What is said of add-ons when one crier of a file has another lamp. */
function told(game: Game, path: string, nth: number, change: Record<string, unknown>) {
	const own = structuredClone(game[path]) as Thing[];
	Object.assign(own[nth]!, change);
	const stack = assembleStack(
		[
			{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes({ [path]: own }) }
		],
		EMPTY_GUIDE
	);
	return checkStack(stack).filter(({ rule }) => rule === 'needs-add-on');
}

describe('a lamp that is only there with an add-on', () => {
	test('is told where a crier of the town has it, at the line of the field', () => {
		const game = town();
		const path = 'town/criers.json';
		const [snag, ...others] = told(game, path, 20, { lamp: 'lamp_of_old_harbour_3' });
		expect(others).toEqual([]);
		expect(snag).toMatchObject({
			severity: 'warns',
			layer: 'mine',
			file: path,
			record: 'crier_of_town_20',
			field: 'lamp',
			value: 'lamp_of_old_harbour_3'
		});
		const text = new TextDecoder().decode(bytes({ [path]: game[path]! }).get(path)!);
		const line = text.split('\n').findIndex((one) => one.includes('"crier_of_town_20"')) + 1;
		expect(snag!.line).toBe(line + 2);
		expect(snag!.message).toContain('`lamp_of_old_harbour_3` is only there with the add-on');
		expect(snag!.message).toContain('`more/old_harbour`');
	});

	test('is none of an add-on that the crier names, or that one it names needs', () => {
		const path = 'town/criers.json';
		expect(told(town(), path, 0, { lamp: 'lamp_of_ice_bridge_5' })).toEqual([]);
		expect(told(town(), path, 0, { lamp: 'lamp_of_night_fair_5' })).toEqual([]);
		// The other way round it is not there.
		expect(told(town(), path, 0, { lamp: 'lamp_of_glass_stair_5' })).toHaveLength(1);
	});

	test('is none within the add-on and in those that need it, and one in others', () => {
		const within = (name: string) => `more/${name}/criers.json`;
		expect(told(town(), within('night_fair'), 4, { lamp: 'lamp_of_night_fair_7' })).toEqual([]);
		expect(told(town(), within('glass_stair'), 4, { lamp: 'lamp_of_night_fair_7' })).toEqual([]);
		expect(told(town(), within('night_fair'), 4, { lamp: 'lamp_of_silent_mill_7' })).toHaveLength(1);
		expect(told(town(), within('night_fair'), 4, { lamp: 'lamp_of_town_7' })).toEqual([]);
	});

	test('is a note where the game does so too, and what the game does is not told', () => {
		const snags = told(town({ keeps: false }), 'town/criers.json', 20, { lamp: 'lamp_of_old_harbour_3' });
		expect(snags.filter(({ severity }) => severity !== 'note')).toEqual([]);
	});

	test('is none where folders beside each other need nothing of each other', () => {
		expect(told(town({ needs: false }), 'town/criers.json', 20, { lamp: 'lamp_of_old_harbour_3' })).toEqual(
			[]
		);
	});
});
