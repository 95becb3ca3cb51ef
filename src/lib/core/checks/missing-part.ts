import { derivedBelow, isEditable, type TableFile } from '../stack';
import { fieldOf, patternOf } from '../guide';
import type { Facts } from '../facts';
import { languageName } from '../text';
import { counted } from '../wording';
import { isSaid } from './fields';
import { consequence, snagAt, type Rule } from './snag';

/** Blocks from which on it says something that all of them have a part; and lists, that all have as many places. */
const ENOUGH = 5;
const ENOUGH_LISTS = 60;

/** The blocks of a record and the names of their parts: `keeper` has `since`, `until`; the places of `at` are `[0]`, `[1]`. */
const blocks = new WeakMap<Int32Array, Map<string, Set<string>>>();

/** A path as its block and its last part: a name, or a place in a list; null for a field that is in no block. */
function lastPart(path: string): [block: string, part: string] | null {
	const at = path.endsWith(']') ? path.lastIndexOf('[') : path.lastIndexOf('.');
	if (at <= 0) return null;
	return [path.slice(0, at), path.slice(path[at] === '.' ? at + 1 : at)];
}

function blocksIn(facts: Facts, shape: Int32Array): Map<string, Set<string>> {
	let found = blocks.get(shape);
	if (!found) {
		blocks.set(shape, (found = new Map()));
		for (const number of shape) {
			const last = lastPart(facts.pool.at(number));
			if (!last) continue;
			const [block, part] = last;
			found.set(block, (found.get(block) ?? new Set()).add(part));
		}
	}
	return found;
}

const isPlace = (part: string): boolean => part.startsWith('[');

const isBelow = ({ layer }: TableFile) => !isEditable(layer);

/** Of the parts of a sort of blocks those that each of them has; of lists only where all are equally long. */
function always(count: number, parts: ReadonlyMap<string, number>): Set<string> {
	const whole = [...parts].flatMap(([part, times]) => (times === count ? [part] : []));
	const isList = [...parts.keys()].every(isPlace);
	if (count < (isList ? ENOUGH_LISTS : ENOUGH)) return new Set();
	return new Set(isList && (whole.length < 2 || whole.length < parts.size) ? [] : whole);
}

/** The parts that all blocks of a sort have below my mod. */
function alwaysThere(files: readonly TableFile[]): Map<string, Set<string>> {
	const counts = new Map<string, { blocks: number; parts: Map<string, number> }>();
	for (const { facts } of files) {
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
	return new Map([...counts].map(([sort, { blocks: count, parts }]) => [sort, always(count, parts)]));
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
			const all = derivedBelow(table, 'parts of all', alwaysThere);
			for (const { file, facts } of mine)
				for (let nth = 0; nth < facts.count; nth++) {
					for (const [block, has] of blocksIn(facts, facts.shapes[facts.shape[nth]!]!)) {
						const parts = all.get(patternOf(block)) ?? new Set();
						const missing = [...parts].filter((part) => !has.has(part));
						const isList = parts.size > 0 && [...parts].every(isPlace);
						const faulty = missing.length > 0 || (isList && has.size > parts.size);
						const record = !faulty ? undefined : table.byId.get(facts.pool.at(facts.ids[nth]!));
						const presence = record?.presences.find(
							({ layer, path }) => isEditable(layer) && path === file.path
						);
						if (!record || !presence) continue;
						if (isList) {
							yield snagAt(stack, record, presence, {
								rule: 'missing-part',
								severity: 'warns',
								field: `${block}[0]`,
								message: `${block} has ${counted(has.size, 'place')}; every other one in the game has ${parts.size} (line ${presence.line}). ${consequence(stack, record)}.`,
								repairable: false
							});
							continue;
						}
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
