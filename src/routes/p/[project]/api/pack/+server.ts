import { identityFor } from '$lib/server/identity';
import { zipOf } from '$core/pack';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { packFor } from '$lib/server/trial';

/** The pack as a ZIP. */
export const GET = ({ params }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const { name, version } = identityFor(model);
		return new Response(zipOf(await packFor(model)) as Uint8Array<ArrayBuffer>, {
			headers: {
				'content-type': 'application/zip',
				'content-disposition': `attachment; filename="${`${name}-${version}`.replace(/[^\w.-]+/g, '_')}.zip"`
			}
		});
	});
