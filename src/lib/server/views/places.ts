// Where records are in their files, and which files they could be in.
import { claimsOf } from '$core/guide';
import type { EffectiveRecord, Layer, LayerFile, Stack } from '$core/stack';
import type { Ticket } from '$core/views';

/** Whether globs leave room for more files than one in each language. */
const hasRoom = (globs: readonly string[]) =>
	globs.length > 1 || globs.some((glob) => /[*?[\]()!+@]/.test(glob));

/** Files of a kind that records can be put into, in one language where it has several; null where the game reads one only. */
export function filesBeside(
	{ guide, tables, mine }: Stack,
	kind: string,
	language?: string
): string[] | null {
	const { files: globs, merge, id } = guide.kinds[kind]!;
	if (id || !mine || !hasRoom(globs)) return null;
	const files = tables
		.get(kind)!
		.files.filter(({ layer }) => layer === mine || merge === 'file')
		.filter((file) => language === undefined || file.language === language);
	return [...new Set(files.map(({ file }) => file.path))];
}

/** Where a record is in its files, those of my mod where it has any. */
export function placesIn(stack: Stack, { kind, id, presences }: EffectiveRecord): Ticket['places'] {
	const { mine } = stack;
	const about = stack.guide.kinds[kind]!;
	const own = presences.filter(({ layer }) => layer === mine);
	return (own.length > 0 ? own : presences.slice(-1)).flatMap(({ layer, path, doc, language }) => {
		if (about.id || (doc.records.length === 1 && doc.hints.id === id)) return [];
		const nth = doc.records.findIndex((record) => record.id === id) + 1;
		const free = mine !== null && (layer === mine || about.merge === 'file');
		return [
			{
				path,
				nth,
				count: doc.records.length,
				shown: about.reversed ? doc.records.length - nth + 1 : null,
				free: free && doc.records.length > 1,
				apart: free && hasRoom(about.files),
				others: (filesBeside(stack, kind, language) ?? []).filter((other) => other !== path)
			}
		];
	});
}

/** What is needed to put all records of a file into another; null where that cannot be. */
export function mergeOf(
	stack: Stack,
	layer: Layer,
	{ path, facts, doc }: LayerFile
): { kind: string; ids: string[]; others: string[] } | null {
	const claims = claimsOf(stack.guide, path);
	const [claim] = claims;
	// Records of several kinds go into files of their own.
	if (!claim || claims.length > 1 || !facts || facts.count === 0 || !doc) return null;
	const about = stack.guide.kinds[claim.kind]!;
	const files = filesBeside(stack, claim.kind, claim.language);
	if (!files || (layer !== stack.mine && (about.merge !== 'file' || stack.mine?.files.has(path))))
		return null;
	const ids = doc.records.map(({ id }) => id);
	if (ids.length === 1 && doc.hints.id === ids[0]) return null;
	return { kind: claim.kind, ids, others: files.filter((other) => other !== path) };
}
