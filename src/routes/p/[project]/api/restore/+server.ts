import { answer } from '$lib/server/answers';
import { mustNotBeBorrowed } from '$lib/server/borrowed';
import { putBack } from '$lib/server/trial';

/** Takes the mod out of the game's folder again. */
export const POST = ({ params }) =>
	answer(async () => {
		mustNotBeBorrowed(params.project);
		const { mod, proof, aside } = await putBack(params.project);
		return {
			mod,
			files: proof.length,
			whole: proof.every(({ before, now }) => before === now),
			aside: aside.length
		};
	});
