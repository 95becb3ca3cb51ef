import { answer } from '$lib/server/answers';
import { listFolder, previewSource } from '$lib/server/folders';

/** What is in a folder below the allowed roots; with `?look` what importing it would read. */
export const GET = ({ url }) =>
	answer(async () => {
		const path = url.searchParams.get('path');
		return url.searchParams.has('look') ? previewSource(path ?? '') : listFolder(path);
	});
