// How much of my mod the checks can speak for: what nobody described, or could not be read, is not vouched for.
import { isEditable } from '../stack';
import { fieldOf } from '../guide';
import type { Links } from '../links';
import type { Stack } from '../stack';

/** What of my mod was checked, in numbers. */
export interface Vouched {
	/** Files of my mod, and those among them that are read as data or as script. */
	files: number;
	read: number;
	/** Paths of files that nobody could look into; the first of them. */
	unread: string[];
	records: number;
	/** Values of my records, and those of which the field guide says enough to check them. */
	values: number;
	known: number;
	/** References of the whole stack that were followed. */
	references: number;
	/** Whether people described the game: else all that is known of it was detected. */
	guided: boolean;
	/** Whether all of it together is enough to say that the game loads the mod. */
	whole: boolean;
}

/** How sure a detected statement must be to be checked against. */
const SURE = 0.9;
/** Share of the values that must be known. */
const ENOUGH = 0.9;
const LISTED = 20;

/** What the checks of a stack speak for. */
export function vouchedFor({ guide, mine, tables }: Stack, links: Links): Vouched {
	const guided = Object.values(guide.kinds).some(({ inferred }) => !inferred);
	const paths = [...(mine?.paths ?? mine?.files.keys() ?? [])];
	const unread = paths.filter((path) => {
		const facts = mine?.files.get(path)?.facts;
		return !facts || facts.problems.length > 0;
	});
	let [records, values, known] = [0, 0, 0];
	for (const { files, guide: kind } of tables.values())
		for (const { layer, facts } of files) {
			if (!isEditable(layer)) continue;
			records += facts.count;
			const speaks = new Map<number, boolean>();
			for (const number of facts.shape)
				for (const path of facts.shapes[number]!) {
					let is = speaks.get(path);
					if (is === undefined) {
						const field = fieldOf(kind, facts.pool.at(path));
						is = field !== undefined && (field.found === undefined || field.found.sure >= SURE);
						speaks.set(path, is);
					}
					values++;
					if (is) known++;
				}
		}
	const share = values === 0 ? 1 : known / values;
	return {
		files: paths.length,
		read: paths.length - unread.length,
		unread: unread.slice(0, LISTED),
		records,
		values,
		known,
		references: links.strands.reduce((sum, { values: all }) => sum + all.length, 0),
		guided,
		whole: guided && share >= ENOUGH
	};
}
