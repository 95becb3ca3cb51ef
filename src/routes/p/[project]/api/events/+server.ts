import { readProject } from '$lib/server/db/projects';
import { db } from '$lib/server/db/pool';
import { onChange, onOutside } from '$lib/server/events';

/** The project's version, now and whenever it changes, as server-sent events. */
export const GET = ({ params }) => {
	let stop: () => void = () => undefined;
	const stream = new ReadableStream<Uint8Array>({
		start(controller) {
			const bytes = new TextEncoder();
			const tell = async () => {
				try {
					const project = await readProject(db(), params.project);
					const said = project ? `data: ${project.version}` : 'event: gone\ndata: gone';
					controller.enqueue(bytes.encode(`${said}\n\n`));
				} catch {
					stop();
				}
			};
			const off = onChange(params.project, () => void tell());
			const offOutside = onOutside(params.project, () => {
				try {
					controller.enqueue(bytes.encode('event: outside\ndata: changed\n\n'));
				} catch {
					stop();
				}
			});
			const beat = setInterval(() => {
				try {
					controller.enqueue(bytes.encode(': here\n\n'));
				} catch {
					stop();
				}
			}, 15_000);
			stop = () => {
				off();
				offOutside();
				clearInterval(beat);
			};
			void tell();
		},
		cancel: () => stop()
	});
	return new Response(stream, {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' }
	});
};
