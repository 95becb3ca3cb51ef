import { isEditable } from '../stack';
import { fieldOf, patternOf } from '../guide';
import type { Facts } from '../facts';
import type { Table, TableFile } from '../stack';
import { languageName } from '../text';
import { isSaid } from './fields';
import { consequence, snagAt, type Rule } from './snag';

/** Blocks from which on it says something that all of them have a part. */
const ENOUGH = 5;

/** The blocks of a record and the names of their parts: `keeper` has `since`, `until`; `watches[2]` has others. */
const blocks = new WeakMap<Int32Array, Map<string, Set<string>>>();

function blocksIn(facts: Facts, shape: Int32Array): Map<string, Set<string>> {
	let found = blocks.get(shape);
	if (!found) {
		blocks.set(shape, (found = new Map()));
		for (const number of shape) {
			const path = facts.pool.at(number);
			const dot = path.lastIndexOf('.');
			if (dot < 0) continue;
			const block = path.slice(0, dot);
			found.set(block, (found.get(block) ?? new Set()).add(path.slice(dot + 1)));
		}
	}
	return found;
}

const isBelow = ({ layer }: TableFile) => !isEditable(layer);

/** The parts that all blocks of a sort have below my mod. */
function alwaysThere({ files, hidden }: Table): Map<string, Set<string>> {
	const counts = new Map<string, { blocks: number; parts: Map<string, number> }>();
	for (const { facts } of [...files, ...hidden].filter(isBelow)) {
		const times = new Int32Array(facts.shapes.length);
		for (const shape of facts.shape) times[shape]!++;
		facts.shapes.forEach((shape, nth) => {
			for (const [block, parts] of blocksIn(facts, shape)) {
				const sort = patternOf(block);
				const known = counts.get(sort) ?? { blocks: 0, parts: new Map<string, number>() };
				counts.set(sort, known);
				known.blocks += times[nth]!;
				for (const part of parts) known.parts.set(part, (known.parts.get(part) ?? 0) + times[nth]!);
			}
		});
	}
	return new Map(
		[...counts].map(([sort, { blocks: count, parts }]) => [
			sort,
			new Set([...parts].flatMap(([part, times]) => (count >= ENOUGH && times === count ? [part] : [])))
		])
	);
}

/** A part of a block that every such block of the game has: an end without which the game drops the whole. */
export const missingPart: Rule = {
	id: 'missing-part',
	title: 'Incomplete block',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			const mine = table.files.filter((file) => !isBelow(file));
			if (mine.length === 0) continue;
			const always = alwaysThere(table);
			for (const { file, facts } of mine)
				for (let nth = 0; nth < facts.count; nth++) {
					for (const [block, has] of blocksIn(facts, facts.shapes[facts.shape[nth]!]!)) {
						const missing = [...(always.get(patternOf(block)) ?? [])].filter((part) => !has.has(part));
						const record = missing.length === 0 ? undefined : table.byId.get(facts.pool.at(facts.ids[nth]!));
						const presence = record?.presences.find(
							({ layer, path }) => isEditable(layer) && path === file.path
						);
						if (!record || !presence) continue;
						for (const part of missing) {
							const path = `${block}.${part}`;
							// What is said of the field is another rule's.
							const field = fieldOf(table.guide, path);
							if (field?.required && isSaid(field, 'required')) continue;
							// A language that is not there yet is shown in another.
							const translation = [part, ...has].every((name) => languageName(name) !== null);
							yield snagAt(stack, record, presence, {
								rule: 'missing-part',
								severity: translation ? 'note' : 'warns',
								field: path,
								message: `${block} has no ${part} (line ${presence.line}). Every other one in the game has one. ${consequence(stack, record)}, or skip this part of it.`,
								repairable: true
							});
						}
					}
				}
		}
	}
};
