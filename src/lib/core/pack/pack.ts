import { Zip, ZipDeflate } from 'fflate';
import { digestOf } from '../text';
import { derivedFiles } from '../derived';
import { claimOf, type Guide } from '../guide';
import { identityText, type Identity } from '../stack';

export type Why = 'new' | 'overrides' | 'patch' | 'derived';

/** One file of the pack. */
export interface PackFile {
	path: string;
	why: Why;
	/** The same in a sentence. */
	reason: string;
	sha256: string;
	bytes: number;
}

export interface Pack {
	files: PackFile[];
	contents: Map<string, Uint8Array>;
}

function reasonFor(guide: Guide, path: string, inBase: boolean): [Why, string] {
	const claim = claimOf(guide, path);
	const kind = claim && guide.kinds[claim.kind];
	if (kind && claim.removes)
		return ['patch', `removes ${(kind.plural ?? kind.title).toLowerCase()} from the game, by exact copies`];
	if (!inBase)
		return [
			'new',
			kind
				? `adds a file of ${(kind.plural ?? kind.title).toLowerCase()} beside the game's`
				: 'is not in the game'
		];
	if (kind && kind.merge !== 'file')
		return [
			'patch',
			`its ${(kind.plural ?? kind.title).toLowerCase()} are merged into the game's, ${kind.merge} by ${kind.merge}`
		];
	return ['overrides', 'the game reads it instead of its own file of this name'];
}

/** What else makes a pack. */
export interface PackBesides {
	/** What goes along for those who play it, by path; a file of the mod under the same path counts instead. */
	texts?: ReadonlyMap<string, string> | undefined;
	/** The guide with what was only detected: an index lists records of such kinds, too. */
	known?: Guide | undefined;
	/** What programs of the game's tools made, by path: instead of what the mod has there. */
	made?: ReadonlyMap<string, Uint8Array> | undefined;
	/** The file that the layers below have under a path. */
	below?: ((path: string) => Uint8Array | undefined) | undefined;
}

/**
 * The pack of my mod: its files as they are, but for those that are made from the others, and the file that says who it
 * is, made from the project where my mod has none. Nothing else gets in.
 * @param mine bytes by path from the mod's root
 * @param basePaths all paths that the layers below have
 */
export function packOf(
	mine: ReadonlyMap<string, Uint8Array>,
	basePaths: ReadonlySet<string>,
	guide: Guide,
	identity: Identity,
	{ texts = new Map(), made = new Map(), known = guide, below = () => undefined }: PackBesides = {}
): Pack {
	const contents = new Map([...mine, ...made]);
	const derived = new Set<string>();
	if (guide.identity && !contents.has(guide.identity)) {
		contents.set(guide.identity, new TextEncoder().encode(identityText(identity)));
		derived.add(guide.identity);
	}
	for (const [path, text] of texts)
		if (!mine.has(path)) {
			contents.set(path, new TextEncoder().encode(text));
			derived.add(path);
		}
	const lists = derivedFiles(known, { mine: contents, below, belowPaths: basePaths });
	for (const [path, bytes] of lists) contents.set(path, bytes);
	const sorted = new Map([...contents].sort(([a], [b]) => (a < b ? -1 : 1)));
	const files = [...sorted].map(([path, bytes]): PackFile => {
		const [why, reason] = lists.has(path)
			? (['derived', 'made from the other files of the mod'] as const)
			: made.has(path)
				? (['derived', 'made from the other files of the mod by a program of the game'] as const)
				: derived.has(path)
					? ([
							'derived',
							texts.has(path)
								? 'made from what the mod changes, for those who play it'
								: 'made from the project: name, version, game version'
						] as const)
					: path === guide.identity
						? (['new', 'identifies the mod'] as const)
						: reasonFor(guide, path, basePaths.has(path));
		return { path, why, reason, sha256: digestOf(bytes), bytes: bytes.length };
	});
	return { files, contents: sorted };
}

/** Bytes of a file that are packed at a time. */
const PIECE = 2 ** 20;

/** The pack as a ZIP, piece by piece. Order, times and attributes are fixed, so that equal packs are equal bytes. */
export function* zipPieces(pack: Pack): Generator<Uint8Array> {
	let ready: Uint8Array[] = [];
	const zip = new Zip((fault, piece) => {
		if (fault) throw fault;
		ready.push(piece);
	});
	for (const [path, bytes] of pack.contents) {
		const entry = new ZipDeflate(path, { level: 6 });
		entry.mtime = new Date(1980, 0, 1);
		zip.add(entry);
		for (let at = 0; at < bytes.length || at === 0; at += PIECE) {
			entry.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length);
			yield* ready;
			ready = [];
		}
	}
	zip.end();
	yield* ready;
}

/** The same as one. */
export function zipOf(pack: Pack): Uint8Array {
	const pieces = [...zipPieces(pack)];
	const whole = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
	let at = 0;
	for (const piece of pieces) {
		whole.set(piece, at);
		at += piece.length;
	}
	return whole;
}
