import * as z from 'zod';
import { intentionSchema } from '$core/edits';
import { answer, bodyOf } from '$lib/server/answers';
import { preview } from '$lib/server/plans';

const bodySchema = z.object({ intention: intentionSchema });

/** What an intention would do. */
export const POST = ({ params, request }) =>
	answer(async () => preview(params.project, (await bodyOf(request, bodySchema)).intention));
