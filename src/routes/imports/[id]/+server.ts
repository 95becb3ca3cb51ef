import * as z from 'zod';
import { answer } from '$lib/server/answers';
import { readImport, touchImport } from '$lib/server/db/imports';
import { db } from '$lib/server/db/pool';
import { NotThere } from '$lib/server/faults';

const STATE = [
	'id',
	'what',
	'title',
	'state',
	'files_done',
	'files_total',
	'bytes_done',
	'bytes_total',
	'reading',
	'message',
	'project'
] as const;

/** How far an import is. */
export const GET = ({ params }) =>
	answer(async () => {
		const found = await readImport(db(), z.uuid().parse(params.id));
		if (!found) throw new NotThere('There is no such import.');
		// Not the guide and the sources: they may be long, and nobody who waits needs them.
		return Object.fromEntries(STATE.map((name) => [name, found[name]]));
	});

/** Cancels it; what was read stays nowhere. */
export const DELETE = ({ params }) =>
	answer(async () => ({
		cancelled: await touchImport(db(), z.uuid().parse(params.id), {
			state: 'cancelled',
			message: 'Cancelled. Nothing was imported.'
		})
	}));
