// What each sort of change makes of the field guide as people wrote it.
import {
	completedGuide,
	fieldOf,
	GuideFault,
	kindToWrite,
	mergeGuides,
	parseGuide,
	placeDocs,
	readDocs,
	statementIn,
	withoutFound,
	withStatement,
	type FieldGuide,
	type Guide,
	type KindGuide
} from '$core/guide';
import { formulaFor } from '$core/numbers';
import { counted, listed } from '$core/wording';
import type { GuideChange } from '$core/views';
import type { WrittenGuides } from './db/guides';

/** What of a field was found and can be accepted or rejected at once. */
const FOUND = [
	'type',
	'reference',
	'derive',
	'counts',
	'codes',
	'unit',
	'meaning',
	'separator',
	'weight',
	'decimals',
	'min',
	'max'
] as const;
/** A kind is in one's own guide before anything is said of its fields, where the shared one does not have it. */
function withKind(written: WrittenGuides, guide: Guide, kind: string): string | null {
	const there = statementIn(written.shared, ['kinds', kind]) ?? statementIn(written.mine, ['kinds', kind]);
	const found = guide.kinds[kind];
	if (!found) throw new GuideFault(`There is no kind “${kind}”.`);
	return there === undefined
		? withStatement(written.mine, ['kinds', kind], kindToWrite(found))
		: written.mine;
}

/** The kinds to which a reference leads have to be in the guide too. */
function withTargets(written: WrittenGuides, guide: Guide, field: Partial<FieldGuide>): string | null {
	let { mine } = written;
	for (const target of field.reference?.kinds ?? []) mine = withKind({ ...written, mine }, guide, target);
	return mine;
}

function accepted(
	written: WrittenGuides,
	guide: Guide,
	change: Extract<GuideChange, { do: 'accept' | 'reject' }>
): string | null {
	const { kind, field, part } = change;
	let mine = withKind(written, guide, kind);
	if (part !== undefined)
		return withStatement(mine, ['kinds', kind, part], withoutFound(guide.kinds[kind]![part]));
	if (field === undefined) return mine;
	const found = fieldOf(guide.kinds[kind], field);
	if (!found) throw new GuideFault(`${guide.kinds[kind]!.title} has no field “${field}”.`);
	mine = withTargets({ ...written, mine }, guide, found);
	const plain = withoutFound(found);
	for (const name of FOUND)
		if (
			plain[name] !== undefined &&
			statementIn(written.shared, ['kinds', kind, 'fields', field, name]) === undefined
		)
			mine = withStatement(mine, ['kinds', kind, 'fields', field, name], plain[name]);
	return mine;
}

function rejected(
	written: WrittenGuides,
	guide: Guide,
	change: Extract<GuideChange, { do: 'accept' | 'reject' }>
): string | null {
	const { kind, field, part } = change;
	const mine = withKind(written, guide, kind);
	const without = (path: string[], name: string) => {
		const old = statementIn(mine, path);
		return withStatement(mine, path, [...new Set([...(Array.isArray(old) ? (old as string[]) : []), name])]);
	};
	// What is rejected is not said either.
	if (part !== undefined)
		return withStatement(without(['kinds', kind, 'not'], part), ['kinds', kind, part], undefined);
	if (field === undefined)
		throw new GuideFault('A kind cannot be rejected; assign its files to another kind instead.');
	const found = fieldOf(guide.kinds[kind], field);
	// The more telling statement goes first: what looked like a reference is still a text.
	const aspect = found?.reference
		? 'reference'
		: found?.derive
			? 'derive'
			: found?.counts
				? 'counts'
				: 'type';
	return without(['kinds', kind, 'fields', field, 'not'], aspect);
}

function stated(
	written: WrittenGuides,
	guide: Guide,
	change: Extract<GuideChange, { do: 'say' }>
): string | null {
	const { kind, field, statements } = change;
	let mine = withKind(written, guide, kind);
	const path = field === undefined ? ['kinds', kind] : ['kinds', kind, 'fields', field];
	if (statements.reference)
		mine = withTargets({ ...written, mine }, guide, statements as Partial<FieldGuide>);
	for (const [name, value] of Object.entries(statements))
		mine = withStatement(mine, [...path, name], value === null ? undefined : value);
	return mine;
}

