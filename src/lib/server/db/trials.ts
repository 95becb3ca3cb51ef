import type { Foretold } from '$core/checks';
import type { Queries } from './pool';

export interface TrialRow {
	id: number;
	at: string;
	/** Exit status of the game; null when it did not end by itself. */
	status: number | null;
	milliseconds: number;
	log: string;
	files: string[];
	backup: string;
	/** The snags that blocked when it began; null where that is not known. */
	foretold: Foretold[] | null;
	/** Milliseconds of each step, and how many files of the game's folder were written; null where that is not known. */
	took: { pack: number; install: number; written: number } | null;
}

const trial = (row: Record<string, unknown>): TrialRow => ({
	...(row as unknown as TrialRow),
	id: Number(row.id),
	at: (row.at as Date).toISOString(),
	foretold: row.foretold === null ? null : (JSON.parse(row.foretold as string) as Foretold[]),
	took: row.took === null ? null : (JSON.parse(row.took as string) as TrialRow['took'])
});

export async function insertTrial(
	q: Queries,
	slug: string,
	row: Omit<TrialRow, 'id' | 'at'>
): Promise<number> {
	const { rows } = await q.query(
		'insert into trials (project, status, milliseconds, log, files, backup, foretold, took) values ($1, $2, $3, $4, $5, $6, $7, $8) returning id',
		[
			slug,
			row.status,
			row.milliseconds,
			row.log,
			JSON.stringify(row.files),
			row.backup,
			JSON.stringify(row.foretold),
			JSON.stringify(row.took)
		]
	);
	return Number(rows[0].id);
}

/** The trials of a project, newest first. */
export async function readTrials(q: Queries, slug: string, most = 20): Promise<TrialRow[]> {
	const { rows } = await q.query(
		'select id, at, status, milliseconds, log, files, backup, foretold, took from trials where project = $1 order by id desc limit $2',
		[slug, most]
	);
	return rows.map(trial);
}
