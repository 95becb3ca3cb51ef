// Which files form a kind: by what people said, by language, by a word or field, by what they are like; and what each is called.
import { partFacts, underKey, underParts } from '../facts';
import { formatOf } from '../formats';
import { addTo } from '../gather';
import { claimsOf, type Guide, type KindGuide } from '../guide';
import {
	draftsFor,
	fromConstants,
	isSingle,
	joinAlike,
	structures,
	tellingApart,
	type Draft
} from './drafts';
import { indexOf } from './globs';
import type { DataFile, Group } from './group';
import {
	haveSeveral,
	isNamed,
	keyPartsOf,
	keysOf,
	nearlyKey,
	spareKey,
	writtenIn,
	type Written
} from './keys';
import { languagesIn, type Languages } from './languages';
import { constantsIn } from './marks';
import { endingOf, fileNameOf, folderOf, stemOf } from './paths';
import { columnsOf } from './refine';
import { columnNames } from './sketch';
import { letRunsGo } from './together';
import { told } from './worded';
import { worldsIn } from './worlds';

/** What the files of a kind agree on. */
function same<T>(list: readonly T[]): T | undefined {
	return list.every((item) => item === list[0]) ? list[0] : undefined;
}

/** Shapes of a file from which on naming its columns takes a while. */
const MANY_SHAPES = 100;

/** A name that no kind has: with what tells the files apart from those of the kind that has it, or with a number. */
function nameFor(
	{ name, files }: Draft,
	taken: ReadonlyMap<string, Draft>,
	names: ReadonlySet<string>
): string {
	const own = name.toLowerCase();
	const other = taken.get(own);
	if (!other) return unique(own, names);
	const ending = endingOf(files[0]!.path).slice(1).toLowerCase();
	const above = fileNameOf(folderOf(folderOf(files[0]!.path))).toLowerCase();
	const tried = [
		...(ending !== '' && ending !== endingOf(other.files[0]!.path).slice(1).toLowerCase()
			? [`${own}_${ending}`]
			: []),
		...(/^[\w-]+$/.test(above) && above !== own ? [`${above}_${own}`] : [])
	];
	return tried.find((one) => !names.has(one)) ?? unique(own, names);
}

const unique = (name: string, taken: ReadonlySet<string>): string => {
	let unused = name;
	for (let nth = 2; taken.has(unused); nth++) unused = `${name}-${nth}`;
	return unused;
};

/** What the one record of each file leaves out in any of them. */
const exceptOf = (files: readonly DataFile[]) => [...new Set(files.flatMap(({ except = [] }) => except))];

function groupOf(
	kind: string,
	said: KindGuide | null,
	draft: Omit<Draft, 'name'>,
	texts: boolean,
	isId?: (name: string) => boolean
): Group {
	const { files, element, where } = draft;
	return {
		kind,
		said,
		names: [kind, ...draft.names],
		globs: draft.globs,
		files,
		...(draft.id ? { id: draft.id } : {}),
		...(files[0]?.except === undefined ? {} : { except: exceptOf(files) }),
		...(element === undefined ? {} : { element }),
		...(where ? { where } : {}),
		...(draft.keyParts === undefined ? {} : { keyParts: draft.keyParts }),
		...(draft.spare === undefined ? {} : { spare: draft.spare }),
		...(draft.severalIds ? { severalIds: true } : {}),
		key: said?.key ?? same(files.map(({ facts }) => facts.key)) ?? null,
		at: draft.single ? null : same(files.map(({ facts }) => facts.at)),
		sketch: columnsOf(files, isId),
		because: draft.because,
		texts,
		twinOf: null
	};
}

/** The draft with the key that its records have by themselves, and the field that names those without it. */
function spared(draft: Draft, written: Written): Draft {
	const { files } = draft;
	const read = same(files.map(({ facts }) => facts.key));
	const key = read ?? (read === null ? nearlyKey(files, written) : null);
	if (!key) return draft;
	const under = (spare: string) =>
		files.map((file) => ({ ...file, facts: underKey(file.facts, key, spare) }));
	if (haveSeveral(files, key)) return { ...draft, severalIds: true, files: under(`${key}[0]`) };
	const spare = spareKey(files, key, written);
	return spare ? { ...draft, spare, files: under(spare) } : draft;
}

/** The draft under the key that names its records best; as it is where they are under names. In steps. */
function* keyed(draft: Draft, written: Written): Generator<void, Draft & { otherKeys?: readonly string[] }> {
	const { files } = draft;
	const fixed = formatOf(files[0]!.facts.format!)?.traits.fixedIds === true;
	if (fixed || files.some(isNamed)) return draft;
	const own = spared(draft, written);
	if (own !== draft) return own;
	const [key, ...otherKeys] = yield* keysOf(files, written);
	// What no field names is known by its place, which files have in common.
	const keyParts = key === undefined ? keyPartsOf(files) : null;
	if (keyParts) {
		const { parts, within } = keyParts;
		return {
			...draft,
			keyParts: parts,
			...(within ? { id: draft.id ?? tellingApart(draft, ['file', 'folder', 'both']) } : {}),
			files: files.map((file) => ({ ...file, facts: underParts(file.facts, parts) }))
		};
	}
	if (key === undefined)
		return !draft.id && (files.length > 1 || isSingle(files[0]!))
			? { ...draft, id: tellingApart(draft, ['file', 'both']) }
			: draft;
	// Of files that are one record each, a field that only some call an id is no better than their names.
	if (draft.id && !/(^|[._-])(id|key|uid|guid|ident)$/i.test(key))
		return { ...draft, otherKeys: [key, ...otherKeys] };
	const { id: _, ...others } = draft;
	return {
		...others,
		otherKeys,
		files: files.map((file) => ({ ...file, facts: underKey(file.facts, key) }))
	};
}