function documented(
	written: WrittenGuides,
	guide: Guide,
	text: string
): { mine: string | null; count: number; left: string[] } {
	const { placed, lost } = placeDocs(guide, readDocs(text));
	let { mine } = written;
	for (const { kind, field, text: meaning } of placed) {
		mine = withKind({ ...written, mine }, guide, kind);
		mine = withStatement(mine, ['kinds', kind, 'fields', field, 'meaning'], meaning);
	}
	return { mine, count: placed.length, left: lost.map(({ line, why }) => `Line ${line}: ${why}.`) };
}

/** What becomes of the written guides, and what is said of it. */
export interface Outcome {
	next: WrittenGuides;
	said: string;
	left?: string[];
}

/**
 * Somebody else's guide becomes part of the shared one, so that each statement still says who wrote it; one's own stay
 * over it, but for those that clash and are to give way.
 */
function merged(
	written: WrittenGuides,
	{ yaml, left }: { yaml: string; left: string[] },
	prefer: 'here' | 'there'
): Outcome {
	const shared = mergeGuides(written.shared, yaml, prefer);
	const own = mergeGuides(written.mine, yaml, prefer).clashes.filter(
		({ path }) => statementIn(written.mine, path) !== undefined && path[0] !== 'guide'
	);
	let { mine } = written;
	if (prefer === 'there') for (const { path } of own) mine = withStatement(mine, path, undefined);
	const counts = prefer === 'here' ? 'yours counts' : 'the imported guide counts';
	const clashes = new Set([...shared.clashes, ...own].map(({ path }) => path.join(' › ')));
	return {
		next: { shared: shared.yaml, mine },
		said: 'Merged a guide',
		left: [...left, ...[...clashes].map((path) => `Both guides set ${path}; ${counts}.`)]
	};
}

/** What a change is worked out from. */
interface Ground {
	written: WrittenGuides;
	guide: Guide;
}

type Change = Exclude<GuideChange, { do: 'undo' }>;
type Of<D extends Change['do']> = Extract<Change, { do: D }>;

/** A kind, or a field of it, as it is called in messages. */
const named = (guide: Guide, kind: string, field?: string) =>
	field === undefined
		? (guide.kinds[kind]?.title ?? kind)
		: `${field} of ${guide.kinds[kind]?.title ?? kind}`;

/** One's own guide with a statement; undefined takes it out. */
const withMine = (written: WrittenGuides, path: string[], value: unknown): WrittenGuides => ({
	...written,
	mine: withStatement(written.mine, path, value)
});

/** What was named in one's own guide can be removed; what the shared one says cannot. @throws GuideFault */
function mayRemove(written: WrittenGuides, path: string[], what: string): void {
	if (statementIn(written.mine, path) === undefined)
		throw new GuideFault(`The ${what} comes from the shared guide and cannot be removed here.`);
}

function takenOrNot(accept: boolean, change: Of<'accept' | 'reject'>, { written, guide }: Ground): Outcome {
	const what = change.part === undefined ? '' : `${change.part} of `;
	return {
		next: { ...written, mine: (accept ? accepted : rejected)(written, guide, change) },
		said: `${accept ? 'Accepted' : 'Rejected'}: ${what}${named(guide, change.kind, change.field)}`
	};
}

function saidOfCode({ kind, field, code, means }: Of<'code'>, { written, guide }: Ground): Outcome {
	const said = `Set for ${code || 'the empty code'} in ${named(guide, kind, field)}: ${means || 'nothing'}`;
	const set = fieldOf(guide.kinds[kind], field)?.set;
	if (set !== undefined) {
		// What a value of a set means, it means wherever the set is used, unless the field itself says something else.
		const own = ['kinds', kind, 'fields', field, 'codes', code];
		const isOwn = [written.mine, written.shared].some((yaml) => statementIn(yaml, own) !== undefined);
		const path = isOwn ? own : ['sets', set, code];
		if (means === '') mayRemove(written, path, `meaning of ${code}`);
		const where = isOwn ? 'for this field only' : `in the set “${set}”`;
		return { next: withMine(written, path, means || undefined), said: `${said}, ${where}` };
	}
	const codes = { ...fieldOf(guide.kinds[kind], field)?.codes };
	if (means === '') delete codes[code];
	else codes[code] = means;
	const statements = { codes: Object.keys(codes).length === 0 ? null : codes };
	return { next: { ...written, mine: stated(written, guide, { do: 'say', kind, field, statements }) }, said };
}

