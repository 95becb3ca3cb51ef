/** One key or sequence; the same table binds them and lists them in the help. */
export interface Key {
	keys: string;
	does: string;
	action: string;
	/** Also while typing in a field. */
	always?: boolean;
}

export const STAGES = [
	{ path: 'setup', title: 'Set up', letter: 'u' },
	{ path: 'find', title: 'Find', letter: 'f' },
	{ path: 'tables', title: 'Tables', letter: 't' },
	{ path: 'snags', title: 'Snags', letter: 's' },
	{ path: 'pack', title: 'Pack', letter: 'p' },
	{ path: 'trial', title: 'Trial', letter: 'r' }
] as const;

export const KEYS: readonly Key[] = [
	{ keys: '/', does: 'search', action: 'search' },
	...STAGES.map((stage) => ({
		keys: `g ${stage.letter}`,
		does: `go to ${stage.title}`,
		action: `go:${stage.path}`
	})),
	{ keys: 'g g', does: 'go to the field guide', action: 'go:guide' },
	{ keys: 'e', does: 'edit the cell of the table, or the first value of the ticket', action: 'edit' },
	{ keys: 'c', does: 'copy the record as new', action: 'copy' },
	{ keys: 'r', does: 'rename the record everywhere', action: 'rename' },
	{ keys: 'w', does: 'change one field of many rows of the table', action: 'many' },
	{ keys: 'u', does: 'go to “used by” in the ticket', action: 'used' },
	{ keys: 'k', does: 'keep the record, or the value that the focus is on, in the pocket', action: 'keep' },
	{ keys: 'o', does: 'open or close the pocket', action: 'pocket' },
	{ keys: 'p', does: 'put what is in hand into the field that the focus is on', action: 'drop' },
	{ keys: 'm', does: 'records most like the one of the ticket', action: 'alike' },
	{ keys: 'a', does: 'accept what was found, in the field guide', action: 'accept' },
	{ keys: 'x', does: 'reject what was found, in the field guide', action: 'reject' },
	{ keys: 'n', does: 'next snag', action: 'next-snag' },
	{ keys: 'b', does: 'previous snag', action: 'previous-snag' },
	{ keys: 'l', does: 'open the ledger', action: 'go:ledger' },
	{ keys: 'Ctrl Z', does: 'take the last step back', action: 'undo' },
	{ keys: 'Ctrl Shift Z', does: 'do it again', action: 'redo' },
	{ keys: 'Ctrl Enter', does: 'apply the plan on the screen', action: 'apply', always: true },
	{ keys: 'Esc', does: 'back out: close the plan, the ticket', action: 'back' },
	{ keys: '?', does: 'this list', action: 'help' }
];

const handlers = new Map<string, Set<() => void>>();

/** Calls `handler` when the key of an action is pressed, until the returned function is called. */
export function onAction(action: string, handler: () => void): () => void {
	const list = handlers.get(action) ?? new Set();
	handlers.set(action, list);
	list.add(handler);
	return () => list.delete(handler);
}

/** Runs an action's newest handler. True when there was one. */
export function runAction(action: string): boolean {
	const newest = [...(handlers.get(action) ?? [])].at(-1);
	newest?.();
	return newest !== undefined;
}

const typing = (target: EventTarget | null) =>
	target instanceof HTMLElement &&
	(target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

function pressedKey(event: KeyboardEvent): string {
	const key =
		event.key === 'Escape'
			? 'Esc'
			: event.key.length === 1 && event.ctrlKey
				? event.key.toUpperCase()
				: event.key;
	return `${event.ctrlKey || event.metaKey ? 'Ctrl ' : ''}${event.ctrlKey && event.shiftKey ? 'Shift ' : ''}${key}`;
}

let lead = '';
let leadTimer: ReturnType<typeof setTimeout> | undefined;

/** Keys that count everywhere are taken before any control sees them: a focused button would take Ctrl Enter for Enter. */
export function catchKey(event: KeyboardEvent): void {
	const key = KEYS.find((candidate) => candidate.always && candidate.keys === pressedKey(event));
	if (!key || !runAction(key.action)) return;
	event.preventDefault();
	event.stopPropagation();
}

/** Handles a key press of the window by the table above. */
export function handleKey(event: KeyboardEvent): void {
	if (event.defaultPrevented || event.altKey) return;
	// Esc leaves a field first, so that the other keys count again.
	if (event.key === 'Escape' && typing(event.target)) return (event.target as HTMLElement).blur();
	const name = pressedKey(event);
	const pressed = lead ? `${lead} ${name}` : name;
	clearTimeout(leadTimer);
	lead = '';
	const key = KEYS.find(
		(candidate) => candidate.keys === pressed && (candidate.always || !typing(event.target))
	);
	if (key) {
		if (runAction(key.action)) event.preventDefault();
	} else if (!typing(event.target) && KEYS.some((candidate) => candidate.keys.startsWith(`${pressed} `))) {
		lead = pressed;
		leadTimer = setTimeout(() => (lead = ''), 1500);
	}
}
