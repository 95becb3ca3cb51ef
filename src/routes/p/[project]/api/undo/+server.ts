import { answer } from '$lib/server/answers';
import { step } from '$lib/server/plans';

export const POST = ({ params }) =>
	answer(async () => {
		const done = await step(params.project, 'undo');
		return { title: done?.row.title ?? null, version: done?.version ?? null };
	});
