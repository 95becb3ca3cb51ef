import type { Queries } from './pool';

/** A file that is not what was brought in. `since` is the time of the first look that saw it. */
export interface Difference {
	path: string;
	what: 'changed' | 'missing' | 'new';
	since: string;
}

export interface VerificationRow {
	at: string;
	files: number;
	differs: Difference[];
}

/** Where a layer is from, and the digest of each of its files. */
export async function readLayerSource(
	q: Queries,
	layer: string
): Promise<{ source: string; files: Map<string, string> } | null> {
	const { rows } = await q.query<{ source: string }>('select source from layers where id = $1', [layer]);
	if (!rows[0]) return null;
	const files = await q.query<{ path: string; sha256: string }>(
		'select path, sha256 from layer_files where layer = $1',
		[layer]
	);
	return { source: rows[0].source, files: new Map(files.rows.map(({ path, sha256 }) => [path, sha256])) };
}

export async function insertVerification(
	q: Queries,
	layer: string,
	files: number,
	differs: Difference[]
): Promise<void> {
	await q.query('insert into verifications (layer, files, differs) values ($1, $2, $3)', [
		layer,
		files,
		JSON.stringify(differs)
	]);
}

/** The last comparison of a layer; null where there was none. */
export async function lastVerification(q: Queries, layer: string): Promise<VerificationRow | null> {
	const { rows } = await q.query<{ at: Date; files: number; differs: Difference[] }>(
		'select at, files, differs from verifications where layer = $1 order by id desc limit 1',
		[layer]
	);
	return rows[0] ? { ...rows[0], at: rows[0].at.toISOString() } : null;
}
