import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { wordsOf } from '$lib/server/views/text';
import { digestOf } from '$core/text';
import { bytesOf } from '$core/change';

/** The words of a text, my mod's or else those that the game reads, and the digest of its file. */
export const GET = ({ params }) =>
	answer(async () => {
		const { stack } = await modelOf(params.project);
		const file = wordsOf(stack, params.path);
		return { text: file.text, from: digestOf(bytesOf(file)) };
	});
