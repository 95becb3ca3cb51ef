import { claimOf, patternOf } from '../guide';
import { isGame, baseValueOf, isInBase, type EffectiveRecord } from '../stack';
import { quoted, snagAt, type Rule } from './snag';

/** The record of two that is in the higher layer: the one that somebody changed. */
function changed(a: EffectiveRecord, b: EffectiveRecord): [EffectiveRecord, EffectiveRecord] {
	const mine = (record: EffectiveRecord) => !isGame(record.presences.at(-1)!.layer);
	return mine(b) && !mine(a) ? [b, a] : [a, b];
}

/** Whether both records say what the layers below my mod say. */
const shippedSo = (records: EffectiveRecord[], path: string): boolean =>
	records.every((record) => isInBase(record) && baseValueOf(record, path) === record.value(path));

/** How sure it must be that two files are twins, where that was only detected, for it to be a warning. */
const ALIKE = 0.9;

/** Files that must stay alike and do not. */
export const twinsApart: Rule = {
	id: 'twins-apart',
	title: 'Twins differ',
	reads: ['records'],
	*find({ stack }) {
		const tableOf = (path: string) => {
			const claim = claimOf(stack.guide, path);
			return claim ? stack.tables.get(claim.kind) : undefined;
		};
		for (const { twins } of Object.values(stack.guide.kinds))
			for (const { of, file, but, found } of twins ?? []) {
				const [one, two] = [tableOf(of), tableOf(file)];
				if (!one || !two || one === two || (found && found.sure < 0.8)) continue;
				const paths = [...new Set([...one.columns, ...two.columns])].filter(
					(path) => !but.includes(path) && !but.includes(patternOf(path))
				);
				for (let row = 0; row < one.count; row++) {
					const id = one.rows.ids[row]!;
					const other = two.rows.byText.get(id);
					const differ =
						other === undefined
							? []
							: paths.filter((path) => one.column(path)[row] !== two.column(path)[other]);
					if (other !== undefined && differ.length === 0) continue;
					// What the game itself ships apart was meant so.
					const apart = differ.filter((path) => !shippedSo([one.record(row), two.record(other!)], path));
					if (other !== undefined && apart.length === 0) continue;
					const [here, there] =
						other === undefined ? [one.record(row), null] : changed(one.record(row), two.record(other));
					const presence = here.presences.at(-1)!;
					// What the game itself ships apart was meant so.
					if (isGame(presence.layer)) continue;
					const where = presence.path === of ? file : of;
					const said = apart
						.slice(0, 3)
						.map(
							(path) => `${path} ${quoted(here.value(path) ?? '')} and ${quoted(there?.value(path) ?? '')}`
						);
					yield snagAt(stack, here, presence, {
						rule: 'twins-apart',
						// Files that differ somewhere in the game itself may not be meant to be alike.
						severity: found && found.sure < ALIKE ? 'note' : 'warns',
						field: apart[0] ?? null,
						message: `${quoted(where)} should be like ${quoted(presence.path)}: ${there ? said.join(', ') : `it has no ${quoted(here.id)}`} (line ${presence.line}). The game shows one or the other, depending on where it looks.`,
						repairable: false
					});
				}
			}
	}
};
