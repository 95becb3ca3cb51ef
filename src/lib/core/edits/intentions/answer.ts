import * as z from 'zod';
import { withOwnEnds, type FileContent } from '../../change';
import { answerText, eventsOf, loadingOf, recordArgument, type GameEvent } from '../../links';
import { fileBelow, type Stack } from '../../stack';
import { textLike } from '../../text';
import { filesChanged } from '../bring';
import { NotPossible } from '../work';
import { name, value, type Bound } from './intention';
import { withLoad } from './load';

const schema = z.object({
	do: z.literal('answer'),
	/** Name of the event, with `{id}` where each record or number has a function of its own, and that id. */
	event: name,
	of: name.optional(),
	/** For which records that it gets: one, or those with a value in a field; all without. */
	id: name.optional(),
	field: name.optional(),
	value: value.optional()
});

const folderOf = (path: string) => path.slice(0, path.lastIndexOf('/') + 1);

const isThere = (stack: Stack, path: string): boolean =>
	stack.mine?.files.has(path) === true || fileBelow(stack, path) !== undefined;

/** Where a script that answers goes: as the last answer is named, else by its function; never over another file. */
export function answerPath(stack: Stack, event: GameEvent, made: string, of: string | undefined): string {
	const { scripts, loads } = loadingOf(stack);
	const model = event.answers.at(-1);
	const like =
		model?.path ?? [...loads.values()].flat().find(({ path }) => path !== null)?.path ?? scripts[0]?.path;
	const folder = folderOf(like ?? 'scripts/');
	const ending = (like && /\.[^./]+$/.exec(like)?.[0]) ?? '.lua';
	const own = model?.id && of !== undefined ? model.path.slice(folder.length) : null;
	const at = own?.lastIndexOf(model!.id!) ?? -1;
	const bare =
		own !== null && at >= 0
			? (own.slice(0, at) + of! + own.slice(at + model!.id!.length)).slice(0, -ending.length)
			: made;
	for (let nth = 1; ; nth++) {
		const path = `${folder}${bare}${nth === 1 ? '' : `_${nth}`}${ending}`;
		if (!isThere(stack, path)) return path;
	}
}

/** Has the script loaded like its neighbours, or says that this is left to do. */
function hook(stack: Stack, path: string, next: Map<string, FileContent>, notes: string[]): void {
	try {
		const loaded = withLoad(stack, path);
		next.set(loaded.into, loaded.next);
		notes.push(...loaded.notes);
	} catch (error) {
		if (!(error instanceof NotPossible)) throw error;
		notes.push(`${error.message} Have ${path} loaded by hand.`);
	}
}

/** An event of the game is answered: a script with the right function, loaded where its neighbours are. */
export const answer: Bound<typeof schema> = {
	schema,
	bound: 'answers an event',
	whole({ stack }, { event: asked, of, id, field, value: wanted }) {
		const event = eventsOf(stack).find((one) => one.name === asked);
		if (!event)
			throw new NotPossible(
				`Neither the scripts of the game nor its field guide speak of an event ${asked}.`
			);
		const open = asked.endsWith('{id}');
		if (open && of === undefined) throw new NotPossible(`Choose the record that ${asked} is answered for.`);
		if (open && !/^\w+$/.test(of!))
			throw new NotPossible(`“${of}” cannot be part of the name of a function.`);
		const made = open ? asked.replace('{id}', of!) : asked;
		if ((id !== undefined || field !== undefined) && !recordArgument(stack, event))
			throw new NotPossible(
				`It is not known which record ${made} gets, so it cannot be for some of them only.`
			);
		const path = answerPath(stack, event, made, of);
		if (!/\.lua$/i.test(path))
			throw new NotPossible(
				`How a function is written is only known for Lua, and ${path} would not be Lua. Write a new script by hand.`
			);
		const text = answerText(stack, event, made, { id, field, value: wanted });
		const like = event.answers.at(-1);
		const letters = like?.layer.files.get(like.path)?.text;
		const next = new Map<string, FileContent>([
			[
				path,
				textLike(
					withOwnEnds('', text, letters?.eol === 'crlf' ? '\r\n' : '\n'),
					letters ?? { encoding: 'utf-8', bom: false }
				)
			]
		]);
		const notes: string[] = [];
		const earlier = event.answers.filter((one) => one.name === made);
		if (earlier.length > 0)
			notes.push(
				`${earlier.map((one) => `${one.path}:${one.line}`).join(', ')} answers it so far. Only the last function with a name counts, so the new one calls the one before it.`
			);
		if (loadingOf(stack).call !== null) hook(stack, path, next, notes);
		const { changes, values } = filesChanged(stack, next);
		return { title: `Answer ${made} in ${path}`, changes, values, notes };
	},
	words: ({ said }) => `Answer ${said('event')}`
};
