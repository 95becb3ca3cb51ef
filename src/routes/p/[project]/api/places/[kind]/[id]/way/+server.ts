import * as z from 'zod';
import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { wayOn } from '$lib/server/views/map';

const asked = z.object({ of: z.string(), from: z.string(), to: z.string() });

/** The way from one thing on a map to another of its kind. */
export const GET = ({ params, url }) =>
	answer(async () => {
		const { of, from, to } = asked.parse(Object.fromEntries(url.searchParams));
		return wayOn(await modelOf(params.project), params, of, from, to);
	});
