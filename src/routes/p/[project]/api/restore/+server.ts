import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { putBack } from '$lib/server/trial';

/** Takes the mod out of the game's folder again. */
export const POST = ({ params }) =>
	answer(async () => {
		await putBack(await modelOf(params.project));
		return { done: true };
	});
