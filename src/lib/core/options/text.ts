// The options of a mod in words, for the players who unpack it.
import { addTo } from '../gather';
import type { Identity } from '../stack';
import type { ModOption } from './schema';

/** What each option is, which go together, and which are on by default; beside the folders of the mod and its options. */
export function optionsText({ name, title, version }: Identity, options: readonly ModOption[]): string {
	const lineOf = ({ id, title: called, about, standard }: ModOption) =>
		`  ${name}_${id}: ${called}${standard ? ' (on by default)' : ''}${about ? `. ${about}` : ''}`;
	const groups = new Map<string, ModOption[]>();
	for (const option of options) if (option.oneOf !== null) addTo(groups, option.oneOf, option);
	const free = options.filter(({ oneOf }) => oneOf === null);
	const parts = [
		`${title} ${version}`,
		`Install the folder “${name}”, and after it the folders of the options that you want.`,
		...[...groups].map(([group, list]) => [`${group}: choose one`, ...list.map(lineOf)].join('\n')),
		...(free.length > 0 ? [['On or off', ...free.map(lineOf)].join('\n')] : [])
	];
	return `${parts.join('\n\n')}\n`;
}
