/** One key; the same table binds them and lists them in the help. */
export interface Key {
	keys: string;
	does: string;
	action: string;
	/** Also while typing in a field. */
	always?: boolean;
}

/** The stages of the work, in its order. A game that has nothing for one does without it, and its digit stays free. */
export const STAGES = [
	{ path: 'setup', title: 'Set up', digit: '1' },
	{ path: 'find', title: 'Find', digit: '2' },
	{ path: 'tables', title: 'Tables', digit: '3' },
	{ path: 'words', title: 'Words', digit: '4' },
	{ path: 'scripts', title: 'Scripts', digit: '5' },
	{ path: 'places', title: 'Places', digit: '6' },
	{ path: 'snags', title: 'Snags', digit: '7' },
	{ path: 'pack', title: 'Pack', digit: '8' },
	{ path: 'trial', title: 'Trial', digit: '9' }
] as const;

export const KEYS: readonly Key[] = [
	{ keys: '/', does: 'search', action: 'search' },
	...STAGES.map((stage) => ({
		keys: stage.digit,
		does: `go to ${stage.title}`,
		action: `go:${stage.path}`
	})),
	{ keys: '0', does: 'go to the field guide', action: 'go:guide' },
	{ keys: 'Space', does: 'show or hide the record that the focused reference leads to', action: 'peek' },
	{ keys: 'Enter', does: 'open what the focus is on', action: 'enter' },
	{ keys: 'e', does: 'edit the cell of the table, or the first value of the ticket', action: 'edit' },
	{ keys: 'c', does: 'copy the record as new', action: 'copy' },
	{ keys: 'r', does: 'rename the record everywhere', action: 'rename' },
	{ keys: 'w', does: 'change one field of many rows of the table', action: 'many' },
	{ keys: 'u', does: 'go to “used by” in the ticket', action: 'used' },
	{ keys: 'k', does: 'keep the record or the focused value in the pocket', action: 'keep' },
	{ keys: 'o', does: 'open or close the pocket', action: 'pocket' },
	{ keys: 'p', does: 'paste the picked value into the focused field', action: 'drop' },
	{ keys: 'm', does: 'records similar to the one on the ticket', action: 'alike' },
	{ keys: 'a', does: 'accept a detected statement in the field guide', action: 'accept' },
	{ keys: 'x', does: 'reject a detected statement in the field guide', action: 'reject' },
	{ keys: 'n', does: 'next snag', action: 'next-snag' },
	{ keys: 'b', does: 'previous snag', action: 'previous-snag' },
	{ keys: 't', does: 'try again: start the game with my mod, and stay here', action: 'try' },
	{ keys: 'l', does: 'open the ledger', action: 'go:ledger' },
	{ keys: 'Ctrl Z', does: 'undo the last step', action: 'undo' },
	{ keys: 'Ctrl Shift Z', does: 'redo', action: 'redo' },
	{ keys: 'Ctrl Enter', does: 'apply the plan', action: 'apply', always: true },
	{ keys: 'Esc', does: 'close the plan or the ticket', action: 'back' },
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

/** A dialog in front of the page. */
const OPEN_DIALOG = '[data-dialog-content][data-state=open]';

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
	// An open dialog takes the keys of the page behind it; only those of the dialog itself still count.
	const plain = !typing(event.target) && (name === 'Esc' || !document.querySelector(OPEN_DIALOG));
	const key = KEYS.find((candidate) => candidate.keys === name && (candidate.always || plain));
	if (key && runAction(key.action)) event.preventDefault();
}
