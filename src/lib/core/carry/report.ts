// What was carried over, decided and dropped, in plain words: as Markdown, for a change list.
import type { Stack } from '../stack';
import { counted } from '../wording';
import type { CarryItem } from './items';

const shown = (value: string | null): string =>
	value === null ? 'nothing' : `\`${value.replaceAll('`', "'")}\``;

/** One item in one line, without what it is about. */
export function itemInWords({
	field,
	old,
	new: fresh,
	mine,
	result,
	why,
	candidates,
	by
}: CarryItem): string {
	const values =
		field === null || (old === null && fresh === null && mine === null)
			? ''
			: old === null && fresh === null
				? ` is ${shown(mine)}.`
				: ` was ${shown(old)}, the game has ${shown(fresh)}, yours is ${shown(mine)}${result === mine ? '' : `; it is ${shown(result)} now`}.`;
	const chosen =
		by === 'mine'
			? ' Yours counts.'
			: by === 'theirs'
				? ' The game’s counts.'
				: by === 'on-top'
					? ' Your change was made on top of the game’s.'
					: '';
	const near =
		candidates.length === 0
			? ''
			: ` Nearest: ${candidates.map(({ kind, value, because }) => `${kind === null ? '' : `${kind} `}${value} (${because})`).join(', ')}.`;
	return `${field === null ? '' : `${field}`}${values}${values || field === null ? '' : ':'} ${why}${chosen}${near}`.trim();
}

const TITLES = {
	undecided: 'To decide',
	homeless: 'Without a place in the new version',
	carried: 'Carried over',
	refreshed: 'Taken over from the new version'
} as const;

/** The order in which people look at them. */
export const ORDER = ['undecided', 'homeless', 'carried', 'refreshed'] as const;

/** A record or file as a heading. */
const called = ({ guide }: Stack, { kind, record, name, from }: CarryItem): string => {
	const what = kind === null ? `\`${record}\`` : `${guide.kinds[kind]?.title ?? kind} ${name}`;
	const id = kind === null || name === record ? '' : ` (\`${record}\`)`;
	return `${what}${id}${from === null ? '' : `, before \`${from}\``}`;
};

/** The list of what became of a mod, as Markdown. @param stack the layers of the new version */
export function carriedInWords(stack: Stack, title: string, items: readonly CarryItem[]): string {
	const lines = [`# ${title}`, ''];
	const counts = ORDER.map((what) => items.filter((item) => item.what === what).length);
	lines.push(
		`${counted(counts[2]!, 'change')} carried over, ${counted(counts[3]!, 'value')} taken over from the new version, ${counts[0]} to decide, ${counts[1]} without a place.`
	);
	for (const what of ORDER) {
		const own = items.filter((item) => item.what === what);
		if (own.length === 0) continue;
		lines.push('', `## ${TITLES[what]}`);
		let last = '';
		for (const item of own) {
			const heading = called(stack, item);
			if (heading !== last) lines.push('', `### ${heading}`, '');
			last = heading;
			lines.push(`- ${itemInWords(item)}`);
		}
	}
	return `${lines.join('\n')}\n`;
}
