// Scripts that belong to a record are loaded where those of others are: the lines that load them follow.
import { linesWithEnds } from '../change';
import { loadingOf } from '../links';
import { fileBelow, fileContent, type EffectiveRecord } from '../stack';
import { note, wanted, type Work } from './work';

const bare = (path: string) => path.replace(/^.*\//, '').replace(/\.[^.]+$/, '');

/** A text with its last such part replaced. */
function withLast(text: string, part: string, by: string): string {
	const at = text.lastIndexOf(part);
	return text.slice(0, at) + by + text.slice(at + part.length);
}

/**
 * A line that loads a script, as it is for another: the name as the model has it, with or without folder and ending.
 * Null where the model names its script in another way.
 * @param text what the model gives to the loader
 */
export function lineLike(line: string, text: string, path: string, next: string): string | null {
	if (!text.includes(bare(path))) return null;
	const own = withLast(text, bare(path), bare(next));
	for (const quote of ['"', "'"])
		if (line.includes(quote + text + quote)) return withLast(line, quote + text + quote, quote + own + quote);
	return null;
}

/** Where a script is loaded: the script that does, and its line as it is in the stack. */
function hooks(work: Work, path: string): { into: string; words: string; text: string }[] {
	const { loads, scripts } = loadingOf(work.stack);
	const found: { into: string; words: string; text: string }[] = [];
	for (const [into, list] of loads)
		for (const load of list) {
			if (load.path !== path) continue;
			const file = scripts.find((script) => script.path === into)!.layer.files.get(into)!;
			const words = linesWithEnds(file.text?.text ?? '')[load.line - 1];
			if (words !== undefined) found.push({ into, words, text: load.text });
		}
	return found;
}

/** Whether the lines may be written: a loader that was only detected is asked about. */
function mayHook(work: Work): boolean {
	const { call } = loadingOf(work.stack);
	const said = call !== null && work.stack.guide.loader === call;
	return wanted(work, 'script', said ? undefined : { sure: 0.9, because: `The call ${call} loads scripts.` });
}

/**
 * Has a script of a record be loaded like another: a line of its own behind each that loads the other, or in its place.
 * @param instead whether the other is no more
 */
export function hookUp(
	work: Work,
	record: Pick<EffectiveRecord, 'kind' | 'id'>,
	path: string,
	next: string,
	instead = false
): void {
	const places = hooks(work, path).flatMap(({ into, words, text }) => {
		const line = lineLike(words, text, path, next);
		return line === null ? [] : [{ into, words, line }];
	});
	if (places.length === 0 || !mayHook(work)) return;
	const { draft, stack } = work;
	for (const { into, words, line } of places) {
		if (!draft.has(into)) draft.put(into, fileContent(fileBelow(stack, into)!));
		const now = draft.text(into);
		const at = now?.indexOf(words) ?? -1;
		if (now === undefined || at < 0) continue;
		const end = /[\r\n]$/.test(words) ? '' : '\n';
		draft.edit(into, [
			instead
				? { from: at, to: at + words.length, insert: line }
				: { from: at + words.length, to: at + words.length, insert: end + line }
		]);
		note(work, record, into, null, line.trim(), { follows: 'loads its script', by: 'script' });
	}
}

/** Takes the lines of my mod that load a script out with it; a script that is then as the game has it goes too. */
export function unhook(work: Work, record: Pick<EffectiveRecord, 'kind' | 'id'>, path: string): void {
	const places = hooks(work, path).filter(({ into }) => work.draft.has(into));
	if (places.length === 0 || !mayHook(work)) return;
	const { draft, stack } = work;
	for (const { into, words } of places) {
		const now = draft.text(into);
		const at = now?.indexOf(words) ?? -1;
		if (now === undefined || at < 0) continue;
		draft.edit(into, [{ from: at, to: at + words.length, insert: '' }]);
		const below = fileBelow(stack, into);
		if (below?.text && draft.text(into) === below.text.text) draft.drop(into);
		note(work, record, into, words.trim(), null, { follows: 'loaded its script', by: 'script' });
	}
}
