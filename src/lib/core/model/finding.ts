// What the files of a layer tell of the game, and which of them are to be read in another way because of it.
import { claimOf, hintsFor, type Guide } from '../guide';
import { infer, inferSteps, type Scope, type DataFile } from '../infer';
import { isGame, type Layer, type LayerFile } from '../stack';

/** What is asked of a layer's files: the lowest layer tells of the game, the others of what they add. */
const scopeOf = (layer: Layer): [DataFile[], Scope] => [
	[...layer.files.values()].flatMap(({ path, facts }) => (facts ? [{ path, facts }] : [])),
	{ paths: new Set(layer.paths ?? layer.files.keys()), freeOnly: !isGame(layer) }
];

/** The guide with everything that the files of a layer tell and nobody has stated, in steps; see `inferSteps`. */
export const guideSteps = (guide: Guide, layer: Layer): Generator<void, Guide> =>
	inferSteps(guide, ...scopeOf(layer));

/** The same, in one go. */
export const guideWith = (guide: Guide, layer: Layer): Guide => infer(guide, ...scopeOf(layer));

/** Whether a file is read otherwise by what the guide says now: its records have other ids or other places. */
export function isReadOtherwise({ path, facts }: LayerFile, guide: Guide): boolean {
	if (!facts) return false;
	const { id, prefix, at, key, keyParts, spare, element, layout, parts } = hintsFor(guide, path);
	if (parts) return true;
	if (facts.format === null) return layout !== undefined && facts.prose.length > 0;
	const claim = claimOf(guide, path);
	const named = (id ?? prefix) !== undefined && facts.written.includes(0) && claim !== null;
	const elsewhere =
		(at !== undefined && at !== facts.at) ||
		(element !== undefined && !facts.parts?.some((part) => part.element === element));
	const together = keyParts?.join() !== facts.keyParts?.join();
	return (
		together ||
		(named && guide.kinds[claim.kind]!.id !== undefined) ||
		elsewhere ||
		(spare !== undefined && facts.written.includes(0)) ||
		(key !== undefined &&
			(facts.key !== null || at === null || facts.written.includes(0)) &&
			key !== facts.key)
	);
}
