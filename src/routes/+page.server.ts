import { redirect } from '@sveltejs/kit';
import { keptFiles } from '$lib/server/archive';
import { listProjects, projectEntries } from '$lib/server/db/projects';
import { db } from '$lib/server/db/pool';
import { roots } from '$lib/server/settings';

export const load = async ({ cookies, url }) => {
	const projects = await listProjects(db());
	const only = projects.length === 1 ? projects[0]! : null;
	// The first visit to a project with an introduction opens on Find, where its steps are.
	if (only?.tries && !cookies.get('seen') && !url.searchParams.has('all')) {
		cookies.set('seen', '1', { path: '/', secure: false, maxAge: 31_536_000 });
		redirect(307, `/p/${only.slug}/find`);
	}
	return { projects: await projectEntries(db()), roots: roots(), kept: await keptFiles() };
};
