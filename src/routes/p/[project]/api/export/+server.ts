import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { ENDING, exportProject, exportsFolder } from '$lib/server/archive';
import { show } from '$lib/server/answers';

/** The project as one file; with `layers=yes` also the bytes of the game and of other mods. */
export const GET = ({ params, url }) =>
	show(async () => {
		const folder = exportsFolder();
		await mkdir(folder, { recursive: true });
		const file = join(folder, `${randomUUID()}${ENDING}`);
		await exportProject(params.project, file, url.searchParams.get('layers') === 'yes');
		const { size } = await stat(file);
		const stream = createReadStream(file);
		stream.once('close', () => void rm(file, { force: true }));
		const name = `${params.project}-${new Date().toISOString().slice(0, 10)}${ENDING}`;
		return new Response(Readable.toWeb(stream) as ReadableStream<Uint8Array>, {
			headers: {
				'content-type': 'application/zip',
				'content-length': String(size),
				'content-disposition': `attachment; filename="${name.replace(/[^\w.-]+/g, '_')}"`
			}
		});
	});
