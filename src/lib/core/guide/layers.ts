// A guide in layers: what was found in the files, under a guide that is shared, under one's own statements. Written
// guides are edited as YAML, so that what people wrote around a statement stays.
import { isMap, parseDocument, type Document } from 'yaml';
import { guideFrom, parseGuide } from './file';
import type { Guide, KindGuide } from './schema';

/** Where a statement comes from. */
export type Origin = 'found' | 'shared' | 'mine';

type Plain = { [name: string]: unknown };

const isPlain = (value: unknown): value is Plain =>
	typeof value === 'object' && value !== null && !Array.isArray(value);

/** How deep statements are distinguished: kinds, their fields, and what is said of each. */
const DEEP =
	/^(kinds(\.[^\n]+(\nfields(\n[^\n]+)?)?)?|words|places|sets(\.[^\n]+)?|game|install|recipes|scenarios|events|calls)?$/;

const pathOf = (path: readonly string[]) =>
	path[0] === 'kinds' && path.length > 1
		? `kinds.${path[1]}${path
				.slice(2)
				.map((name) => `\n${name}`)
				.join('')}`
		: path.join('.');

function over(below: unknown, above: unknown, path: readonly string[]): unknown {
	if (!isPlain(below) || !isPlain(above) || !DEEP.test(pathOf(path))) return above;
	const merged: Plain = { ...below };
	for (const [name, value] of Object.entries(above))
		merged[name] = name in merged ? over(merged[name], value, [...path, name]) : value;
	return merged;
}

const open = (yaml: string | null): Document =>
	parseDocument(yaml ?? 'guide: 1\n', { merge: true, uniqueKeys: false });

/** The guides that were read last, by their text: a page asks each of its fields where it was said. */
const lastRead = new Map<string | null, Plain>();
const KEPT = 4;

/** What a written guide says, as plain values that nobody changes. */
const plainOf = (yaml: string | null): Plain => {
	const known = lastRead.get(yaml);
	if (known) return known;
	const value: unknown = open(yaml).toJS({ maxAliasCount: 100 });
	const plain = isPlain(value) ? value : {};
	if (lastRead.size >= KEPT) lastRead.delete(lastRead.keys().next().value!);
	lastRead.set(yaml, plain);
	return plain;
};

/**
 * One guide of two: statements of `mine` count where both say something. Lists and single values are exchanged as a whole.
 * @throws GuideFault where one of them is not a guide, or both together are none
 */
export function composeGuides(shared: string | null, mine: string | null): Guide {
	// A fault is detected by its place in the file it is in.
	const alone = shared === null ? null : parseGuide(shared);
	if (mine === null) return alone ?? guideFrom({ guide: 1 });
	return guideFrom(over(plainOf(shared), plainOf(mine), []));
}

/** What is said of a statement in a written guide; undefined where it says nothing. */
export function statementIn(yaml: string | null, path: readonly string[]): unknown {
	let at: unknown = plainOf(yaml);
	for (const name of path) at = isPlain(at) ? at[name] : undefined;
	return at;
}

/**
 * A written guide with one statement made, changed or (undefined) taken out; all else stays as written, comments
 * too. Maps that are left empty go with it.
 */
export function withStatement(yaml: string | null, path: readonly string[], value: unknown): string {
	const doc = open(yaml);
	if (value !== undefined) doc.setIn(path, doc.createNode(value));
	else if (doc.hasIn(path)) {
		doc.deleteIn(path);
		for (let length = path.length - 1; length > 0; length--) {
			const holder = doc.getIn(path.slice(0, length));
			if (!isMap(holder) || holder.items.length > 0) break;
			doc.deleteIn(path.slice(0, length));
		}
	}
	return doc.toString({ lineWidth: 0 });
}

/** Something that two guides say differently. */
export interface Clash {
	path: string[];
	here: unknown;
	there: unknown;
}

function join(
	here: unknown,
	there: unknown,
	path: string[],
	prefer: 'here' | 'there',
	clashes: Clash[]
): unknown {
	if (isPlain(here) && isPlain(there) && DEEP.test(pathOf(path))) {
		const merged: Plain = { ...here };
		for (const [name, value] of Object.entries(there))
			merged[name] = name in here ? join(here[name], value, [...path, name], prefer, clashes) : value;
		return merged;
	}
	if (JSON.stringify(here) === JSON.stringify(there)) return here;
	clashes.push({ path, here, there });
	return prefer === 'here' ? here : there;
}

/**
 * Two written guides as one: everything that either says, and of what both say differently that of the preferred. The
 * text of `here` stays, comments too, with what is new set into it. Neither is checked to be a guide.
 */
export function mergeGuides(
	here: string | null,
	there: string,
	prefer: 'here' | 'there'
): { yaml: string; clashes: Clash[] } {
	const clashes: Clash[] = [];
	const merged = join(plainOf(here), plainOf(there), [], prefer, clashes);
	const doc = open(here);
	setMissing(doc, [], merged, plainOf(here));
	return { yaml: doc.toString({ lineWidth: 0 }), clashes };
}

