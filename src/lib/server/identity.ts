// Who my mod is, and how people change it: in its own file where the game has such files, else in the project.
import { readDocument } from '$core/formats';
import { hintsFor } from '$core/guide';
import { identityIn, identityOf, layerName, type Identity } from '$core/stack';
import { decode } from '$core/text';
import type { IdentityPage } from '$core/views';
import { openSource } from '../files';
import { changing } from './changing';
import { bumpProject, putIdentity } from './db/projects';
import { modelOf, type Model } from './model';
import { apply } from './plans';

/** Who my mod is. @throws UnsafeName */
export const identityFor = ({ stack, project }: Model): Identity =>
	identityOf(stack, project.identity ?? project.mod);

/** What a mod in a folder or archive calls itself in its own file; null where it does not. */
export async function titleIn(path: string, { stack }: Model): Promise<string | null> {
	const file = stack.guide.identity;
	if (file === undefined) return null;
	const source = await openSource(path);
	try {
		const entry = source.entries.find((one) => one.path === file);
		const bytes = entry && (await source.read(entry)).bytes;
		if (!bytes) return null;
		return (
			identityIn(readDocument(file, decode(bytes).text, hintsFor(stack.guide, file))).title?.slice(0, 80) ??
			null
		);
	} finally {
		source.close();
	}
}

/** The page of my mod's identity. */
export function identityPage(model: Model): IdentityPage {
	const { stack } = model;
	return {
		identity: identityFor(model),
		file: stack.guide.identity ?? null,
		written: stack.guide.identity !== undefined && stack.mine?.files.has(stack.guide.identity) === true,
		others: stack.layers
			.filter(({ owner }) => owner === 'others')
			.map((layer) => ({ name: layerName(stack, layer), title: layer.title }))
	};
}

/** Says who my mod is. Gives the title of what was done. @throws UnsafeName, NotPossible */
export async function identify(slug: string, identity: Identity): Promise<string> {
	const model = await modelOf(slug);
	if (model.stack.guide.identity !== undefined)
		return (await apply(slug, { do: 'identify', identity })).plan.title;
	identityOf(model.stack, identity);
	await changing(slug, async (client) => {
		await putIdentity(client, slug, identity);
		return bumpProject(client, slug);
	});
	return `Saved: ${identity.title} ${identity.version}`;
}
