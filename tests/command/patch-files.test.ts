// Mods that bring lists of changes instead of files: the game and the model read the same values from them.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { parseGuide } from '$core/guide';
import { assembleStack, type LayerBytes } from '$core/model';
import { runs } from '../runs';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const guide = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
const game = mkdtempSync(join(tmpdir(), 'kettle-patch-files-'));
const PATH = 'data/crew.json.patch';
let base: Map<string, Uint8Array>;

beforeAll(async () => {
	cpSync(join(demo, 'base'), game, { recursive: true });
	base = await readAll(await openFolder(join(demo, 'base')));
});
afterAll(() => rmSync(game, { recursive: true }));

type Operation = Record<string, unknown>;

/** Mods in the order of loading, each with its list of changes, in the game and in the model. */
function installed(patches: Operation[][]) {
	rmSync(join(game, 'mods'), { recursive: true, force: true });
	const layers = patches.map((patch, nth): LayerBytes => {
		const name = `mod_${nth}`;
		const identity = { name, title: name, version: '1', gameVersion: '1.4' };
		const files = new Map(
			Object.entries({ 'mod.json': identity, [PATH]: patch }).map(([path, said]) => [
				path,
				new TextEncoder().encode(JSON.stringify(said))
			])
		);
		for (const [path, bytes] of files) {
			const to = join(game, 'mods', name, path);
			mkdirSync(dirname(to), { recursive: true });
			writeFileSync(to, bytes);
		}
		return { id: name, title: name, owner: nth === patches.length - 1 ? 'me' : 'others', files };
	});
	writeFileSync(join(game, 'load-order.json'), JSON.stringify({ mods: layers.map(({ id }) => id) }));
	const stack = assembleStack([{ id: 'base', title: 'Base', owner: 'game', files: base }, ...layers], guide);
	return { stack, loaded: loadGame(game) };
}

const ROLES = JSON.parse(
	readFileSync(join(demo, 'base/data/crew.json'), 'utf8').replace(/ \/\/.*$|^\/\/.*$/gm, '')
) as { id: string }[];

const operation: fc.Arbitrary<Operation> = fc.oneof(
	fc.record({
		op: fc.constantFrom('replace', 'add'),
		path: fc
			.tuple(fc.nat(ROLES.length), fc.constantFrom('pay', 'watch', 'nerve'))
			.map((at) => `/${at.join('/')}`),
		value: fc.integer({ min: 0, max: 3 })
	}),
	fc.record({
		op: fc.constant('remove'),
		path: fc.nat(ROLES.length + 1).map((nth) => `/${nth}/abilities/0`)
	}),
	fc.record({
		op: fc.constantFrom('move', 'copy'),
		from: fc.nat(ROLES.length).map((nth) => `/${nth}/abilities`),
		path: fc.nat(ROLES.length).map((nth) => `/${nth}/abilities`)
	}),
	fc.record({ op: fc.constant('test'), path: fc.nat(3).map((nth) => `/${nth}/watch`), value: fc.nat(3) }),
	fc.record({ op: fc.constant('remove'), path: fc.nat(ROLES.length).map((nth) => `/${nth}`) })
);

test('law: whatever mods change by lists, the game and the model have the same values, and refuse the same lists', () => {
	let [refused, changed] = [0, 0];
	fc.assert(
		fc.property(
			fc.array(fc.array(operation, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 3 }),
			(patches) => {
				const { stack, loaded } = installed(patches);
				const table = stack.tables.get('role')!;
				const number = (text: string) =>
					text !== '' && Number.isFinite(Number(text)) ? String(Number(text)) : text;
				const model = Object.fromEntries(
					table.records.map(({ id, values }) => [
						id,
						Object.fromEntries([...values].map(([path, { value }]) => [path, number(value)]))
					])
				);
				const real = Object.fromEntries(
					[...loaded.world.roles].map(([id, { fields }]) => [
						id,
						Object.fromEntries(Object.entries(fields).map(([path, value]) => [path, number(value)]))
					])
				);
				expect(model).toEqual(real);
				const said = checkStack(stack)
					.filter(({ rule, message }) => rule === 'patch-file' && !message.includes('changes nothing'))
					.map(({ layer, file }) => `mods/${layer}/${file}`);
				const log = loaded.log
					.filter(({ place }) => place.includes('.patch'))
					.map(({ place }) => place.replace(/:\d+$/, ''));
				expect(said.sort()).toEqual(log.sort());
				refused += log.length;
				changed += patches.length - said.length;
			}
		),
		{ numRuns: runs(90) }
	);
	expect(Math.min(refused, changed)).toBeGreaterThan(10);
}, 120_000);
