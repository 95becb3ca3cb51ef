import { counted } from '$core/wording';
import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { db } from '$lib/server/db/pool';
import { nameMoment } from '$lib/server/db/ledger';
import { NotThere } from '$lib/server/faults';
import { backTo } from '$lib/server/plans';

const schema = z.discriminatedUnion('do', [
	z.object({ do: z.literal('name'), step: z.int(), mark: z.string().trim().max(100) }),
	/** `last`: the newest step that the caller has seen. */
	z.object({ do: z.literal('back'), step: z.int(), last: z.int() })
]);

/** Names the moment after a step, or goes back to it. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const wish = await bodyOf(request, schema);
		if (wish.do === 'back') {
			const count = await backTo(params.project, wish.step, wish.last);
			return { said: `Undid ${counted(count, 'step')}.` };
		}
		if (!(await nameMoment(db(), params.project, wish.step, wish.mark || null)))
			throw new NotThere('There is no such step.');
		return { said: wish.mark ? `Named this moment “${wish.mark}”.` : 'The name was removed.' };
	});
