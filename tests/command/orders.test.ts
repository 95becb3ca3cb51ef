// Orders that are offered are taken by the game: random mods with demands that can be met, loaded by the stand-in.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, expect, test } from 'vitest';
import { parseGuide } from '$core/guide';
import { orderOf } from '$core/layers';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';
import { randomBy } from '../random';
import { AT_LENGTH } from '../runs';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const guide = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
const game = mkdtempSync(join(tmpdir(), 'kettle-orders-'));
cpSync(join(demo, 'base'), game, { recursive: true });
afterAll(() => rmSync(game, { recursive: true }));

/** Stacks that are tried: each starts the game twice. */
const MOST = AT_LENGTH ? 100 : 14;

test('of random mods with demands that can be met, the order that is offered loads cleanly', async () => {
	const base = await readAll(await openFolder(join(demo, 'base')));
	let moved = 0;
	let refusedBefore = 0;
	for (let seed = 1; seed <= MOST; seed++) {
		const random = randomBy(seed * 77);
		const count = 2 + Math.floor(random() * 5);
		const names = Array.from({ length: count }, (_, nth) => `mod_${nth}`);
		const mods = names.map((name, nth) => {
			const earlier = names.slice(0, nth);
			const some = (chance: number) => earlier.filter(() => random() < chance);
			const requires = some(0.4);
			const files = {
				'mod.json': JSON.stringify({
					name,
					title: name,
					version: '1',
					gameVersion: '1.4',
					requires,
					after: some(0.25)
				}),
				'data/engines.ini': `[triple_6]\npower   = ${500 + nth}\nfuel    = 78.5\ncoldest = -14\nnoise   = 71\n`
			};
			return { name, files };
		});
		const mixed = mods.map((mod) => [random(), mod] as const).sort(([a], [b]) => a - b);
		const present = mixed.map(([, mod]) => mod);
		const layers = present.map(({ name, files }) => ({
			id: name,
			title: name,
			owner: 'others' as const,
			files: new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]))
		}));
		const stack = assembleStack(
			[{ id: 'base', title: 'Base', owner: 'game', files: base }, ...layers],
			guide
		);
		const { order, impossible } = orderOf(stack, buildLinks(stack));
		expect(impossible, `${seed}`).toEqual([]);
		rmSync(join(game, 'mods'), { recursive: true, force: true });
		for (const { name, files } of mods)
			for (const [path, text] of Object.entries(files)) {
				const at = join(game, 'mods', name, path);
				mkdirSync(dirname(at), { recursive: true });
				writeFileSync(at, text);
			}
		const faultsOf = (list: string[]) => {
			writeFileSync(join(game, 'load-order.json'), JSON.stringify({ mods: list }));
			const { log } = loadGame(game);
			return log.filter(({ level }) => level !== 'INFO').map(({ message }) => message);
		};
		const offered = order.map(({ id }) => id).filter((id) => id !== 'base');
		expect(offered.toSorted()).toEqual(names.toSorted());
		expect(faultsOf(offered), `${seed}: ${offered.join()}`).toEqual([]);
		if (offered.join() === present.map(({ name }) => name).join()) continue;
		moved++;
		if (faultsOf(present.map(({ name }) => name)).length > 0) refusedBefore++;
	}
	// The order before was one that the game does not take.
	expect(moved).toBeGreaterThan(MOST / 4);
	expect(refusedBefore).toBe(moved);
});
