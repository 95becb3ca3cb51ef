// Trials from any page: the game is started in the background, and what it said is told where one is.
import { counted } from '$core/wording';
import { refresh } from './refresh';
import { post, Refused, say } from './client.svelte';

/** What came of a trial. */
interface Tried {
	trial: number;
	clean: boolean;
	status: number | null;
	/** Lines that refuse something, with the records that they are about. */
	refusals: { kind: string | null; record: string | null; text: string }[];
	took: { pack: number; install: number; start: number; written: number };
}

/** Whether the game is being started, and whether it is to be after each change in this project. */
export const tries = $state<{ running: AbortController | null; onChange: boolean }>({
	running: null,
	onChange: false
});

const keyOf = (slug: string) => `try-on-change ${slug}`;

/** Recalls whether each change of a project is to be tried on this machine. */
export function recallTries(slug: string): void {
	tries.onChange = localStorage.getItem(keyOf(slug)) === 'yes';
}

export function setOnChange(slug: string, on: boolean): void {
	tries.onChange = on;
	if (on) localStorage.setItem(keyOf(slug), 'yes');
	else localStorage.removeItem(keyOf(slug));
}

const about = ({ took }: Tried): string =>
	`${counted(took.written, 'file')} written; pack ${took.pack} ms, install ${took.install} ms, start ${took.start} ms`;

/** What is told of a trial where one is; of the open record first. */
function inWords(tried: Tried, open: { kind: string; id: string; name: string } | null): string {
	const own = open && tried.refusals.find(({ kind, record }) => kind === open.kind && record === open.id);
	if (own) return `The game refuses ${open.name}: ${own.text}`;
	const others = tried.refusals.length;
	if (others > 0 && open)
		return `The game takes ${open.name}, but refuses ${counted(others, 'other thing', 'other things')}.`;
	if (others > 0) return `The game refuses ${counted(others, 'thing', 'things')}.`;
	return tried.clean
		? `Loaded cleanly (${about(tried)}).`
		: tried.status === null
			? 'The game did not end on its own.'
			: `The game ended with status ${tried.status}.`;
}

/**
 * Starts the game with my mod in the background and tells what it said. One that is under way is given up for it.
 * @param open the record whose ticket is open
 */
export async function tryAgain(
	slug: string,
	open: { kind: string; id: string; name: string } | null
): Promise<void> {
	tries.running?.abort();
	const own = new AbortController();
	tries.running = own;
	try {
		const tried = await post<Tried>(`/p/${slug}/api/trial`, {}, own.signal);
		if (tries.running !== own) return;
		await refresh();
		say(inWords(tried, open), {
			bad: !tried.clean,
			link: { href: `/p/${slug}/trial?trial=${tried.trial}`, title: 'The log' }
		});
	} catch (error) {
		if (own.signal.aborted) return;
		if (!(error instanceof Refused)) throw error;
		say(error.message, { bad: true });
	} finally {
		if (tries.running === own) tries.running = null;
	}
}
