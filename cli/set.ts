import { applySplices, bytesOf, contentOf, type FileContent, type Splice } from '$core/change';
import { decode, type TextFile } from '$core/text';
import {
	EditRefused,
	findField,
	findRecord,
	formatFor,
	formatOf,
	readDocument,
	styledFor,
	type Document,
	type ReadHints,
	type RecordNode
} from '$core/formats';
import { encodingFor, hintsFor, type Guide } from '$core/guide';
import { hintsWithin } from '$core/stack';
import * as z from 'zod';
import { writeAllAtomic } from '../src/lib/files';
import { read, readNamed, WrongCall } from './arguments';
import { openGuide } from './open';
import { guidePath, layoutHints } from './records';

const USAGE =
	'kettle set FILE RECORD FIELD VALUE [--out FILE] [--guide GUIDE] [--layout LAYOUT] [--everywhere], or kettle set --from EDITS.jsonl';

const editSchema = z.object({
	file: z.string(),
	record: z.string(),
	field: z.string(),
	value: z.coerce.string()
});
type Edit = z.infer<typeof editSchema>;

/** How the files are read, and whether a value that several records point at is changed for all of them. */
interface How {
	guide: Guide;
	layout: ReadHints | null;
	everywhere: boolean;
}

const hintsOf = (file: string, bytes: Uint8Array, { guide, layout }: How): [string, ReadHints] => {
	const path = guidePath(guide, file);
	return [path, hintsWithin(path, bytes, layout ?? hintsFor(guide, path))];
};

/** The edit as splices. @throws EditRefused */
function splicesFor(doc: Document, record: RecordNode, { field, value }: Edit, { everywhere }: How) {
	const format = formatOf(doc.format)!;
	return everywhere && format.shared
		? format.shared.set(doc, record, field, value)
		: format.set(doc, record, field, value);
}

function applyEdit(file: FileContent, edit: Edit, how: How): FileContent {
	const [path, hints] = hintsOf(edit.file, bytesOf(file), how);
	const format = formatFor(path, hints);
	const doc = readDocument(path, contentOf(file), hints);
	if (!format || !doc) throw new EditRefused(`${edit.file} is not of a format that can be edited.`);
	const record = findRecord(doc, edit.record);
	if (!record) throw new EditRefused(`${edit.file} has no record “${edit.record}”.`);
	try {
		const field = findField(record, edit.field);
		const { text: value, note } = field
			? styledFor(doc, field, edit.value)
			: { text: edit.value, note: undefined };
		if (note) process.stderr.write(`${edit.file}, ${edit.record}, ${edit.field}: ${note}\n`);
		const splices = splicesFor(doc, record, { ...edit, value }, how);
		return file instanceof Uint8Array
			? applySplices(file, splices as Splice<Uint8Array>[])
			: ({ ...file, text: applySplices(file.text, splices as Splice[]) } satisfies TextFile);
	} catch (error) {
		if (error instanceof EditRefused)
			throw new EditRefused(`${edit.file}, ${edit.record}, ${edit.field}: ${error.message}`);
		throw error;
	}
}

async function editsFrom(path: string): Promise<Edit[]> {
	const text = new TextDecoder().decode(await readNamed(path));
	return text
		.split('\n')
		.map((line, at) => ({ line, at }))
		.filter(({ line }) => line.trim() !== '')
		.map(({ line, at }) => {
			try {
				return editSchema.parse(JSON.parse(line));
			} catch {
				throw new WrongCall(
					`${path} line ${at + 1} is not {"file", "record", "field", "value"}. Nothing was written.`
				);
			}
		});
}

/** A file as its format reads it: as a text, or as bytes. */
async function opened(file: string, how: How): Promise<FileContent> {
	const bytes = await readNamed(file).catch((fault: Error) => {
		throw new EditRefused(`${fault.message.replace(/ Nothing was .*$/, '')} Nothing was written.`);
	});
	const [path, hints] = hintsOf(file, bytes, how);
	if (formatFor(path, hints)?.of === 'bytes') return bytes;
	return decode(bytes, encodingFor(how.guide, path));
}

/** `kettle set`: values changed, every other byte kept; all edits or none. */
export async function set(args: string[]): Promise<number> {
	const { values, positionals } = read(
		args,
		{
			out: { type: 'string' },
			guide: { type: 'string' },
			layout: { type: 'string' },
			everywhere: { type: 'boolean' },
			from: { type: 'string' }
		},
		USAGE
	);
	const how: How = {
		guide: await openGuide(values.guide),
		layout: await layoutHints(values.layout),
		everywhere: values.everywhere ?? false
	};
	let edits: Edit[];
	if (values.from !== undefined) {
		if (positionals.length > 0 || values.out !== undefined)
			throw new WrongCall(`--from takes no other arguments. Usage: ${USAGE}`);
		edits = await editsFrom(values.from);
	} else {
		const [file, record, field, value] = positionals;
		if (
			file === undefined ||
			record === undefined ||
			field === undefined ||
			value === undefined ||
			positionals.length > 4
		)
			throw new WrongCall(`Name file, record, field and value. Usage: ${USAGE}`);
		edits = [{ file, record, field, value }];
	}
	const files = new Map<string, FileContent>();
	for (const edit of edits) {
		const present = files.get(edit.file) ?? (await opened(edit.file, how));
		files.set(edit.file, applyEdit(present, edit, how));
	}
	const ready = [...files].map(([path, file]) => {
		try {
			return [path, bytesOf(file)] as const;
		} catch (error) {
			throw new EditRefused(`${path}: ${(error as Error).message} Nothing was written.`);
		}
	});
	await writeAllAtomic(ready.map(([path, bytes]) => [values.out ?? path, bytes]));
	return 0;
}
