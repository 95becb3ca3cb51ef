// Changes that another program made to files of my mod, as a plan like any other: by value, not only by line.
import { counted } from '../wording';
import {
	changeOf,
	splicesBetween,
	type Content,
	type FileChange,
	type FileContent,
	type Plan,
	type Splice,
	type ValueChange
} from '../change';
import { partFacts } from '../facts';
import { claimsOf, hintsFor, type Claim } from '../guide';
import { displayName, fileContent, openFileOf, type LayerFile, type Stack } from '../stack';

/** What leads from one state of a text to another; null where one of them is no text. */
function splicesOf(before: FileContent | undefined, after: FileContent | null): Splice<Content>[] | null {
	if (before instanceof Uint8Array || after instanceof Uint8Array) return null;
	return splicesBetween(before?.text ?? '', after?.text ?? '');
}

type Values = Map<string, Map<string, string>>;

/** The values of a file by record and field (of texts: by language); the first of two records with one id counts. */
export function valuesOf(file: LayerFile | undefined, { spec, language }: Claim): Values {
	const values: Values = new Map();
	if (!file?.facts) return values;
	const { parts } = file.facts;
	const facts = partFacts(file.facts)[parts ? parts.findIndex((part) => part.spec === spec) : 0];
	if (!facts) return values;
	for (let nth = 0; nth < facts.count; nth++) {
		const id = facts.pool.at(facts.ids[nth]!);
		if (values.has(id)) continue;
		const fields = new Map<string, string>();
		const shape = facts.shapes[facts.shape[nth]!] ?? [];
		for (let at = 0; at < shape.length; at++)
			fields.set(
				language ?? facts.pool.at(shape[at]!),
				facts.pool.at(facts.values[facts.firsts[nth]! + at]!)
			);
		values.set(id, fields);
	}
	return values;
}

/** Every value in which two states of a file differ. */
export function valueChanges(
	stack: Stack,
	path: string,
	before: LayerFile | undefined,
	after: LayerFile | undefined
): ValueChange[] {
	return claimsOf(stack.guide, path).flatMap((claim) => changesOf(stack, claim, before, after));
}

/** The same for the records of one kind. */
function changesOf(
	stack: Stack,
	claim: Claim,
	before: LayerFile | undefined,
	after: LayerFile | undefined
): ValueChange[] {
	const { kind } = claim;
	// What is in a file that takes records out is gone, and back when it leaves the file.
	const [was, is] = claim.removes ? [after, before] : [before, after];
	const [old, fresh] = [valuesOf(was, claim), valuesOf(is, claim)];
	const changes: ValueChange[] = [];
	for (const id of new Set([...old.keys(), ...fresh.keys()])) {
		const [had, has] = [old.get(id), fresh.get(id)];
		const record = stack.tables.get(kind)?.byId.get(id);
		const name = record ? displayName(stack, record) : id;
		for (const field of new Set([...(had?.keys() ?? []), ...(has?.keys() ?? [])])) {
			const [from, to] = [had?.get(field) ?? null, has?.get(field) ?? null];
			if (from !== to) changes.push({ kind, id, name, field, before: from, after: to });
		}
	}
	return changes;
}

/** What comes of files of my mod in another state: changes of files, of values, and words on those without any. */
export function filesChanged(
	stack: Stack,
	files: ReadonlyMap<string, FileContent | null>
): Pick<Plan, 'changes' | 'values' | 'notes'> {
	const changes: FileChange[] = [];
	const values: ValueChange[] = [];
	const notes: string[] = [];
	for (const [path, next] of files) {
		const file = stack.mine?.files.get(path);
		const before = file && fileContent(file);
		const change = changeOf(path, before, next ?? undefined, splicesOf(before, next));
		if (change.before === change.after) continue;
		changes.push(change);
		const after = next ? openFileOf(path, next, hintsFor(stack.guide, path), stack.pool) : undefined;
		const found = valueChanges(stack, path, file, after);
		values.push(...found);
		if (found.length === 0)
			notes.push(
				next === null
					? `${path} was removed.`
					: before
						? `${path} has the same values: only spacing, comments or order differ, or it is not data.`
						: `${path} is new and holds no values.`
			);
	}
	return { changes, values, notes };
}

/** The plan that brings files of my mod to another state; null takes a file away. */
export function planToBring(stack: Stack, files: ReadonlyMap<string, FileContent | null>): Plan {
	const found = filesChanged(stack, files);
	const { changes, values } = found;
	const title =
		values.length > 0
			? `Import ${counted(values.length, 'value')} changed outside`
			: `Import ${counted(changes.length, 'file')} changed outside`;
	return { title, ...found };
}
