import { json } from '@sveltejs/kit';
import { readProject } from '$lib/server/db/projects';
import { db } from '$lib/server/db/pool';
import { onChange, onOutside } from '$lib/server/events';

/** Open streams that one server takes; a page that gets none asks again by itself. */
const MOST = 300;
let open = 0;

const asking = new Map<string, Promise<string>>();

/** What is told of a project now; asked of the database once, however many pages listen. */
function stateOf(slug: string): Promise<string> {
	let said = asking.get(slug);
	if (!said) {
		said = readProject(db(), slug)
			.then((project) => (project ? `data: ${project.version}` : 'event: gone\ndata: gone'))
			.finally(() => asking.delete(slug));
		asking.set(slug, said);
	}
	return said;
}

/** The project's version, now and whenever it changes, as server-sent events. */
export const GET = ({ params }) => {
	if (open >= MOST)
		return json(
			{ message: `${MOST} pages are open already. Close some of them.` },
			{ status: 503, headers: { 'retry-after': '5' } }
		);
	open++;
	let stop: () => void = () => undefined;
	const stream = new ReadableStream<Uint8Array>({
		start(controller) {
			const bytes = new TextEncoder();
			const send = (said: string) => {
				try {
					controller.enqueue(bytes.encode(`${said}\n\n`));
				} catch {
					stop();
				}
			};
			// A page that asks while the database is away is told when it is back.
			const tell = () => void stateOf(params.project).then(send, () => undefined);
			const off = onChange(params.project, tell);
			const offOutside = onOutside(params.project, () => send('event: outside\ndata: changed'));
			const beat = setInterval(() => send(': here'), 15_000);
			let stopped = false;
			stop = () => {
				if (stopped) return;
				stopped = true;
				open--;
				off();
				offOutside();
				clearInterval(beat);
			};
			tell();
		},
		cancel: () => stop()
	});
	return new Response(stream, {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' }
	});
};
