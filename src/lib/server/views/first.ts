// The first sight of a game: what was understood in a few lines, and what to do next.
import { understoodOf } from '$core/checks';
import { fieldOf, spokenPath, type ReferenceGuide } from '$core/guide';
import type { Facts } from '$core/facts';
import { SURE } from '$core/text';
import type { FirstView } from '$core/views';
import type { Model } from '../model';
import { kindsOf } from './table';

const [KINDS, REFERENCES, UNREAD] = [8, 6, 6];

const sureOf = ({ found }: ReferenceGuide) => found?.sure ?? 1;

/** References that hold for the most values, the surest first. */
function referencesIn({ stack, links }: Model): FirstView['references'] {
	const counts = new Map<string, { kind: string; field: string; reference: ReferenceGuide; count: number }>();
	for (const { table, field, values, text } of links.strands) {
		const about = stack.guide.kinds[table.kind]!;
		const reference = text ? undefined : fieldOf(about, field)?.reference;
		if (!reference) continue;
		const spoken = spokenPath(about, field) ?? field;
		const key = `${table.kind}\n${spoken}`;
		const known = counts.get(key) ?? { kind: table.kind, field: spoken, reference, count: 0 };
		counts.set(key, { ...known, count: known.count + values.filter((value) => value >= 0).length });
	}
	const titleOf = (kind: string) => stack.guide.kinds[kind]!.plural ?? stack.guide.kinds[kind]!.title;
	return [...counts.values()]
		.filter(({ count }) => count > 0)
		.sort((a, b) => b.count * sureOf(b.reference) - a.count * sureOf(a.reference))
		.slice(0, REFERENCES)
		.map(({ kind, field, reference, count }) => ({
			kind,
			title: titleOf(kind),
			field: fieldOf(stack.guide.kinds[kind], field)?.title ?? field,
			path: field,
			targets: reference.kinds.slice(0, 2).map(titleOf),
			more: Math.max(0, reference.kinds.length - 2),
			count,
			sure: reference.found ? reference.found.sure : null
		}));
}

/** Whether bytes are a text for all that is known. */
const isReadable = (letters: Facts['letters']): boolean =>
	letters !== null && (letters.told !== 'guess' || letters.confidence >= SURE);

/** Texts that nobody could read as data. */
function unreadIn({ stack }: Model): FirstView['unread'] {
	const found: FirstView['unread']['files'] = [];
	let count = 0;
	for (const layer of stack.layers) {
		if (layer.owner === 'me') continue;
		for (const [path, { facts, size }] of layer.files) {
			// What holds the bytes of a picture or a program is no text, whatever it is called.
			if (!facts || facts.format !== null || size === 0 || !isReadable(facts.letters)) continue;
			count++;
			if (found.length < UNREAD) found.push({ layer: layer.id, path, size });
		}
	}
	return { files: found, count };
}

/** What was understood, and the next steps that help the most. */
export function firstOf(model: Model): FirstView {
	const { stack, links, project } = model;
	const understood = understoodOf(stack, links);
	const kinds = kindsOf(model).sort((a, b) => b.records - a.records);
	const unread = unreadIn(model);
	const words = stack.guide.words;
	const open = understood.first.find(({ hangs }) => hangs > 0);
	const steps: FirstView['steps'] = [
		...(kinds.length > 0
			? [
					{
						title: 'Find something to change',
						about: 'Search for a name that players see, a number, or an id.',
						href: 'find'
					}
				]
			: []),
		...(open
			? [
					{
						title: `Check ${open.field} of ${open.title}`,
						about: 'It was only detected, may be wrong, and much depends on it.',
						href: `guide/${encodeURIComponent(open.kind)}?field=${encodeURIComponent(open.field)}`
					}
				]
			: []),
		...(unread.files[0]
			? [
					{
						title: `Say how ${unread.files[0].path.split('/').at(-1)} is read`,
						about: 'It is text that is not read as data yet.',
						href: `read/${encodeURIComponent(unread.files[0].layer)}/${unread.files[0].path.split('/').map(encodeURIComponent).join('/')}`
					}
				]
			: []),
		...(project.identity === null && stack.mine?.files.size === 0
			? [{ title: 'Name your mod', about: 'Its title, version, and what it needs.', href: 'mod' }]
			: []),
		{ title: 'Browse the tables', about: 'Every kind with its records.', href: 'tables' }
	];
	return {
		lines: understood.lines,
		kinds: kinds.slice(0, KINDS).map(({ kind, title, records }) => ({ kind, title, records })),
		allKinds: kinds.length,
		references: referencesIn(model),
		languages: words ? Object.values(words.languages) : [],
		texts: words ? (stack.tables.get(words.kind)?.count ?? 0) : 0,
		unread,
		review: understood.first.slice(0, 3),
		steps: steps.slice(0, 3)
	};
}
