import * as z from 'zod';
import { noteSchema } from '$core/guide';
import { answer, bodyOf } from '$lib/server/answers';
import { putNote } from '$lib/server/db/notes';
import { db } from '$lib/server/db/pool';
import { modelOf } from '$lib/server/model';

/** Writes a nickname and a note on something; empty ones take it away. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const note = await bodyOf(request, noteSchema);
		if (Object.keys(note.on).length === 0)
			throw new z.ZodError([
				{ code: 'custom', path: ['on'], message: 'must name a record, a kind or a file', input: note.on }
			]);
		const { project } = await modelOf(params.project);
		await putNote(db(), project.slug, note);
		return note;
	});
