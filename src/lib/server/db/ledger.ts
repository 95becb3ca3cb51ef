import { keptPlan, leanPlan, PlanFault, readPlan, type Plan } from '$core/change';
import { intentionSchema, type Intention } from '$core/edits';
import type { Queries } from './pool';

export interface LedgerRow {
	id: number;
	title: string;
	/** Null where it was written by a version that wanted it otherwise: the step can be undone, not repeated. */
	intention: Intention | null;
	plan: Plan;
	state: 'applied' | 'undone' | 'dropped';
	at: string;
	/** What people call the moment right after it. */
	mark: string | null;
	/** The encodings that were chosen before it, by path, where it chose others; null for none. */
	encodings: Record<string, string | null>;
}

const COLUMNS = 'id, title, intention, plan, state, applied_at, mark, encodings';

/** A step of the ledger that cannot be read. */
export class LedgerFault extends Error {}

function planOf(id: number, text: string): Plan {
	try {
		return readPlan(JSON.parse(text));
	} catch (fault) {
		if (!(fault instanceof PlanFault || fault instanceof SyntaxError)) throw fault;
		throw new LedgerFault(
			`Step ${id} of the ledger cannot be read (${fault.message}). Restore a copy of the project that was kept before, or start the version that wrote the step.`
		);
	}
}

/** A row as it was written. @throws LedgerFault */
const entry = (row: Record<string, unknown>): LedgerRow => ({
	...(row as unknown as LedgerRow),
	id: Number(row.id),
	intention: intentionSchema.safeParse(JSON.parse(row.intention as string)).data ?? null,
	plan: planOf(Number(row.id), row.plan as string),
	at: (row.applied_at as Date).toISOString()
});

/** The digests of all bytes that a step may need to be undone or done again. */
const digestsIn = ({ changes }: Plan): string[] => [
	...new Set(changes.flatMap(({ before, after }) => [before, after]).filter((digest) => digest !== null))
];

/** Writes an applied plan down. What was undone before can no longer be redone. */
export async function appendPlan(
	q: Queries,
	slug: string,
	intention: Intention,
	plan: Plan,
	encodings: LedgerRow['encodings'] = {}
): Promise<number> {
	await q.query("update ledger set state = 'dropped' where project = $1 and state = 'undone'", [slug]);
	const { rows } = await q.query(
		"insert into ledger (project, title, intention, plan, digests, encodings, state) values ($1, $2, $3, $4, $5, $6, 'applied') returning id",
		[
			slug,
			plan.title,
			JSON.stringify(intention),
			JSON.stringify(keptPlan(leanPlan(plan))),
			digestsIn(plan),
			JSON.stringify(encodings)
		]
	);
	return Number(rows[0].id);
}

const NEXT = {
	undo: "from ledger where project = $1 and state = 'applied' order by id desc limit 1",
	redo: "from ledger where project = $1 and state = 'undone' order by id limit 1"
};

/** The title of the step that undo would take back, or that redo would do again; null where there is none. */
export async function titleFor(q: Queries, slug: string, direction: 'undo' | 'redo'): Promise<string | null> {
	const { rows } = await q.query<{ title: string }>(`select title ${NEXT[direction]}`, [slug]);
	return rows[0]?.title ?? null;
}

/** The step that undo would take back, or that redo would do again. */
export async function stepFor(
	q: Queries,
	slug: string,
	direction: 'undo' | 'redo'
): Promise<LedgerRow | null> {
	const { rows } = await q.query(`select ${COLUMNS} ${NEXT[direction]}`, [slug]);
	return rows[0] ? entry(rows[0]) : null;
}

/** Some steps that are applied, the oldest first. */
export async function stepsNamed(q: Queries, slug: string, ids: readonly number[]): Promise<LedgerRow[]> {
	const { rows } = await q.query(
		`select ${COLUMNS} from ledger where project = $1 and id = any($2) and state = 'applied' order by id`,
		[slug, ids]
	);
	return rows.map(entry);
}

/** A step that is applied, and those since that are, the oldest first. */
export async function stepsFrom(q: Queries, slug: string, id: number): Promise<LedgerRow[]> {
	const { rows } = await q.query(
		`select ${COLUMNS} from ledger where project = $1 and id >= $2 and state = 'applied' order by id`,
		[slug, id]
	);
	return rows.map(entry);
}

export async function markStep(q: Queries, id: number, state: LedgerRow['state']): Promise<void> {
	await q.query('update ledger set state = $2 where id = $1', [id, state]);
}

/** Gives the moment after a step a name, or takes it away. True when there is such a step. */
export async function nameMoment(
	q: Queries,
	slug: string,
	id: number,
	mark: string | null
): Promise<boolean> {
	const { rowCount } = await q.query('update ledger set mark = $3 where project = $1 and id = $2', [
		slug,
		id,
		mark
	]);
	return rowCount === 1;
}

/** All steps, newest first. */
export async function readLedger(q: Queries, slug: string, most = 500): Promise<LedgerRow[]> {
	const { rows } = await q.query(
		`select ${COLUMNS} from ledger where project = $1 order by id desc limit $2`,
		[slug, most]
	);
	return rows.map(entry);
}
