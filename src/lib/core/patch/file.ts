// A patch as a file: a unified diff, with what else is known of each file and part in lines before it.
import { formatPatch, parsePatch, type StructuredPatch } from 'diff';
import * as z from 'zod';
import { isEncoding } from '../text';
import { hunkParts } from './hunks';
import { PatchFault, type FilePatch, type Hunk, type Patch } from './parts';

const NOWHERE = '/dev/null';
/** Parts that a patch may have: each is looked for in its file. */
const MOST_PARTS = 2000;

const texts = z.array(z.string().max(1000)).max(20);
const anchorSchema = z.strictObject({
	in: z.string().max(1000).nullable(),
	above: texts,
	below: texts,
	rival: z.number().min(0).max(1)
});

const HEAD = `A patch for data and scripts. It is a unified diff; the lines before each file say how its places are found.`;

/** What stands before the diff of a file: what it is and what tells its places. */
function preamble({ path, of, before, after, written, endsCount, parts }: FilePatch): string[] {
	return [
		`Index: ${path}`,
		...(of === 'bytes' ? ['Of: bytes, one to a line; ?? is any byte'] : []),
		...(endsCount ? ['Line ends: part of the lines'] : []),
		...(written ? [`Written: ${written.encoding}${written.bom ? ' with byte-order mark' : ''}`] : []),
		...(before === null ? [] : [`Before: ${before}`]),
		...(after === null ? [] : [`After: ${after}`]),
		...parts.flatMap(({ anchor }, nth) =>
			anchor === null ? [] : [`Part ${nth + 1}: ${JSON.stringify(anchor)}`]
		)
	];
}

/** A patch as the text of a file; law: read again, it is the same patch. */
export function printPatch({ files }: Patch): string {
	const parts = files.map((file) => {
		const { path, becomes, hunks } = file;
		const diff = formatPatch({
			oldFileName: becomes === 'new' ? NOWHERE : path,
			newFileName: becomes === 'gone' ? NOWHERE : path,
			oldHeader: undefined,
			newHeader: undefined,
			hunks
		} as StructuredPatch);
		return `${preamble(file).join('\n')}\n${diff.replace(/^(?:Index: .*\n)?=+\n/, '')}`;
	});
	return `${HEAD}\n\n${parts.join('\n')}`;
}

type Known = Pick<FilePatch, 'of' | 'before' | 'after' | 'written' | 'endsCount'> & {
	path: string | null;
	anchors: Map<number, FilePatch['parts'][number]['anchor']>;
};

const nothing = (): Known => ({
	path: null,
	of: 'text',
	before: null,
	after: null,
	written: null,
	endsCount: false,
	anchors: new Map()
});

/** What the lines before the diffs say, for each `Index:` line, in order. Lines of a diff never begin with a letter. */
function knownOf(text: string): Known[] {
	const found: Known[] = [];
	for (const line of text.split('\n')) {
		const [, name = '', value = ''] = /^([A-Z][A-Za-z ]*\d*): (.*)$/.exec(line) ?? [];
		if (name === 'Index') found.push({ ...nothing(), path: value.trim() });
		const last = found.at(-1);
		if (!last) continue;
		if (name === 'Of' && value.startsWith('bytes')) last.of = 'bytes';
		else if (name === 'Line ends') last.endsCount = true;
		else if (name === 'Written') {
			const encoding = value.replace(/ with byte-order mark$/, '');
			if (!isEncoding(encoding)) throw new PatchFault(`The patch names an unknown encoding, “${encoding}”.`);
			last.written = { encoding, bom: encoding !== value };
		} else if (name === 'Before' && /^[0-9a-f]{64}$/.test(value)) last.before = value;
		else if (name === 'After' && /^[0-9a-f]{64}$/.test(value)) last.after = value;
		else if (/^Part \d+$/.test(name)) last.anchors.set(Number(name.slice(5)), anchorOf(name, value));
	}
	return found;
}

function anchorOf(name: string, value: string): z.infer<typeof anchorSchema> {
	try {
		return anchorSchema.parse(JSON.parse(value));
	} catch {
		throw new PatchFault(`${name} of the patch is damaged and cannot be read.`);
	}
}

/** The path that a diff is for. Folders `a/` and `b/` that some programs put before both names are left out. */
function pathOf({ oldFileName, newFileName, index }: StructuredPatch): string {
	const [old, fresh] = [oldFileName ?? '', newFileName ?? ''];
	const name = fresh === NOWHERE || fresh === '' ? old : fresh;
	const marked = (one: string, mark: string) => one === NOWHERE || one.startsWith(mark);
	if (name === '' || name === NOWHERE) return index ?? '';
	return marked(old, 'a/') && marked(fresh, 'b/') ? name.slice(2) : name;
}

/**
 * The patch that a file says: one of ours, or any unified diff.
 * @throws PatchFault where it is none, or says something that cannot be
 */
export function readPatch(text: string): Patch {
	let parsed: StructuredPatch[];
	try {
		parsed = parsePatch(text);
	} catch (error) {
		throw new PatchFault(
			`The patch cannot be read: ${error instanceof Error ? error.message : String(error)}.`
		);
	}
	const known = new Map(knownOf(text).map((one) => [one.path, one]));
	const files = parsed
		.filter((one) => one.oldFileName !== undefined || one.hunks.length > 0)
		.map((one): FilePatch => {
			const path = pathOf(one);
			if (path === '') throw new PatchFault('The patch does not say which file it is for.');
			if (one.isBinary)
				throw new PatchFault(
					`The patch has no contents for ${path}, which is not a text. Include the file instead.`
				);
			const { anchors, ...about } = known.get(path) ?? nothing();
			const becomes =
				one.oldFileName === NOWHERE || one.isCreate
					? 'new'
					: one.newFileName === NOWHERE || one.isDelete
						? 'gone'
						: 'changed';
			const parts = one.hunks.flatMap((hunk: Hunk) => hunkParts(hunk));
			return {
				...about,
				path,
				becomes,
				hunks: one.hunks,
				parts: parts.map((part, nth) => ({ ...part, anchor: anchors.get(nth + 1) ?? null }))
			};
		});
	if (files.length === 0)
		throw new PatchFault(
			'This is not a patch: it contains no unified diff. Make one from two versions of a file.'
		);
	const parts = files.reduce((sum, file) => sum + file.parts.length, 0);
	if (parts > MOST_PARTS)
		throw new PatchFault(
			`The patch has ${parts} parts; the limit is ${MOST_PARTS}. Include the changed files instead, or split it.`
		);
	const seen = new Set<string>();
	const twice = files.find(({ path }) => seen.size === seen.add(path).size);
	if (twice)
		throw new PatchFault(`The patch changes ${twice.path} twice. Make it again from the two versions.`);
	return { files };
}
