import { rm } from 'node:fs/promises';
import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { guideBeside } from '$lib/files';
import { startImport, type Wish } from '$lib/server/imports';
import { allowedPath } from '$lib/server/settings';
import { toDisk } from '$lib/server/upload';

const wishSchema = z.object({
	title: z.string().trim().max(80),
	folder: z.string().trim().min(1),
	/** Expansions and other people's mods, in load order. */
	layers: z.array(z.string().trim()).max(50).default([]),
	mine: z.string().trim().default(''),
	/** What my mod is called. */
	called: z.string().trim().max(200).default(''),
	guide: z.string().trim().default('')
});

const titleFrom = (path: string) => path.split('/').at(-1)!;

const gameWish = (
	title: string,
	source: string,
	guide: string | null,
	others: string[],
	mine: string,
	called = ''
): Wish => ({
	title,
	guide,
	target: null,
	layers: [
		{ owner: 'game', title: 'Base', source },
		...others.map((path) => ({ owner: 'others' as const, title: titleFrom(path), source: path })),
		{ owner: 'me', title: 'My mod', source: mine, ...(called ? { called } : {}) }
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
	return startImport(gameWish(wish.title || titleFrom(source), source, guide, others, mine, wish.called));
}

async function fromZip(request: Request, title: string): Promise<string> {
	const file = await toDisk(request);
	try {
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
