// Kinds, fields, codes, files, folders and notes: few enough to look at each.
import { fieldOf } from '../guide';
import { fold, wordsOf } from './fold';
import { fits, type Wanted } from './clues';
import { inRoll, rollOf, type Roll } from './roll';
import type { Given, Hit, HitGroup, SearchIndex, SearchOptions } from './types';

/** Hits of each group. */
const MOST = 40;

/** One thing that has titles. */
interface Titled {
	group: HitGroup;
	titles: { text: string; folded: string; words: string[] }[];
	name: string;
	reason: string;
	place: Partial<Place>;
	format?: string | undefined;
}

/** How well a title answers all words: 0 for not at all. */
function titleScore({ text, folded, words }: Titled['titles'][number], wanted: Wanted): number {
	if (wanted.pattern)
		return fits(wanted.exactCase ? text : folded, wanted.exactCase ? wanted.typed : wanted.phrase) ? 60 : 0;
	if (folded === wanted.phrase) return 60;
	for (const word of wanted.words) {
		if (wanted.exactCase && !text.includes(word.typed)) return 0;
		const whole = wanted.whole || !Number.isNaN(word.number);
		const there = whole
			? word.parts.length > 0 && word.parts.every((part) => words.includes(part))
			: folded.includes(word.folded);
		if (!there) return 0;
	}
	const share = Math.min(1, wanted.phrase.length / folded.length);
	return (folded.startsWith(wanted.phrase) ? 45 : 25) + 10 * share;
}

type Place = Pick<Hit, 'layer' | 'file' | 'kind' | 'field' | 'record'>;

const PLACE: Place = { layer: '', file: '', kind: null, field: null, record: null };

/** Where a note leads. */
const placeOfNote = ({ on }: Given): Place => ({
	...PLACE,
	file: on.file ?? on.folder ?? '',
	kind: on.kind ?? null,
	field: on.field ?? null,
	record: on.record ?? null
});

const titled = (
	group: HitGroup,
	titles: string[],
	name: string,
	reason: string,
	place: Partial<Place>,
	format?: string
): Titled => ({
	group,
	titles: titles.map((text) => {
		const folded = fold(text);
		return { text, folded, words: wordsOf(folded) };
	}),
	name,
	reason,
	place,
	format
});

function* titledIn({ tables, stack }: SearchIndex): Generator<Titled> {
	for (const { kind, guide, columns, count } of tables) {
		if (count === 0) continue;
		const title = guide.plural ?? guide.title;
		yield titled('kind', [title, guide.title, kind], title, 'kind', { kind });
		for (const path of columns) {
			const about = fieldOf(guide, path);
			const named = about?.title ?? path;
			const titles = [named, path, ...(about?.meaning ? [about.meaning] : [])];
			yield titled('field', titles, named, `field of ${title}`, { kind, field: path });
			for (const [code, meaning] of Object.entries(about?.codes ?? {}))
				yield titled(
					'meaning',
					[meaning, `${code} ${meaning}`],
					`${code}: ${meaning}`,
					`${named} of ${title}`,
					{
						kind,
						field: path
					}
				);
		}
	}
	const seen = new Set<string>();
	const folders = new Set<string>();
	for (const layer of [...stack.layers].reverse())
		for (const { path, facts } of layer.files.values()) {
			if (seen.has(path)) continue;
			seen.add(path);
			const slash = path.lastIndexOf('/');
			const place = { layer: layer.id, file: path };
			yield titled('file', [path.slice(slash + 1), path], path, 'file name', place, facts?.format ?? '');
			for (let at = slash; at > 0; at = path.lastIndexOf('/', at - 1)) {
				const folder = path.slice(0, at);
				if (folders.has(folder)) break;
				folders.add(folder);
				const titles = [folder.slice(folder.lastIndexOf('/') + 1), folder];
				yield titled('folder', titles, folder, 'folder', { layer: layer.id, file: folder }, '');
			}
		}
}

/** All that has titles, with its titles in one roll. */
interface Titles {
	all: Titled[];
	roll: Roll;
	/** Of each title of the roll, the number of what has it. */
	owners: Int32Array;
}

const kept = new WeakMap<SearchIndex, Titles>();

function titlesOf(index: SearchIndex): Titles {
	const known = kept.get(index);
	if (known) return known;
	const all = [...titledIn(index)];
	const owners = all.flatMap(({ titles }, at) => titles.map(() => at));
	const made = {
		all,
		roll: rollOf(all.flatMap(({ titles }) => titles.map(({ folded }) => folded.replaceAll('\n', ' ')))),
		owners: Int32Array.from(owners)
	};
	kept.set(index, made);
	return made;
}

/** Those of which a title can answer all words: each title that does has the longest of them in it. */
function* likely({ all, roll, owners }: Titles, wanted: Wanted): Generator<Titled> {
	if (wanted.pattern) {
		yield* all;
		return;
	}
	const part = wanted.words
		.map((word) =>
			wanted.whole || !Number.isNaN(word.number) ? (word.parts[0] ?? word.folded) : word.folded
		)
		.reduce((longest, other) => (other.length > longest.length ? other : longest), '');
	if (part === '') return;
	let last = -1;
	for (const title of inRoll(roll, part)) {
		if (owners[title] === last) continue;
		last = owners[title]!;
		yield all[last]!;
	}
}

/** Hits that are no records, at most so many of each group, best first. */
export function namedHits(index: SearchIndex, wanted: Wanted, options: SearchOptions): Hit[] {
	const groups = new Map<HitGroup, Hit[]>();
	const look = ({ group, titles, name, reason, place }: Titled) => {
		let score = 0;
		let matched = '';
		for (const title of titles) {
			const found = titleScore(title, wanted);
			if (found > score) [score, matched] = [found, title.text];
		}
		if (score === 0) return;
		const list = groups.get(group) ?? [];
		groups.set(group, list);
		list.push({ group, line: 0, name, matched, reason, uses: 0, score, ...PLACE, ...place });
	};
	const { folder, layer, format } = options;
	for (const one of likely(titlesOf(index), wanted)) {
		const path = one.place.file;
		if (path === undefined && (folder || layer || format)) continue;
		if (path !== undefined && folder && !path.startsWith(`${folder}/`)) continue;
		if (layer && one.place.layer !== layer) continue;
		if (format && one.format !== format) continue;
		look(one);
	}
	for (const note of options.given ?? [])
		look(titled('note', [note.text], note.text, note.what, placeOfNote(note)));
	return [...groups.values()].flatMap((list) => list.sort((a, b) => b.score - a.score).slice(0, MOST));
}
