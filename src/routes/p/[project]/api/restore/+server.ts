import { answer } from '$lib/server/answers';
import { putBack } from '$lib/server/trial';

/** Takes the mod out of the game's folder again. */
export const POST = ({ params }) =>
	answer(async () => {
		const { mod } = await putBack(params.project);
		return { mod };
	});
