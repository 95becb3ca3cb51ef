import * as z from 'zod';
import { bytesOf, joinedTexts, withOwnEnds } from '../../change';
import { digestOf, isEncoding, textLike, type TextFile } from '../../text';
import { claimsOf } from '../../guide';
import { fileBelow, fileContent, type LayerFile, type Stack } from '../../stack';
import { counted } from '../../wording';
import { filesChanged } from '../bring';
import { isInside, NothingToDo, NotPossible } from '../work';
import { name, type Besides, type Bound } from './intention';

/** Texts longer than this (UTF-16 code units) are not edited as a whole. */
export const LONGEST_TEXT = 4_000_000;

const schema = z.object({
	do: z.literal('text'),
	path: name,
	/** The whole text as it was typed, each line end as `\n`. Empty in the ledger: the plan holds what changed. */
	text: z.string().max(LONGEST_TEXT),
	/** Digest of the file on which the typing began: that of my mod, else of the layers below; null for a new one. */
	from: z.string().nullable(),
	/** How a new file is written. */
	like: z
		.object({
			encoding: z.string().refine(isEncoding, 'is not a known encoding'),
			bom: z.boolean(),
			eol: z.enum(['\n', '\r\n', '\r'])
		})
		.optional()
});

/** How the game reads a file of my mod that a layer below has too, as the end of a sentence. */
export const wayOf = (stack: Stack, path: string): string =>
	({
		record: 'together with its own, record by record',
		field: 'together with its own, field by field',
		file: 'instead of its own'
	})[
		claimsOf(stack.guide, path)
			.map(({ kind }) => stack.guide.kinds[kind]!.merge)
			.find((merge) => merge !== 'file') ?? 'file'
	];

const asText = (path: string, file: LayerFile | undefined): TextFile | undefined => {
	if (!file) return undefined;
	const content = fileContent(file);
	if (content instanceof Uint8Array)
		throw new NotPossible(`${path} is not a text, so it cannot be edited as one.`);
	return content;
};

/** The text on which the typing began. @throws NotPossible where nobody has it any more */
function beganOn(path: string, from: string, now: TextFile, besides: Besides): TextFile {
	if (digestOf(bytesOf(now)) === from) return now;
	const began = besides.brought?.get(path);
	if (!began || began instanceof Uint8Array)
		throw new NotPossible(
			`${path} was changed since you began, and the text you began with is no longer kept. Copy your text, and open the file again.`
		);
	return began;
}

/** A file of my mod with another text. What was changed in it meanwhile stays, where the changes do not touch. */
export const text: Bound<typeof schema> = {
	schema,
	bound: 'saves a text',
	whole({ stack, besides }, { path, text: typed, from, like }) {
		if (!isInside(path)) throw new NotPossible(`“${path}” is not a path inside a mod.`);
		const mine = asText(path, stack.mine?.files.get(path));
		const now = mine ?? asText(path, fileBelow(stack, path));
		let next: TextFile;
		if (from === null) {
			if (now)
				throw new NotPossible(
					`${path} already exists${mine ? ' in your mod' : ' in the game'}. Open it, or choose another name.`
				);
			const { eol = '\n', ...written } = like ?? { encoding: 'utf-8' as const, bom: false };
			next = textLike(withOwnEnds('', typed, eol), written as Pick<TextFile, 'encoding' | 'bom'>);
		} else {
			if (!now)
				throw new NotPossible(`${path} was removed since you began. Save what you typed as a new file.`);
			const began = beganOn(path, from, now, besides);
			const own = withOwnEnds(began.text, typed, like?.eol);
			const joined = began === now ? own : joinedTexts(began.text, own, now.text);
			if (typeof joined !== 'string')
				throw new NotPossible(
					`Line ${joined.line} of ${path} was changed since you began, and you changed it too. Nothing was overwritten; compare the two, and save again.`
				);
			next = textLike(joined, now, now);
		}
		const { changes, values, notes } = filesChanged(stack, new Map([[path, next]]));
		if (changes.length === 0) throw new NothingToDo('Nothing to save: the text is as it was.');
		if (!mine && now) notes.push(`${path} is now in your mod, and the game reads it ${wayOf(stack, path)}.`);
		return {
			title:
				(from === null ? `New file ${path}` : `Edit ${path}`) +
				(values.length > 0 ? `: ${counted(values.length, 'value')}` : ''),
			changes,
			values,
			notes
		};
	},
	words: ({ said }) => `Edit ${said('path')}`
};
