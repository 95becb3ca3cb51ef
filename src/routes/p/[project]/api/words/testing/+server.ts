import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { testingFile } from '$lib/server/views/languages';

/** A mod with the language for testing, as a ZIP. */
export const GET = ({ params, url }) =>
	show(async () => {
		const { name, bytes } = testingFile(await modelOf(params.project), url.searchParams.get('as') ?? '');
		return new Response(bytes as Uint8Array<ArrayBuffer>, {
			headers: {
				'content-type': 'application/zip',
				'content-disposition': `attachment; filename="${name}"`
			}
		});
	});
