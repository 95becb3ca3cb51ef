import mime from 'mime';
import { show } from '$lib/server/answers';
import { readBlobs } from '$lib/server/db/blobs';
import { db } from '$lib/server/db/pool';
import { NotThere } from '$lib/server/faults';
import { modelOf } from '$lib/server/model';

/** A picture or a sound of a layer, as its bytes are. */
export const GET = ({ params, request }) =>
	show(async () => {
		const { layers } = await modelOf(params.project);
		const file = layers.find(({ id }) => id === params.layer)?.files.find(({ path }) => path === params.path);
		const type = mime.getType(params.path) ?? '';
		if (!file || !/^(?:image|audio)\//.test(type))
			throw new NotThere(`There is no picture or sound ${params.path}.`);
		const tag = `"${file.sha256}"`;
		const headers = {
			etag: tag,
			'cache-control': 'private, no-cache',
			// What a game's picture says is shown, never run.
			'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
			'x-content-type-options': 'nosniff'
		};
		if (request.headers.get('if-none-match') === tag) return new Response(null, { status: 304, headers });
		const bytes = (await readBlobs(db(), [file.sha256])).get(file.sha256);
		if (!bytes) throw new NotThere(`${params.path} is too large to be kept, so it cannot be shown.`);
		return new Response(bytes as Uint8Array<ArrayBuffer>, { headers: { ...headers, 'content-type': type } });
	});
