// Texts that are edited as a whole: where one comes from, how it is written, and how a new one would be.
import { LONGEST_TEXT } from '$core/edits';
import { claimsOf, hintsFor } from '$core/guide';
import { digestOf, isEncoding, toEol, type TextFile } from '$core/text';
import { fileBelow, type LayerFile, type Stack } from '$core/stack';
import type { NewFilePage, TextPage, WrittenLike } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

const MOST_FOLDERS = 400;

const eolOf = (text: string): TextPage['eol'] => toEol(text) as TextPage['eol'];

/** The file that a path means while one edits: my mod's, else the one that the game reads. */
function fileFor({ mine, layers }: Stack, path: string): { file: LayerFile; layer: string } | null {
	const own = mine?.files.get(path);
	if (own) return { file: own, layer: mine!.id };
	const layer = layers.findLast((one) => one.files.has(path));
	return layer ? { file: layer.files.get(path)!, layer: layer.id } : null;
}

/** The words of a text. @throws NotThere where it is none, or too long to be edited as a whole */
export function wordsOf(stack: Stack, path: string): TextFile {
	const found = fileFor(stack, path);
	if (!found) throw new NotThere(`There is no file ${path}.`);
	const { text } = found.file;
	if (!text) throw new NotThere(`${path} is not a text, so it cannot be edited as one.`);
	if (text.text.length > LONGEST_TEXT)
		throw new NotThere(
			`${path} has ${(text.text.length / 1e6).toFixed(1)} million characters; texts up to ${LONGEST_TEXT / 1e6} million can be edited here. Edit its records in their table.`
		);
	return text;
}

/** @throws NotThere */
export function textPage(model: Model, path: string, asked: URLSearchParams): TextPage {
	const { stack, project } = model;
	const found = fileFor(stack, path);
	const read = {
		slug: project.slug,
		path,
		renames: /\.lua$/i.test(path),
		places: /\.(?:lua|js|py|nut|as|gd|rb)$/i.test(path)
			? (stack.guide.scripts ?? []).map(({ call, argument, kinds }) => ({ call, argument, kinds }))
			: [],
		hints: hintsFor(stack.guide, path),
		kinds: claimsOf(stack.guide, path).map(({ kind }) => ({ kind, title: stack.guide.kinds[kind]!.title }))
	};
	if (!found && asked.has('new')) {
		const encoding = asked.get('encoding') ?? 'utf-8';
		const eol = asked.get('eol');
		return {
			...read,
			layer: null,
			mine: false,
			from: null,
			encoding: isEncoding(encoding) ? encoding : 'utf-8',
			bom: asked.has('bom'),
			eol: eol === 'crlf' ? '\r\n' : eol === 'cr' ? '\r' : '\n',
			model: asked.get('model'),
			text: asked.get('text')
		};
	}
	const text = wordsOf(stack, path);
	const { file, layer } = found!;
	return {
		...read,
		layer: { id: layer, title: stack.layers.find(({ id }) => id === layer)!.title },
		mine: layer === stack.mine?.id,
		from: digestOf(file.bytes()),
		encoding: text.encoding,
		bom: text.bom,
		eol: eolOf(text.text),
		model: null,
		text: null
	};
}

const folderOf = (path: string) => path.slice(0, path.lastIndexOf('/') + 1);
const endingOf = (path: string) => /\.[^./]+$/.exec(path)?.[0] ?? '';

/** How the texts of a folder are written, by the first few of them. */
function writtenIn(files: readonly LayerFile[]): WrittenLike {
	const counts = new Map<string, { count: number; like: WrittenLike }>();
	for (const file of files.slice(0, 20)) {
		const letters = file.facts?.letters;
		if (!letters) continue;
		const like: WrittenLike = {
			encoding: letters.encoding,
			bom: letters.bom,
			eol: letters.eol === 'crlf' ? '\r\n' : letters.eol === 'cr' ? '\r' : '\n',
			ending: endingOf(file.path)
		};
		const key = JSON.stringify(like);
		const seen = counts.get(key);
		if (seen) seen.count++;
		else counts.set(key, { count: 1, like });
	}
	const [most] = [...counts.values()].sort((a, b) => b.count - a.count);
	return most?.like ?? { encoding: 'utf-8', bom: false, eol: '\n', ending: '.txt' };
}

/** Where a new file may go. @param model path of a file to begin with */
export function newFilePage({ stack, project }: Model, asked: URLSearchParams): NewFilePage {
	const folders = new Map<string, LayerFile[]>();
	for (const layer of [...stack.layers].reverse())
		for (const file of layer.files.values()) {
			if (!file.facts?.letters) continue;
			const folder = folderOf(file.path);
			const known = folders.get(folder);
			if (known) known.push(file);
			else folders.set(folder, [file]);
		}
	const model = asked.get('model');
	const found = model === null ? null : fileFor(stack, model);
	return {
		slug: project.slug,
		folders: [...folders]
			.slice(0, MOST_FOLDERS)
			.map(([path, files]) => ({ path, written: writtenIn(files) }))
			.sort((a, b) => (a.path < b.path ? -1 : 1)),
		path: asked.get('path') ?? (model ? folderOf(model) : ''),
		model: found?.file.text ? model : null
	};
}

/** Whether a file can be edited as a text, and why not in words. */
export function editable(stack: Stack, path: string): boolean {
	const file = stack.mine?.files.get(path) ?? fileBelow(stack, path);
	return Boolean(file?.facts?.letters) && file!.size <= LONGEST_TEXT * 2;
}
