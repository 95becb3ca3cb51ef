import { claimsOf, strangeLanguage } from '../guide';
import { formatFor } from '../formats';
import type { Layer, Stack } from '../stack';
import { listed } from '../wording';
import { codeOf } from '../words';
import { quoted, snagOfFile, type Rule } from './snag';

/** What is wrong with the language of a file of texts; null where nothing is. */
function faultOf(stack: Stack, layer: Layer, path: string): { said: string; strange: boolean } | null {
	const { words, kinds } = stack.guide;
	const claim = claimsOf(stack.guide, path).find(({ kind }) => kind === words!.kind);
	if (!claim) {
		const said = strangeLanguage(stack.guide, path);
		return said === null || kinds[words!.kind] === undefined ? null : { said, strange: true };
	}
	const text = layer.files.get(path)?.text?.text;
	const said = text === undefined ? null : formatFor(path)?.traits.texts?.says?.(text);
	if (said == null || claim.language === undefined || codeOf(stack, said) === claim.language) return null;
	return { said, strange: false };
}

/** A file of texts of mine whose folder or name has a language that the game does not know, or that says it is in another. */
export const textLanguage: Rule = {
	id: 'text-language',
	title: 'Texts in a language that the game does not expect there',
	reads: ['files'],
	*find({ stack }) {
		const { mine, layers, guide } = stack;
		const { words } = guide;
		if (!mine || !words) return;
		const faults = [...mine.files.keys()].flatMap((path) => {
			const fault = faultOf(stack, mine, path);
			return fault ? [{ path, ...fault }] : [];
		});
		if (faults.length === 0) return;
		// What the game does itself is right: it may have more languages than are known, or headers that nobody reads.
		const game = layers
			.filter((layer) => layer !== mine)
			.flatMap((layer) => [...layer.files.keys()].flatMap((path) => faultOf(stack, layer, path) ?? []));
		const languages = Object.entries(words.languages).map(([code, title]) => `${title} (${code})`);
		for (const { path, said, strange } of faults) {
			if (game.some((other) => other.strange === strange && (!strange || other.said === said))) continue;
			const claim = claimsOf(guide, path).find(({ kind }) => kind === words.kind);
			yield snagOfFile(mine, path, {
				rule: 'text-language',
				severity: guide.kinds[words.kind]!.inferred ? 'note' : 'warns',
				line: 1,
				message: strange
					? `${quoted(path)} looks like texts in “${said}”, which is not a language of this game, so the game does not read it. The game has ${listed(languages)}. Move the file, or add the language in Words.`
					: `${quoted(path)} says that it is in “${said}”, and the game reads it as ${words.languages[claim!.language!]}. Correct the header, or move the file.`
			});
		}
	}
};
