import type { Facts } from '../facts';
import { nearest } from '../links';
import { derivedBelow, isEditable, isInBase, type Table, type TableFile } from '../stack';
import { consequence, quoted, snagAt, type Rule } from './snag';

/** Records that all have a field, from which on it says something that one has not; and from which on it is telling. */
const ENOUGH = 20;
const TELLING = 60;
/** Share of my records of a kind that may lack what all others have: more of them, and it is how my mod is written. */
const MOST_LACKING = 0.5;
/** Records of mine of which so large a share says something. */
const FEWEST = 4;

const isBelow = ({ layer }: TableFile) => !isEditable(layer);
const nameOf = (path: string): string => path.split(/[.[]/, 1)[0]!;

/** The names of the fields of a record, without what is within them. */
const namesIn = ({ pool }: Facts, shape: Int32Array): Set<string> =>
	new Set(Array.from(shape, (path) => nameOf(pool.at(path))));

/** What the records below my mod have: all names, and those that each of them has. */
function namesBelow(files: readonly TableFile[]): { records: number; known: Set<string>; always: string[] } {
	let records = 0;
	const times = new Map<string, number>();
	for (const { facts } of files) {
		const counts = new Int32Array(facts.shapes.length);
		for (const shape of facts.shape) counts[shape]!++;
		records += facts.count;
		facts.shapes.forEach((shape, nth) => {
			for (const name of namesIn(facts, shape)) times.set(name, (times.get(name) ?? 0) + counts[nth]!);
		});
	}
	const always = [...times].flatMap(([name, count]) => (count === records ? [name] : []));
	return { records, known: new Set(times.keys()), always };
}

/** What was meant by a name that no other record has: one that all others have and this one has not. */
const isMeant = (unknown: string, missing: string): boolean =>
	unknown.startsWith(missing) || missing.startsWith(unknown) || nearest(unknown, [missing]).length > 0;

/** Whether it would say nothing of a kind that some of its records are without a field. */
const isLoose = ({ guide }: Table): boolean => guide.merge === 'field' || guide.inherits !== undefined;

/** A record without a field that every other one of the game has, where nobody said whether the game needs it. */
export const incompleteRecord: Rule = {
	id: 'incomplete-record',
	title: 'Incomplete record',
	reads: ['records'],
	*find({ stack }) {
		const below = stack.layers.filter((layer) => !isEditable(layer));
		for (const table of stack.tables.values()) {
			yield null;
			const mine = table.files.filter((file) => !isBelow(file));
			if (mine.length === 0 || isLoose(table) || stack.guide.words?.kind === table.kind) continue;
			const { records, known, always } = derivedBelow(table, 'names of all', namesBelow);
			if (records < ENOUGH || always.length === 0) continue;
			const lacking: { id: string; file: TableFile; missing: string[]; unknown: string[] }[] = [];
			let all = 0;
			for (const file of mine) {
				const { facts } = file;
				const lacks = facts.shapes.map((shape) => {
					const has = namesIn(facts, shape);
					return {
						missing: always.filter((name) => !has.has(name)),
						unknown: [...has].filter((name) => !known.has(name))
					};
				});
				all += facts.count;
				facts.shape.forEach((shape, nth) => {
					if (lacks[shape]!.missing.length > 0)
						lacking.push({ id: facts.pool.at(facts.ids[nth]!), file, ...lacks[shape]! });
				});
			}
			if (all >= FEWEST && lacking.length > all * MOST_LACKING) continue;
			for (const { id, file, missing, unknown } of lacking) {
				const record = table.byId.get(id);
				const presence = record?.presences.find(
					({ layer, path }) => isEditable(layer) && path === file.file.path
				);
				// What stands elsewhere than in the game may be there to change only what it says.
				if (
					!record ||
					!presence ||
					(isInBase(record) && !below.some(({ files }) => files.has(presence.path)))
				)
					continue;
				for (const name of missing) {
					// What somebody said of it is another rule's.
					const said = table.guide.fields[name];
					if (name === table.guide.key || (said?.required && !said.found)) continue;
					const meant = unknown.find((one) => isMeant(one, name));
					const field = meant && presence.record.fields.find(({ path }) => nameOf(path) === meant)?.path;
					const what = `${name} is missing: each of the ${records} others in the game has it (line ${presence.line}).`;
					yield snagAt(stack, record, presence, {
						rule: 'incomplete-record',
						severity: meant || records >= TELLING ? 'warns' : 'note',
						field: field ?? name,
						message: meant
							? `${what} None of them has ${quoted(meant)}; is that a typo? ${consequence(stack, record)}.`
							: `${what} ${consequence(stack, record)}.`,
						repairable: false
					});
				}
			}
		}
	}
};