function saidOfSet({ kind, field, name }: Of<'set'>, { written, guide }: Ground): Outcome {
	const { codes = {} } = fieldOf(guide.kinds[kind], field) ?? {};
	if (Object.keys(codes).length === 0)
		throw new GuideFault(`Nothing is known of what the values of ${named(guide, kind, field)} mean.`);
	const { mine } = withMine(written, ['sets', name], { ...guide.sets?.[name], ...codes });
	const statements = { set: name, codes: null };
	return {
		next: { ...written, mine: stated({ ...written, mine }, guide, { do: 'say', kind, field, statements }) },
		said: `Kept ${counted(Object.keys(codes).length, 'value')} of ${named(guide, kind, field)} as the set “${name}”`
	};
}

function saidOfScript({ call, argument, accept }: Of<'script'>, { written, guide }: Ground): Outcome {
	const all = guide.scripts ?? [];
	const own = all.find((script) => script.call === call && script.argument === argument);
	if (!own) throw new GuideFault(`The field guide does not know the call “${call}”.`);
	let { mine } = written;
	for (const kind of own.kinds) mine = withKind({ ...written, mine }, guide, kind);
	const kept = accept ? all : all.filter((script) => script !== own);
	return {
		next: withMine({ ...written, mine }, ['scripts'], withoutFound(kept)),
		said: `${accept ? 'Accepted' : 'Rejected'}: ids in ${call}`
	};
}

/** A map that was found. */
function saidOfPlace({ name, accept }: Of<'place'>, { written, guide }: Ground): Outcome {
	const own = guide.places?.[name];
	if (!own) throw new GuideFault(`The field guide has no map “${name}”.`);
	let { mine } = written;
	for (const { kind } of accept ? [...own.things, ...(own.links ?? [])] : [])
		mine = withKind({ ...written, mine }, guide, kind);
	if (accept && own.title === undefined) mine = withKind({ ...written, mine }, guide, name);
	const { found: _, ...said } = own;
	return {
		next: accept
			? withMine({ ...written, mine }, ['places', name], said)
			: withMine({ ...written, mine }, ['noPlaces'], [...(guide.noPlaces ?? []), name]),
		said: `${accept ? 'Accepted' : 'Rejected'}: ${own.title ?? `maps of ${name}`}`
	};
}

/** What is said of all texts. Where nobody has written of them yet, all that is known of them is written with it. */
function withWords(name: 'languages' | 'terms', value: unknown, { written, guide }: Ground): WrittenGuides {
	const { words } = guide;
	if (!words) throw new GuideFault('This game has no texts in languages that are known.');
	const isWritten = [written.shared, written.mine].some((yaml) => statementIn(yaml, ['words']) !== undefined);
	const mine = withKind(written, guide, words.kind);
	return isWritten
		? withMine({ ...written, mine }, ['words', name], value)
		: withMine({ ...written, mine }, ['words'], { ...words, [name]: value });
}

function saidOfLanguages({ languages }: Of<'languages'>, ground: Ground): Outcome {
	const { words } = ground.guide;
	if (words && !Object.hasOwn(languages, words.main))
		throw new GuideFault(`${words.languages[words.main]} is the main language and cannot be removed.`);
	return {
		next: withWords('languages', languages, ground),
		said: `The languages are ${listed(Object.values(languages))}`
	};
}

function saidOfTerms({ terms }: Of<'terms'>, ground: Ground): Outcome {
	const main = ground.guide.words?.main ?? '';
	const [nameless] = terms.filter((term) => term[main] === undefined);
	if (nameless)
		throw new GuideFault(
			`Each term needs its word in ${ground.guide.words?.languages[main] ?? 'the main language'}.`
		);
	return {
		next: withWords('terms', terms.length === 0 ? undefined : terms, ground),
		said: `Saved ${counted(terms.length, 'term')}`
	};
}

function saidOfScenario({ name, scenario }: Of<'scenario'>, { written, guide }: Ground): Outcome {
	const path = ['scenarios', name];
	const own = guide.scenarios && Object.hasOwn(guide.scenarios, name) ? guide.scenarios[name] : undefined;
	const title = scenario?.title ?? own?.title ?? name;
	if (scenario === null) mayRemove(written, path, `scenario “${title}”`);
	if (scenario?.formula !== undefined) formulaFor(scenario.formula);
	const kinds = [scenario?.kind, ...Object.values(scenario?.inputs ?? {}).map(({ kind }) => kind)];
	for (const kind of kinds)
		if (kind !== undefined && !guide.kinds[kind])
			throw new GuideFault(`The field guide has no kind “${kind}”.`);
	return {
		next: withMine(written, path, scenario ?? undefined),
		said: `${scenario ? 'Saved the scenario' : 'Removed the scenario'} “${title}”`
	};
}

