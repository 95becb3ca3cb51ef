import { error } from '@sveltejs/kit';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { ticketOf } from '$lib/server/views/ticket';

export const load = ({ params }) =>
	show(async () => {
		const ticket = ticketOf(await modelOf(params.project), params.kind, params.id);
		const list = ticket.lists.find(({ path }) => path === params.path);
		if (!list) error(404, `${ticket.name} has no list “${params.path}”.`);
		const within = (path: string) => path.startsWith(`${list.path}${list.named ? '.' : '['}`);
		return {
			of: { kind: ticket.kind, id: ticket.id, name: ticket.name, kindTitle: ticket.kindTitle },
			list,
			lists: ticket.lists.filter(({ path }) => path === list.path || within(path)),
			optional: ticket.optional,
			rows: ticket.groups.flatMap(({ rows }) => rows).filter(({ path }) => within(path))
		};
	});
