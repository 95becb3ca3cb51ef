// What goes along with a mod that is given away, for those who play it: what it changes, from the values themselves, and
// a read-me. The same mod always gives the same texts.
import { summaryOf, type GameChanges, type RecordChange } from '../carry';
import { claimOf, spoiledBy, titleOf, type Guide } from '../guide';
import type { ModOption } from '../options';
import type { Identity } from '../stack';
import { counted, listed } from '../wording';
import type { TablePicture } from './pictures';

/** Records of a kind that are told one by one; of more, only how far their values went. */
const MOST = 30;
/** Fields of one record that are told. */
const FIELDS = 12;

const numberIn = (text: string | null): number => (text === null || text.trim() === '' ? NaN : Number(text));

const percent = (share: number): string => {
	const rounded = Math.round(share * 1000) / 10;
	return `${rounded > 0 ? '+' : rounded < 0 ? '−' : ''}${Math.abs(rounded)} %`;
};

const shown = (value: string | null): string =>
	value === null || value === '' ? 'nothing' : value.length > 60 ? `${value.slice(0, 59)}…` : value;

/** One value before and after; of numbers, by how much. */
function valueInWords(title: string, old: string | null, fresh: string | null): string {
	const [was, is] = [numberIn(old), numberIn(fresh)];
	const by =
		Number.isFinite(was) && Number.isFinite(is) && was !== 0
			? ` (${percent((is - was) / Math.abs(was))})`
			: '';
	return `${title} ${shown(old)} → ${shown(fresh)}${by}`;
}

/** How a record is called: by what players see, and by its id where that is another. */
const called = ({ name, record }: RecordChange): string => (name === record ? record : `${name} (${record})`);

function recordInWords(one: RecordChange, titleOf: (path: string) => string): string {
	const values = one.fields
		.slice(0, FIELDS)
		.map(({ path, old, new: fresh }) => valueInWords(titleOf(path), old, fresh))
		.join('; ');
	const more = one.fields.length > FIELDS ? `; ${counted(one.fields.length - FIELDS, 'more field')}` : '';
	switch (one.what) {
		case 'new':
			return `New: ${called(one)}`;
		case 'gone':
			return `Removed: ${called(one)}`;
		case 'renamed':
			return `${called(one)}, before ${one.from?.record ?? '?'}${values && `: ${values}${more}`}`;
		case 'moved':
			return values === '' ? `${called(one)}: in another file` : `${called(one)}: ${values}${more}`;
		default:
			return `${called(one)}: ${values}${more}`;
	}
}

/**
 * What a mod changes, as Markdown: by kind, each record with its values and their change in per cent; of many records
 * how far their values went.
 * @param changes from the game without the mod to the game with it
 */
export function changeList(guide: Guide, changes: GameChanges): string {
	// Who a mod is stands elsewhere.
	const records = changes.records.filter(({ file }) => file === null || file !== guide.identity);
	const { kinds, files } = summaryOf({ ...changes, records });
	const lines: string[] = [];
	for (const { kind, records, values } of kinds) {
		if (records.length === 0) continue;
		const about = guide.kinds[kind];
		const titled = (path: string) => titleOf(about, path);
		if (lines.length > 0) lines.push('');
		lines.push(`## ${about?.plural ?? about?.title ?? kind}`, '');
		const told =
			records.length > MOST ? records.filter(({ what }) => what !== 'changed').slice(0, MOST) : records;
		if (told.length < records.length) {
			lines.push(`- ${counted(records.length, 'record')} in all`);
			for (const { path, count, middle, range } of values.slice(0, FIELDS))
				lines.push(
					`- ${titled(path)}: ${counted(count, 'record')}${middle === null || range === null ? '' : `, ${percent(middle)} in the middle, from ${percent(range[0])} to ${percent(range[1])}`}`
				);
		}
		for (const one of told) lines.push(`- ${recordInWords(one, titled)}`);
	}
	// Files with records are told by these.
	const others = files.filter(({ path }) => claimOf(guide, path) === null);
	if (others.length > 0) {
		if (lines.length > 0) lines.push('');
		lines.push('## Files', '');
		for (const { path, what } of others) lines.push(`- \`${path}\`: ${what}`);
	}
	return lines.length === 0 ? 'It changes nothing.\n' : `${lines.join('\n')}\n`;
}

/** What a read-me is made of. */
export interface ReadMe {
	identity: Identity;
	guide: Guide;
	/** The list of changes, as Markdown. */
	changes: string;
	options: readonly Pick<ModOption, 'title' | 'about' | 'oneOf' | 'standard'>[];
	/** Paths of the mod's files. */
	paths: readonly string[];
	/** The field guide as a file, where that may go along. */
	guideText?: string;
	/** Pictures that go along. */
	pictures?: readonly TablePicture[];
}

