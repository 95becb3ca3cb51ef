// Globs of a guide: `*` and `?` within a part of a path, `**` for any parts, `[abc]`, `{a,b}`. Matched without going back
// more than once for each star, so that no glob and no path can take long.

/** Ways in which the braces of one glob may be filled in. */
const MOST = 1000;

type Piece = { any: true } | { one: true } | { set: string; not: boolean } | { is: string };
type Part = 'any' | Piece[];

/** All ways to fill in the braces of a glob, or the first `MOST` and one more. */
function expand(glob: string): string[] {
	const open = glob.indexOf('{');
	if (open < 0) return [glob];
	let depth = 0;
	const cuts = [open];
	for (let at = open; at < glob.length; at++) {
		if (glob[at] === '{') depth++;
		else if (glob[at] === ',' && depth === 1) cuts.push(at);
		else if (glob[at] === '}' && --depth === 0) {
			cuts.push(at);
			if (cuts.length === 2) break;
			const rests = expand(glob.slice(at + 1));
			const found = new Set<string>();
			for (let nth = 0; nth + 1 < cuts.length; nth++)
				for (const inner of expand(glob.slice(cuts[nth]! + 1, cuts[nth + 1])))
					for (const rest of rests) if (found.size <= MOST) found.add(glob.slice(0, open) + inner + rest);
			return [...found];
		}
	}
	// Braces without a comma, or never closed, stand for themselves.
	return expand(glob.slice(open + 1)).map((rest) => glob.slice(0, open + 1) + rest);
}

function piecesOf(part: string): Piece[] {
	const pieces: Piece[] = [];
	for (let at = 0; at < part.length; at++) {
		const char = part[at]!;
		const close = char === '[' ? part.indexOf(']', at + 2) : -1;
		if (char === '*') {
			if (!pieces.at(-1) || !('any' in pieces.at(-1)!)) pieces.push({ any: true });
		} else if (char === '?') pieces.push({ one: true });
		else if (close > 0) {
			const not = part[at + 1] === '!' || part[at + 1] === '^';
			pieces.push({ set: part.slice(at + (not ? 2 : 1), close), not });
			at = close;
		} else pieces.push({ is: char === '\\' && at + 1 < part.length ? part[++at]! : char });
	}
	return pieces;
}

function holds(set: string, char: string): boolean {
	for (let at = 0; at < set.length; at++) {
		if (set[at + 1] === '-' && at + 2 < set.length) {
			if (char >= set[at]! && char <= set[at + 2]!) return true;
			at += 2;
		} else if (set[at] === char) return true;
	}
	return false;
}

const fits = (piece: Piece, char: string): boolean =>
	'one' in piece ||
	('is' in piece ? piece.is === char : 'set' in piece && holds(piece.set, char) !== piece.not);

/**
 * Whether a row of things fits a row of pieces, some of which stand for any number of things. Goes back to the last of
 * these only: what an earlier one could take, a later one can as well.
 */
function inRow<P, T>(
	pieces: readonly P[],
	things: ArrayLike<T>,
	isAny: (piece: P) => boolean,
	matches: (piece: P, thing: T) => boolean
): boolean {
	let [at, piece, star, mark] = [0, 0, -1, 0];
	while (at < things.length) {
		const next = pieces[piece];
		if (next !== undefined && isAny(next)) {
			star = piece++;
			mark = at;
		} else if (next !== undefined && matches(next, things[at]!)) {
			piece++;
			at++;
		} else if (star >= 0) {
			piece = star + 1;
			at = ++mark;
		} else return false;
	}
	while (piece < pieces.length && isAny(pieces[piece]!)) piece++;
	return piece === pieces.length;
}

const fitsPart = (pieces: Part, part: string): boolean =>
	pieces !== 'any' &&
	(part !== '' || pieces.length === 0) &&
	inRow(pieces, part, (piece) => 'any' in piece, fits);

/** Whether a glob holds anything but a plain path. */
export const isGlob = (glob: string): boolean => /[*?[\]{}\\]/.test(glob);

/** Why a glob cannot be used; null where it can. */
export const globFault = (glob: string): string | null =>
	expand(glob).length > MOST ? `has braces that expand to more than ${MOST} ways` : null;

/** What a glob says of paths, to be asked many times. */
export function globMatcher(glob: string): (path: string) => boolean {
	const ways = expand(glob).map((way) => ({
		// Most paths are distinguished by how they begin and end. `**` may stand for no part, and no slash then.
		head: /^[^*?[\\]*/.exec(way)![0].replace(/\/$/, ''),
		tail: /[^*?\]\\]*$/.exec(way)![0].replace(/^\//, ''),
		parts: way.split('/').map((part): Part => (part === '**' ? 'any' : piecesOf(part)))
	}));
	return (path) =>
		ways.some(
			({ head, tail, parts }) =>
				path.startsWith(head) &&
				path.endsWith(tail) &&
				inRow(parts, path.split('/'), (part) => part === 'any', fitsPart)
		);
}