/** Sets what differs, as far up as it differs, so that all else keeps its text. */
function setMissing(doc: Document, path: string[], wanted: unknown, there: unknown): void {
	if (JSON.stringify(wanted) === JSON.stringify(there)) return;
	if (isPlain(wanted) && isPlain(there) && isMap(path.length === 0 ? doc.contents : doc.getIn(path))) {
		for (const [name, value] of Object.entries(wanted))
			setMissing(doc, [...path, name], value, Object.hasOwn(there, name) ? there[name] : undefined);
		return;
	}
	doc.setIn(path, doc.createNode(wanted));
}

/** Where a statement on a field comes from, by the layers that are written; undefined where nothing is said. */
export function originOf(
	written: { shared: string | null; mine: string | null },
	path: readonly string[],
	effective: unknown
): Origin | undefined {
	if (statementIn(written.mine, path) !== undefined) return 'mine';
	if (statementIn(written.shared, path) !== undefined) return 'shared';
	return effective === undefined ? undefined : 'found';
}

/** A kind as people would write it: what is needed for it to be on its own, without what was found of its fields. */
export function kindToWrite(kind: KindGuide): Plain {
	const { title, plural, files, key, keyParts, severalIds, id, at, except, element, where, written, merge } =
		kind;
	const inherits = kind.inherits && withoutFound(kind.inherits);
	const name = kind.name && withoutFound(kind.name);
	return Object.fromEntries(
		Object.entries({
			title,
			plural,
			files,
			key,
			keyParts,
			severalIds,
			id,
			at,
			except,
			element,
			where,
			name,
			inherits,
			written,
			merge
		}).filter(([, value]) => value !== undefined)
	);
}

/** What was found, as people would write it: without how sure it is. */
export function withoutFound<T>(value: T): T {
	if (Array.isArray(value)) return value.map(withoutFound) as T;
	if (!isPlain(value)) return value;
	return Object.fromEntries(
		Object.entries(value)
			.filter(([name, inside]) => name !== 'found' && inside !== undefined)
			.map(([name, inside]) => [name, withoutFound(inside)])
	) as T;
}

/**
 * A guide as YAML, to be kept as a file. Defaults are left out; where `evidence` is asked for, each statement that was
 * found says how sure it is and why.
 */
export function guideToYaml(guide: Guide, evidence = false): string {
	const lean = (value: unknown): unknown => {
		if (Array.isArray(value)) return value.map(lean);
		if (!isPlain(value)) return value;
		return Object.fromEntries(
			Object.entries(value)
				.filter(
					([name, inside]) =>
						inside !== undefined &&
						!(inside === false && ['required', 'unused', 'inferred', 'name'].includes(name)) &&
						!(Array.isArray(inside) && inside.length === 0) &&
						!(isPlain(inside) && Object.keys(inside).length === 0)
				)
				.map(([name, inside]) => [name, lean(inside)])
		);
	};
	const doc = parseDocument('');
	doc.contents = doc.createNode(lean(evidence ? guide : withoutFound(guide))) as never;
	return doc.toString({ lineWidth: 0 });
}

/** Names of a kind as a guide may leave them out. */
const titled = (name: string) => name.replace(/[_-]+/g, ' ').replace(/^./u, (letter) => letter.toUpperCase());

/**
 * A guide of somebody else as it can be merged in: kinds of which it only says something get what was found of them, as
 * do kinds that its references lead to. References to kinds that are nowhere are left out, and told.
 * @param known everything that is known of the game
 */
export function completedGuide(yaml: string, known: Guide): { yaml: string; left: string[] } {
	const plain = plainOf(yaml);
	if (!isPlain(plain.kinds)) return { yaml, left: [] };
	const left: string[] = [];
	let next = yaml;
	const fill = (kind: string, there: Plain) => {
		const found = known.kinds[kind];
		const about: Plain = found ? kindToWrite(found) : { title: titled(kind) };
		for (const [name, value] of Object.entries(about))
			if (!(name in there) && (name === 'title' || !('files' in there)))
				next = withStatement(next, ['kinds', kind, name], withoutFound(value));
	};
	for (const [kind, about] of Object.entries(plain.kinds)) if (isPlain(about)) fill(kind, about);
	const there = new Set(Object.keys(plain.kinds));
	for (const [kind, about] of Object.entries(plain.kinds)) {
		if (!isPlain(about) || !isPlain(about.fields)) continue;
		for (const [path, field] of Object.entries(about.fields)) {
			const reference = isPlain(field) && isPlain(field.reference) ? field.reference : null;
			const targets = Array.isArray(reference?.kinds) ? (reference.kinds as unknown[]).map(String) : [];
			const open = targets.filter((target) => !there.has(target));
			for (const target of open) {
				if (!known.kinds[target]) continue;
				fill(target, {});
				there.add(target);
			}
			const nowhere = targets.filter((target) => !there.has(target));
			if (nowhere.length === 0) continue;
			left.push(
				`${kind}.${path} refers to ${nowhere.map((name) => `“${name}”`).join(', ')}, which this game does not have; that was left out.`
			);
			const rest = targets.filter((target) => there.has(target));
			next = withStatement(
				next,
				['kinds', kind, 'fields', path, 'reference', ...(rest.length > 0 ? ['kinds'] : [])],
				rest.length > 0 ? rest : undefined
			);
		}
	}
	return { yaml: next, left };
}