const bullets = (items: readonly string[]): string => items.map((item) => `- ${item}`).join('\n');

function installation({ guide: { install }, identity: { name } }: ReadMe): string {
	if (!install) return 'Put the files where the game looks for mods.\n\nTo remove it, delete them again.';
	const folder = install.folder.replaceAll('{mod}', name);
	const where = folder === '.' ? 'the game’s folder' : `\`${folder}\` below the game’s folder`;
	if (install.over)
		return `1. Keep a copy of each file of the game that is in the pack: they are replaced.\n2. Copy the pack into ${where}.\n\nTo remove it, put the copies back.`;
	const on =
		install.order === undefined
			? []
			: [
					typeof install.listed === 'object'
						? `Add \`${name}\` to \`${install.listed.field}\` in \`${install.order}\`.`
						: install.listed === 'lines'
							? `Add a line \`${name}\` to \`${install.order}\`.`
							: `Add \`"${name}"\` to the list of mods in \`${install.order}\`.`
				];
	const steps = [`Copy the pack into ${where}.`, ...on].map((step, nth) => `${nth + 1}. ${step}`);
	const off = `delete that folder${on.length > 0 ? ` and take the name out of \`${install.order}\` again` : ''}`;
	return `${steps.join('\n')}\n\nTo remove it, ${off}.`;
}

/** The read-me of a mod, as Markdown. A template may stand in for the usual one; `{…}` are the parts of the usual one. */
export function readMe(made: ReadMe, template = made.guide.share?.readme ?? TEMPLATE): string {
	const { identity, guide, changes, options, paths } = made;
	const needs = [
		...identity.requires.map((name) => `It needs ${name}.`),
		...(identity.after.length > 0 ? [`It has to load after ${listed(identity.after)}.`] : []),
		...(identity.notWith.length > 0
			? [`It does not work together with ${listed(identity.notWith, 'or')}.`]
			: [])
	];
	const spoiled = spoiledBy(guide, paths).map(
		({ says, because }) => `It ${says}${because ? `: ${because}` : ''}.`
	);
	const choices = options.map(
		({ title, about, oneOf, standard }) =>
			`**${title}**${oneOf === null ? '' : ` (one of “${oneOf}”)`}${standard ? ', on unless you leave it out' : ''}${about ? `: ${about}` : ''}`
	);
	const parts: Record<string, string> = {
		title: identity.title,
		version: identity.version,
		game: identity.gameVersion === '' ? '' : `For version ${identity.gameVersion} of the game.`,
		description: identity.description,
		needs: needs.length === 0 ? '' : `## What it needs\n\n${bullets(needs)}`,
		options: choices.length === 0 ? '' : `## Optional parts\n\n${bullets(choices)}`,
		takes: spoiled.length === 0 ? '' : `## What to know before\n\n${bullets(spoiled)}`,
		install: installation(made),
		changes: changes.replace(/^## /gm, '### ').trimEnd(),
		pictures: (made.pictures ?? []).map(({ path, title }) => `![${title}](${path})`).join('\n\n')
	};
	const text = template.replace(/\{(\w+)\}/g, (all, name: string) => parts[name] ?? all);
	return `${text
		.replace(/[ \t]+$/gm, '')
		.replace(/\n{3,}/g, '\n\n')
		.trim()}\n`;
}

/** The usual read-me. */
export const TEMPLATE = `# {title} {version}

{game}

{description}

{needs}

{options}

{takes}

## Installation

{install}

## What it changes

{pictures}

{changes}
`;

/** The texts that may go along, by what they are, with their paths in the pack. */
export const SHARED = { readme: 'README.md', changes: 'CHANGES.md', guide: 'field-guide.yaml' } as const;
export type Shared = keyof typeof SHARED | 'pictures';

/** Whether a word names something that may go along. */
export const isShared = (word: string): word is Shared => word === 'pictures' || Object.hasOwn(SHARED, word);

/** Some of the texts that may go along, by their paths in the pack. */
export function sharedTexts(made: ReadMe, wanted: readonly Shared[]): Map<string, string> {
	const { pictures = [] } = made;
	const isWith = wanted.includes('pictures');
	const texts = {
		readme: () => readMe(isWith ? made : { ...made, pictures: [] }),
		changes: () => `# What ${made.identity.title} changes\n\n${made.changes}`,
		guide: () => made.guideText ?? ''
	};
	return new Map([
		...wanted.flatMap((what): [string, string][] =>
			what === 'pictures' ? [] : [[SHARED[what], texts[what]()]]
		),
		...(isWith ? pictures.map(({ path, svg }): [string, string] => [path, svg]) : [])
	]);
}
