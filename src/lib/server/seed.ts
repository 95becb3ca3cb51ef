import { cp, mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import * as z from 'zod';
import { readProject } from './db/projects';
import { db } from './db/pool';
import { bringIn, NO_PROGRESS } from './imports';
import { codeFolder, homeFolder } from './settings';

const demoSchema = z.object({
	slug: z.string(),
	title: z.string(),
	base: z.string(),
	guide: z.string(),
	/** Other people's mods below mine, and where they are in the game's folder. */
	mods: z.array(z.object({ title: z.string(), folder: z.string(), installed: z.string() })),
	order: z.object({ file: z.string(), says: z.unknown() }),
	mine: z.string(),
	start: z.string(),
	tries: z.array(z.object({ title: z.string(), about: z.string(), button: z.string(), href: z.string() }))
});

/** Brings the demo in as `demo/demo.json` describes it, with a game folder to install into, unless it is there already. */
export async function seedDemo(): Promise<void> {
	const folder = join(codeFolder(), 'demo');
	const demo = demoSchema.parse(JSON.parse(await readFile(join(folder, 'demo.json'), 'utf8')));
	if (await readProject(db(), demo.slug)) return;
	const guide = await readFile(join(folder, demo.guide), 'utf8');
	const game = join(homeFolder(), 'games', demo.slug);
	await rm(game, { recursive: true, force: true });
	await mkdir(game, { recursive: true });
	await cp(join(folder, demo.base), game, { recursive: true });
	for (const mod of demo.mods)
		await cp(join(folder, mod.folder), join(game, mod.installed), { recursive: true });
	await writeFile(join(game, demo.order.file), `${JSON.stringify(demo.order.says, null, '\t')}\n`);
	await bringIn(
		{
			title: demo.title,
			guide,
			target: null,
			layers: [
				{ owner: 'game', title: 'Base', source: join(folder, demo.base) },
				...demo.mods.map(({ title, folder: own }) => ({
					owner: 'others' as const,
					title,
					source: join(folder, own)
				})),
				{ owner: 'me', title: 'My mod', source: join(folder, demo.mine) }
			]
		},
		NO_PROGRESS,
		{
			slug: demo.slug,
			tries: demo.tries,
			launcher: { folder: game, program: process.execPath, arguments: [join(folder, demo.start), game] }
		}
	);
}
