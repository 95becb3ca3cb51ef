// Games with a mod of mine for tests of changes, and what somebody may want in them.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { How, Intention } from '$core/edits';
import { createPool, type Pool } from '$core/facts';
import { EMPTY_GUIDE, parseGuide, type Guide } from '$core/guide';
import { isEditable, type Layer, type Stack } from '$core/stack';
import { guideWith, loadLayer } from '$core/model';
import { openFolder, readAll } from '../../src/lib/files';
import { makeGuided } from '../../bench/guided';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));

/** A game with a mod of mine, as it lies on disk. */
export interface Scene {
	guide: Guide;
	layers: Layer[];
	pool: Pool;
}

/** The demo with a mod of somebody else below mine. */
export async function demoScene(): Promise<Scene> {
	const pool = createPool();
	const shipped = parseGuide(readFileSync(`${demo}base.guide.yaml`, 'utf8'));
	const read = async (id: string, owner: Layer['owner'], folder: string, told: Guide, below: Layer[]) =>
		loadLayer({ id, title: id, owner }, await readAll(await openFolder(demo + folder)), {
			guide: told,
			below,
			pool
		});
	const base = await read('base', 'game', 'base', shipped, []);
	const guide = guideWith(shipped, base);
	const mod = await read('mod', 'others', 'quiet-harbours', guide, [base]);
	return { guide, pool, layers: [base, mod, await read('mine', 'me', 'longline', guide, [base, mod])] };
}

/** A made-up game that nobody described: all that is known of it was found. */
export function madeScene(seed: number): Scene {
	const pool = createPool();
	const bytes = new Map(
		makeGuided(seed).files.map(({ path, text }) => [path, new TextEncoder().encode(text)])
	);
	const base = loadLayer({ id: 'base', title: 'base', owner: 'game' }, bytes, { guide: EMPTY_GUIDE, pool });
	const guide = guideWith(EMPTY_GUIDE, base);
	const mine = loadLayer({ id: 'mine', title: 'mine', owner: 'me' }, new Map(), {
		guide,
		below: [base],
		pool
	});
	return { guide, pool, layers: [base, mine] };
}

/** Something that somebody may want, from a few numbers. */
export function wish(stack: Stack, [what, a, b, c]: readonly [number, number, number, number]): Intention {
	const words = stack.guide.words?.kind;
	const kinds = [...stack.tables.values()].filter(({ count, kind }) => count > 0 && kind !== words);
	const table = kinds[a % kinds.length]!;
	const { kind } = table;
	const record = table.record(b % table.count);
	const fields = [...record.values.keys()];
	const field = fields[c % fields.length] ?? 'none';
	const other = table.record((b * 7 + c) % table.count);
	const { id } = record;
	switch (what % 17) {
		case 0:
			return { do: 'set', kind, id, field, value: other.value(field) ?? '' };
		case 1:
			return { do: 'set', kind, id, field, value: String((c % 300) - 20) };
		case 2:
			return { do: 'set', kind, id, field, value: ['nothing_like_it', '', 'A', 'true'][c % 4]! };
		case 3:
			return {
				do: 'copy',
				kind,
				id,
				newId: `new_${b}_${c}`,
				names: {},
				without: c % 2 === 0 ? ['text'] : []
			};
		case 4:
			return { do: 'remove', kind, id };
		case 5:
			return { do: 'take', kind, id };
		case 6: {
			const texts = stack.tables.get(words ?? '');
			if (!texts) return { do: 'take', kind, id };
			const key = texts.record(b % texts.count).id;
			const languages = Object.keys(stack.guide.words!.languages);
			const language = languages[c % languages.length]!;
			return { do: 'write', texts: [{ key, language, text: c % 5 === 0 ? '' : `Text ${c}` }] };
		}
		case 7: {
			const ids = table.records.map((one) => one.id).filter((_, nth) => nth % ((c % 4) + 1) === 0);
			const hows: How[] = [
				{ by: 'add', amount: (c % 9) - 4 },
				{ by: 'multiply', factor: 1.1 },
				{ by: 'clamp', low: 2, high: 30 },
				{ by: 'set', value: other.value(field) ?? '1' }
			];
			return { do: 'change', kind, ids, field, how: hows[c % 4]! };
		}
		case 8:
			return { do: 'rename', kind, id, newId: `r${b}_${c}` };
		case 9: {
			const mine = table.records.filter(({ presences }) => presences.every(({ layer }) => isEditable(layer)));
			const own = mine[b % Math.max(1, mine.length)] ?? record;
			const settle = [{ how: 'empty' as const }, { how: 'point' as const, to: other.id }, undefined][c % 3];
			return { do: 'remove', kind, id: own.id, ...(settle ? { settle } : {}) };
		}
		case 10:
			return { do: 'move', kind, id, to: c % 5 };
		case 11: {
			const list = fields.find((path) => /\[\d+\]$/.test(path))?.replace(/\[\d+\]$/, '') ?? 'none';
			const changes = [
				{ how: 'insert' as const, value: other.id },
				{ how: 'copy' as const },
				{ how: 'remove' as const },
				{ how: 'move' as const, to: 0 }
			];
			return { do: 'item', kind, id, list, at: c % 2, change: changes[c % 4]! };
		}
		case 12: {
			const some = [record, other, table.record((b + c) % table.count)];
			const cells = [...new Set(some.map((one) => one.id))].flatMap((one) =>
				fields.slice(0, 3).map((path) => ({ id: one, field: path, value: String(c % 12) }))
			);
			return { do: 'cells', kind, cells };
		}
		case 13: {
			// Into another file of its folder, new or not; one record, or all of them.
			const { path, doc } = record.presences.at(-1)!;
			const into = path.replace(/([^/.]+)(\.[^/]*)?$/, (_, stem: string, end = '') =>
				c % 3 === 0 ? `${stem}_${c % 4}${end}` : `more_${c % 2}${end}`
			);
			const ids = c % 4 === 0 ? doc.records.map((one) => one.id) : [id];
			return { do: 'put', kind, ids, into, ...(c % 2 === 0 ? { from: path } : {}) };
		}
		case 14: {
			// Out of the layers below, and back among them, where a kind has such files.
			const [out = table] = [...stack.tables.values()].filter(({ guide }) => guide.removes);
			const some = out.record(b % Math.max(1, out.count)).id;
			const [gone] = out.removals.filter(({ from }) => isEditable(from.layer));
			return gone && c % 2 === 0
				? { do: 'back', kind: out.kind, id: gone.from.facts.pool.at(gone.from.facts.ids[gone.nth]!) }
				: { do: 'remove', kind: out.kind, id: some };
		}
		case 15: {
			// A part of one record after the model of another, taken out, or moved beside another.
			const path = field.replace(/[.[].*$/, '');
			const changes = [
				{ how: 'add' as const, like: other.id },
				{ how: 'remove' as const },
				{ how: 'move' as const, to: (fields[b % fields.length] ?? field).replace(/[.[].*$/, '') }
			];
			return { do: 'part', kind, id, path, change: changes[c % 3]! };
		}
		default:
			return { do: 'fill', kind, id, values: [{ field, value: other.value(field) ?? '' }], from: other.id };
	}
}
