import { show } from '$lib/server/answers';
import { linkSeen } from '$lib/server/linked';
import { NotThere } from '$lib/server/faults';
import { identityFor } from '$lib/server/identity';
import { isOpen, modelOf, openedSoon, type Model } from '$lib/server/model';
import { readNotes } from '$lib/server/db/notes';
import { db } from '$lib/server/db/pool';
import { nextSteps } from '$lib/server/plans';
import { layerIn, recordAsOf } from '$lib/server/views/as-of';
import { hasPlaces } from '$lib/server/views/map';
import { hasScripts } from '$lib/server/views/scripts';
import { ticketOf } from '$lib/server/views/ticket';
import { gameVersionOf } from '$core/stack';
import { redirect } from '@sveltejs/kit';

/** Milliseconds after which people are told that a project is being opened. */
const SOON = 600;

/** What my mod is called; null where its name is none that can be used. */
function calledIn(model: Model): { title: string; version: string } | null {
	try {
		const { title, version } = identityFor(model);
		return { title, version };
	} catch {
		return null;
	}
}

export const load = ({ params, url }) =>
	show(async () => {
		if (!isOpen(params.project) && !(await openedSoon(params.project, SOON)).open)
			redirect(307, `/opening/${params.project}?to=${encodeURIComponent(url.pathname + url.search)}`);
		const model = await modelOf(params.project);
		const wanted = url.searchParams.get('ticket');
		const as = layerIn(url);
		let ticket = null;
		let asOf = null;
		let ticketFault: string | null = null;
		if (wanted) {
			const slash = wanted.indexOf('/');
			try {
				const [kind, id] = [wanted.slice(0, slash), wanted.slice(slash + 1)];
				if (as === null) ticket = ticketOf(model, kind, id);
				else asOf = recordAsOf(model, as, kind, id);
			} catch (fault) {
				if (!(fault instanceof NotThere)) throw fault;
				ticketFault = fault.message;
			}
		}
		const link = await linkSeen(params.project);
		return {
			project: {
				slug: model.project.slug,
				title: model.project.title,
				version: model.project.version,
				gameVersion: gameVersionOf(model.stack),
				mod: calledIn(model)
			},
			scripts: hasScripts(model.stack),
			places: hasPlaces(model.stack),
			counts: model.counts,
			vouched: model.vouched(),
			steps: await nextSteps(params.project),
			outside: link?.outside.length ?? 0,
			linkFault: link?.fault ?? null,
			notes: await readNotes(db(), params.project),
			wordsKind: model.stack.guide.words?.kind ?? null,
			ticket,
			asOf,
			ticketFault
		};
	});
