// What must not happen twice at once in this process waits its turn.
const last = new Map<string, Promise<unknown>>();

/** Does some work after all that was asked for under the same name before; a fault of the one is none of the next. */
export function inTurn<T>(name: string, work: () => Promise<T>): Promise<T> {
	const before = last.get(name) ?? Promise.resolve();
	const next = before.then(work, work);
	const settled = next
		.catch(() => undefined)
		.finally(() => {
			if (last.get(name) === settled) last.delete(name);
		});
	last.set(name, settled);
	return next;
}
