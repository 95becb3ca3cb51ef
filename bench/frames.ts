// What the browser does while a table is scrolled, from Chromium's own trace.
import type { Page } from 'playwright-core';

interface TraceEvent {
	name: string;
	ph: string;
	ts: number;
	dur?: number;
	pid: number;
	tid: number;
	args?: { name?: string };
}

/** Scrolls the table from end to end in 240 steps, one for each frame, and sideways between. */
function scroll(page: Page): Promise<void> {
	return page.evaluate(async () => {
		const grid = document.querySelector<HTMLElement>('[role=grid]')!;
		const steps = 240;
		for (let step = 0; step <= steps; step++) {
			grid.scrollTop = (grid.scrollHeight - grid.clientHeight) * (step / steps);
			if (step % 12 === 0) grid.scrollLeft = (grid.scrollWidth - grid.clientWidth) * ((step % 120) / 120);
			await new Promise(requestAnimationFrame);
		}
	});
}

/**
 * Scrolls under a trace. Of the page's main thread the longest task in ms and how many took over 50, as everything that
 * delays a frame there is a task (scripts, styles, layout, painting); and the frames that were presented, with the
 * longest time between two of them in ms. Source of the events: the browser's tracing protocol, categories toplevel and
 * devtools.timeline.
 */
export async function traced(
	page: Page
): Promise<{ longest: number; late: number; frames: number; gap: number }> {
	const client = await page.context().newCDPSession(page);
	const events: TraceEvent[] = [];
	client.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as TraceEvent[])));
	const done = new Promise((ended) => client.once('Tracing.tracingComplete', ended));
	await client.send('Tracing.start', {
		transferMode: 'ReportEvents',
		traceConfig: { includedCategories: ['toplevel', 'devtools.timeline', '__metadata'] }
	} as never);
	await scroll(page);
	await client.send('Tracing.end');
	await done;
	await client.detach();
	// The renderer that drew most is the page's.
	const mains = events.filter(({ name, args }) => name === 'thread_name' && args?.name === 'CrRendererMain');
	const tasksOf = (main: TraceEvent) =>
		events.filter(
			({ name, ph, pid, tid }) =>
				name.endsWith('RunTask') && ph === 'X' && pid === main.pid && tid === main.tid
		);
	const tasks = mains.map(tasksOf).sort((a, b) => b.length - a.length)[0] ?? [];
	const times = tasks.map(({ dur }) => (dur ?? 0) / 1000);
	const drawn = events
		.filter(({ name }) => name === 'AnimationFrame::Presentation')
		.map(({ ts }) => ts / 1000)
		.sort((a, b) => a - b);
	if (times.length === 0 || drawn.length < 2) throw new Error('The trace says nothing of the page.');
	return {
		longest: Math.max(...times),
		late: times.filter((time) => time > 50).length,
		frames: drawn.length,
		gap: Math.max(...drawn.slice(1).map((at, nth) => at - drawn[nth]!))
	};
}
