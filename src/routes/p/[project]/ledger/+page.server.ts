import { readLedger } from '$lib/server/db/ledger';
import { db } from '$lib/server/db/pool';

export const load = async ({ params }) => ({ entries: await readLedger(db(), params.project) });
