import * as z from 'zod';
import { followedInWords } from '$core/change';
import { intentionSchema } from '$core/edits';
import { answer, bodyOf } from '$lib/server/answers';
import { apply } from '$lib/server/plans';

const bodySchema = z.object({ intention: intentionSchema, version: z.int().optional() });

/** Carries an intention out. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { intention, version } = await bodyOf(request, bodySchema);
		const { plan, version: next } = await apply(params.project, intention, version);
		return {
			title: plan.title,
			version: next,
			added: plan.changes.flatMap(({ path, before, after }) =>
				before === null && after !== null ? [path] : []
			),
			also: followedInWords(plan.values),
			about: plan.values[0] ? { kind: plan.values[0].kind, id: plan.values[0].id } : null,
			detected: (plan.detected ?? []).reduce((sum, { count }) => sum + count, 0)
		};
	});