/**
 * The kinds that files form. Those that the guide claims are as it says; the others are detected from folders, names and
 * columns. In steps.
 */
export function* groupSteps(
	guide: Guide,
	files: readonly DataFile[]
): Generator<void, { groups: Group[]; languages: Languages | null }> {
	const claimed = new Map<string, DataFile[]>();
	const free: DataFile[] = [];
	const parts: DataFile[] = [];
	for (const file of files) {
		if (file.facts.parts) yield;
		parts.push(...partsOf(file));
	}
	for (const file of parts) {
		if (file.facts.format === null || file.facts.count === 0) continue;
		const claim = claimsOf(guide, file.path)[file.spec ?? 0];
		if (!claim) free.push(file);
		else addTo(claimed, claim.kind, file);
	}
	const groups: Group[] = [];
	const names = new Set(Object.keys(guide.kinds));
	for (const [kind, list] of claimed) {
		const said = guide.kinds[kind]!;
		groups.push(
			groupOf(
				kind,
				said,
				{
					names: [said.title],
					globs: said.files,
					files: list,
					because: 'the field guide says so',
					...(said.id ? { id: said.id } : {})
				},
				guide.words?.kind === kind
			)
		);
	}
	const families = guide.words ? [] : languagesIn(free);
	const inWords = new Set(families.flatMap((family) => family.files.map(({ path }) => path)));
	families.forEach((family, nth) => {
		const kind = unique(nth === 0 ? 'text' : textsName(family), names);
		names.add(kind);
		const codes = Object.keys(family.languages).join(', ');
		groups.push(
			groupOf(
				kind,
				null,
				{
					names: ['text'],
					globs: family.globs,
					files: family.files,
					because: `their paths differ in a language (${codes}), and they have the same keys`
				},
				true
			)
		);
	});
	const rest = free.filter(({ path }) => !inWords.has(path));
	const paths = indexOf(new Set(files.filter(({ facts }) => facts.format !== null).map(({ path }) => path)));
	const worldOf = worldsIn(rest);
	const { drafts, left } = yield* told(rest, paths, worldOf);
	const written = yield* writtenIn(free);
	yield;
	const isId = idsIn(free);
	yield;
	const constants = free[0] ? constantsIn(left, free[0].facts.pool, written) : [];
	const apart = new Set(constants.map(({ file }) => file));
	const plain = left.filter((file) => !apart.has(file));
	for (const { facts } of plain) {
		columnNames(facts);
		if (facts.shapes.length > MANY_SHAPES) yield;
	}
	yield;
	const single = draftsFor(structures(plain), paths);
	yield;
	const others = yield* joinAlike(single, paths, worldOf);
	yield;
	const taken = new Map<string, Draft>();
	for (const draft of [...drafts, ...constants.map(fromConstants), ...others]) {
		const { name: _, otherKeys, ...own } = yield* keyed(draft, written);
		yield;
		const kind = nameFor(draft, taken, names);
		names.add(kind);
		taken.set(kind, draft);
		const group = groupOf(kind, null, own, false, isId);
		groups.push(otherKeys && otherKeys.length > 0 ? { ...group, otherKeys } : group);
		letRunsGo();
		yield;
	}
	return { groups, languages: families[0] ?? null };
}

/** What texts beside the game's main ones are called: as their file, without the language. */
const textsName = ({ globs }: Languages): string =>
	stemOf(globs[0]!.replace(/[._-]\{language\}|\{language\}[._-]/, '')).replace(/\*/g, '') || 'text';

/** Everything by which some record is named. */
function idsIn(files: readonly DataFile[]): (name: string) => boolean {
	const [first] = files;
	if (!first) return () => false;
	const { pool } = first.facts;
	// A place for each text of the game: of hundreds of thousands of ids that is sooner done than a set of them.
	const isId = new Uint8Array(pool.size);
	for (const { facts } of files) {
		const { ids, written } = facts;
		for (let nth = 0; nth < ids.length; nth++) if (written[nth] === 1) isId[ids[nth]!] = 1;
	}
	return (name) => isId[pool.find(name)] === 1;
}

/** A file as what holds records of one kind each: its parts, as far as they are known. */
function partsOf(file: DataFile): DataFile[] {
	const { parts } = file.facts;
	if (!parts) return [file];
	const all = partFacts(file.facts);
	const collections = all.filter(({ at }) => at).length;
	return all.map((facts, nth) => {
		const { spec, element, except } = parts[nth]!;
		return {
			path: file.path,
			facts,
			spec,
			...(element === undefined ? {} : { element }),
			...(except === undefined ? {} : { except }),
			...(collections > 1 ? { collections } : {})
		};
	});
}

/** A group cut into one for each of its files: when each of them is referred to on its own. Their names join `names`. */
export function splitGroup(group: Group, names: Set<string>): Group[] {
	names.delete(group.kind);
	return group.files.map((file) => {
		const stem = stemOf(file.path).toLowerCase();
		const kind = unique(names.has(stem) ? `${stem}_${group.kind}` : stem, names);
		names.add(kind);
		return groupOf(
			kind,
			null,
			{
				names: [`${stem} ${group.kind}`, stem],
				globs: [file.path],
				files: [file],
				because: `fields of other kinds name records of this file only, though ${group.files.length} have the same columns`
			},
			false
		);
	});
}
