import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { ticketOf } from '$lib/server/views/ticket';

export const GET = ({ params }) =>
	answer(async () => ticketOf(await modelOf(params.project), params.kind, params.id));
