import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { guideBeside, SourceFault } from '$lib/files';
import { startImport, type Wish } from '$lib/server/imports';
import { allowedPath, homeFolder } from '$lib/server/settings';

const MOST_UPLOADED = 512 * 2 ** 20;

const wishSchema = z.object({
	title: z.string().trim().max(80),
	folder: z.string().trim().min(1),
	/** Expansions and other people's mods, in load order. */
	layers: z.array(z.string().trim()).max(50).default([]),
	mine: z.string().trim().default(''),
	guide: z.string().trim().default('')
});

const nameOf = (path: string) => path.split('/').at(-1)!;

const gameWish = (
	title: string,
	source: string,
	guide: string | null,
	others: string[],
	mine: string
): Wish => ({
	title,
	guide,
	target: null,
	layers: [
		{ role: 'base', title: 'Base', source },
		...others.map((path) => ({ role: 'mod' as const, title: nameOf(path), source: path })),
		{ role: 'mine', title: 'My mod', source: mine }
	]
});

async function fromFolder(request: Request): Promise<string> {
	const wish = await bodyOf(request, wishSchema);
	const source = await allowedPath(wish.folder);
	const mine = wish.mine === '' ? '' : await allowedPath(wish.mine);
	const others = await Promise.all(
		wish.layers.filter((path) => path !== '').map((path) => allowedPath(path))
	);
	const guide = wish.guide !== '' ? wish.guide : await guideBeside(source);
	return startImport(gameWish(wish.title || nameOf(source), source, guide, others, mine));
}

/** A ZIP comes as the body itself, so that it goes to disk piece by piece and never stands in memory whole. */
async function fromZip(request: Request, title: string): Promise<string> {
	const folder = join(homeFolder(), 'uploads');
	await mkdir(folder, { recursive: true });
	const file = join(folder, `${randomUUID()}.zip`);
	let size = 0;
	try {
		if (!request.body) throw new SourceFault('The file is empty; there is nothing in it to bring in.');
		await pipeline(
			Readable.fromWeb(request.body as Parameters<typeof Readable.fromWeb>[0]),
			async function* (chunks: AsyncIterable<Buffer>) {
				for await (const chunk of chunks) {
					size += chunk.length;
					if (size > MOST_UPLOADED)
						throw new SourceFault(
							`The archive is larger than ${MOST_UPLOADED / 2 ** 20} MB. Unpack it and bring in its folder instead.`
						);
					yield chunk;
				}
			},
			createWriteStream(file)
		);
		return await startImport(gameWish(title, file, null, [], ''));
	} catch (fault) {
		await rm(file, { force: true });
		throw fault;
	}
}

export const POST = ({ request, url }) =>
	answer(async () => {
		const zip = request.headers.get('content-type') === 'application/zip';
		return {
			id: zip
				? await fromZip(request, (url.searchParams.get('title') ?? '').slice(0, 80) || 'Game')
				: await fromFolder(request)
		};
	});