/** What names the records beside the key, where they are still named as before: by several fields, or in a list. */
function stillNamed({ key, id, at }: Of<'read'>, now: KindGuide | undefined): Partial<KindGuide> {
	if (key !== undefined) return key === now?.key && now.severalIds ? { severalIds: true } : {};
	return id === undefined && now?.keyParts && now.at === at ? { keyParts: now.keyParts } : {};
}

function saidOfReading(change: Of<'read'>, { written, guide }: Ground): Outcome {
	const { kind, title, files, key, id, at, separator } = change;
	if (statementIn(written.shared, ['kinds', kind]) !== undefined)
		throw new GuideFault(`The shared guide already has a kind “${kind}”; choose another name.`);
	const naming = stillNamed(change, guide.kinds[kind]);
	const about = { title, files, key, ...naming, id, at, separator, written: change.written };
	// What was said of its fields stays; how it is read is what is said now.
	const before = (statementIn(written.mine, ['kinds', kind]) ?? {}) as Record<string, unknown>;
	const {
		key: _key,
		keyParts: _parts,
		severalIds: _several,
		id: _id,
		at: place,
		except: _except,
		...said
	} = before;
	// Which of the records at another place are meant is not known.
	const { element: _element, where: _where, ...others } = said;
	const kept = place === at ? said : others;
	const plain = Object.fromEntries(
		Object.entries({ ...kept, ...about }).filter(([, value]) => value !== undefined)
	);
	return { next: withMine(written, ['kinds', kind], plain), said: `${title}: reads ${files.join(', ')}` };
}

/** What each sort of change makes of the written guides. @throws GuideFault */
const OUTCOMES: { [D in Change['do']]: (change: Of<D>, ground: Ground) => Outcome } = {
	accept: (change, ground) => takenOrNot(true, change, ground),
	reject: (change, ground) => takenOrNot(false, change, ground),
	say: (change, { written, guide }) => ({
		next: { ...written, mine: stated(written, guide, change) },
		said: `Set for ${named(guide, change.kind, change.field)}: ${Object.keys(change.statements)
			.filter((name) => name !== 'seen')
			.join(', ')}`
	}),
	code: saidOfCode,
	set: saidOfSet,
	script: saidOfScript,
	place: saidOfPlace,
	merge: ({ yaml, prefer }, { written, guide }) => {
		const whole = completedGuide(yaml, guide);
		parseGuide(whole.yaml);
		return merged(written, whole, prefer);
	},
	recipe: ({ name, recipe }, { written, guide }) => {
		const path = ['recipes', name];
		const title = recipe?.title ?? guide.recipes?.[name]?.title ?? name;
		if (recipe === null) mayRemove(written, path, `recipe “${title}”`);
		return {
			next: withMine(written, path, recipe ?? undefined),
			said: `${recipe ? 'Saved the recipe' : 'Removed the recipe'} “${title}”`
		};
	},
	languages: saidOfLanguages,
	terms: saidOfTerms,
	scenario: saidOfScenario,
	read: saidOfReading,
	share: ({ readme }, { written }) => ({
		next: withMine(written, ['share'], readme === null ? undefined : { readme }),
		said: readme === null ? 'The read-me is the usual one again' : 'Saved the template of the read-me'
	}),
	patches: ({ patches }, { written }) => ({
		next: withMine(written, ['patches'], patches),
		said: `Set the patch files: ${patches.map(({ files }) => files).join(', ') || 'none'}`
	}),
	install: ({ install }, { written }) => ({
		next: withMine(written, ['install'], install),
		said: 'Set how mods are installed and how the log is read'
	}),
	docs: ({ text }, { written, guide }) => {
		const { mine, count, left } = documented(written, guide, text);
		if (count === 0) throw new GuideFault(left[0] ?? 'The table is empty.');
		return {
			next: { ...written, mine },
			said: `Imported ${counted(count, 'field description')}`,
			left
		};
	}
};

/** What a change makes of the written guides. @throws GuideFault */
export function outcomeOf<D extends Change['do']>(
	change: Of<D>,
	written: WrittenGuides,
	guide: Guide
): Outcome {
	return OUTCOMES[change.do as D](change, { written, guide });
}
