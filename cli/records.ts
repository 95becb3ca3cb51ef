import { basename, isAbsolute, relative } from 'node:path';
import { decode } from '$core/text';
import { fieldsOf, formatFor, layoutFrom, readDocument, type ReadHints } from '$core/formats';
import { claimAt, claimOf, encodingFor, hintsFor, type Guide } from '$core/guide';
import { hintsWithin } from '$core/stack';
import { openSource, readAll } from '../src/lib/files';
import { read, readNamed, WrongCall } from './arguments';
import { openGuide } from './open';

const USAGE = 'kettle records FILE… [--guide GUIDE] [--layout LAYOUT] [--json]';

/** A path as the guide's globs see it: the longest tail of it that the guide claims. */
export function guidePath(guide: Guide, file: string): string {
	const parts = (isAbsolute(file) ? relative('/', file) : file).split('/');
	for (let from = 0; from < parts.length; from++) {
		const tail = parts.slice(from).join('/');
		if (claimOf(guide, tail)) return tail;
	}
	return basename(file);
}

/** Files by the names under which they are told; an archive is a folder of its files. */
async function* filesOf(named: string): AsyncGenerator<[string, Uint8Array]> {
	const bytes = await readNamed(named);
	if (!named.toLowerCase().endsWith('.zip')) yield [named, bytes];
	else
		for (const [path, inside] of await readAll(await openSource(named))) yield [`${named}/${path}`, inside];
}

/** What a layout in a file of its own says of how files are read; nothing without one. @throws NotPacked */
export const layoutHints = async (path: string | undefined): Promise<ReadHints | null> =>
	path === undefined ? null : { layout: layoutFrom(new TextDecoder().decode(await readNamed(path))) };

/** How one file is read, as the JSON of the command. */
function recordsOf(file: string, bytes: Uint8Array, guide: Guide, layout: ReadHints | null) {
	const path = guidePath(guide, file);
	const hints = hintsWithin(path, bytes, layout ?? hintsFor(guide, path));
	const format = formatFor(path, hints);
	const text = format?.of === 'bytes' ? null : decode(bytes, encodingFor(guide, path));
	const doc = readDocument(path, text ? text.text : bytes, hints);
	const otherwise = basename(file).replace(/\.[^.]+$/, '');
	let first = 0;
	const parts = doc?.parts?.map(({ spec, doc: { records, at } }) => {
		const part = { spec, first, at };
		first += records.length;
		return part;
	});
	return {
		file,
		format: format?.id ?? null,
		encoding: text?.encoding ?? null,
		eol: text?.eol ?? null,
		bom: text?.bom ?? false,
		...(text?.told === 'guess' ? { guess: { confidence: text.confidence, others: text.others } } : {}),
		records: (doc?.records ?? []).map((record, nth) => ({
			kind:
				claimAt(guide, path, parts, nth)?.kind ??
				(layout && (parts?.findLast(({ first: from }) => from <= nth)?.at ?? doc?.at)) ??
				otherwise,
			id: record.id,
			line: record.line,
			fields: fieldsOf(record)
		})),
		problems: doc
			? doc.problems.map(({ line, column, message }) => ({ line, column, message }))
			: [{ line: 1, column: 1, message: 'This kind of file is not read as data.' }]
	};
}

/** Writes one reading; whether the file was read whole. */
function tell(found: ReturnType<typeof recordsOf>, json: boolean | undefined): boolean {
	if (json) {
		process.stdout.write(`${JSON.stringify(found)}\n`);
		return found.problems.length === 0;
	}
	process.stdout.write(
		`${found.file}: ${found.records.length} records (${[found.format ?? 'not data', found.encoding, found.eol].filter(Boolean).join(', ')})\n`
	);
	for (const record of found.records)
		process.stdout.write(`  ${record.line}\t${record.id}\t${Object.keys(record.fields).length} fields\n`);
	for (const problem of found.problems)
		process.stderr.write(`${found.file}:${problem.line}:${problem.column} ${problem.message}\n`);
	return found.problems.length === 0;
}

/** `kettle records`: how files are read. */
export async function records(args: string[]): Promise<number> {
	const { values, positionals } = read(
		args,
		{ guide: { type: 'string' }, layout: { type: 'string' }, json: { type: 'boolean' } },
		USAGE
	);
	if (positionals.length === 0) throw new WrongCall(`Name a file. Usage: ${USAGE}`);
	const guide = await openGuide(values.guide);
	const layout = await layoutHints(values.layout);
	let whole = true;
	for (const named of positionals)
		for await (const [file, bytes] of filesOf(named))
			whole = tell(recordsOf(file, bytes, guide, layout), values.json) && whole;
	return whole ? 0 : 1;
}
