// Calls to the server that change something, and the messages that come of them.
import { goto } from '$app/navigation';
import { page } from '$app/state';
import { counted } from '$core/wording';
import { refresh } from './refresh';
import { withTicket } from './address';
import type { KeptPlan } from '$core/change';
import type { ChangedLines, Intention } from '$core/edits';
import type { Snag } from '$core/checks';
import type { Spoiled } from '$core/guide';

/** A plan as the server previews it. */
export interface PlanPreview {
	plan: KeptPlan;
	version: number;
	/** The lines that change in texts that are not data. */
	lines: ChangedLines[];
	added: Snag[];
	removed: Snag[];
	spoiled: Spoiled[];
}

export interface Message {
	id: number;
	text: string;
	bad: boolean;
	undo: boolean;
	/** Does again what could not be done just now. */
	again: (() => void) | null;
	/** Where there is more about it. */
	link: { href: string; title: string } | null;
}

let nth = 0;

/** What is said at the foot of the page; each goes by itself after a while, faults when they are closed. */
export const messages = $state<Message[]>([]);

export function dismiss(id: number): void {
	const at = messages.findIndex((message) => message.id === id);
	if (at >= 0) messages.splice(at, 1);
}

export function say(
	text: string,
	{ bad = false, undo = false, again = null, link = null }: Partial<Omit<Message, 'id' | 'text'>> = {}
): void {
	const id = ++nth;
	messages.splice(0, messages.length, { id, text, bad, undo, again, link });
	if (!bad) setTimeout(() => dismiss(id), 6000);
}

/** Lets go of what was said of an earlier change, now that another one begins; faults stay. */
export function hush(): void {
	for (const { id } of messages.filter((message) => !message.bad)) dismiss(id);
}

/** A call that was refused; the message is for people. */
export class Refused extends Error {
	/** @param passing whether the same call may do in a moment: the server or its database is away */
	constructor(
		message: string,
		readonly passing = false
	) {
		super(message);
	}
}

/** The largest body that is sent on although its page is left; all that is under way may have 64 KB together. */
const OUTLIVES = 8_000;

/**
 * Posts JSON and gives JSON back. A small change reaches the server even when the page is left or closed at once.
 * @throws Refused with words that can be shown
 */
export async function post<T>(address: string, body: unknown, signal?: AbortSignal): Promise<T> {
	const text = JSON.stringify(body);
	let answer: Response;
	try {
		answer = await fetch(address, {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: text,
			keepalive: !signal && text.length < OUTLIVES,
			...(signal ? { signal } : {})
		});
	} catch {
		throw new Refused('The server is not responding. Try again in a moment.', true);
	}
	const said = (await answer.json().catch(() => ({}))) as T & { message?: string };
	if (!answer.ok) throw new Refused(said.message ?? 'The server could not do this.', answer.status === 503);
	return said;
}

export const previewPlan = (slug: string, intention: Intention) =>
	post<PlanPreview>(`/p/${slug}/api/plan`, { intention });

/** What was applied, as the server tells it. */
export interface Applied {
	title: string;
	/** Files that my mod did not have before. */
	added: string[];
	/** What changed besides, in words; empty where nothing did. */
	also: string;
	/** The first record that changed. */
	about: { kind: string; id: string } | null;
	/** Places that seem to go with the change and were only detected: they are as they were. */
	detected: number;
}

/** What was done, with every file that came into my mod by it. */
function saidOf({ title, added, also, detected }: Applied): string {
	const files = added.slice(0, 3).join(', ') + (added.length > 3 ? `, and ${added.length - 3} more` : '');
	return [
		title,
		...(also ? [`Also changed: ${also}`] : []),
		...(added.length > 0 ? [`Added to my mod: ${files}`] : []),
		...(detected > 0
			? [`${counted(detected, 'detected place was', 'detected places were')} not changed`]
			: [])
	].join('. ');
}

let underWay: Promise<unknown> = Promise.resolve();

/** Waits until this page shows its own change, so that the server’s event about it does not load the page again. */
export const atRest = (): Promise<unknown> => underWay;

/** Does something that changes the project and shows it. */
function changing<T>(work: () => Promise<T>): Promise<T> {
	hush();
	const done = work();
	underWay = Promise.allSettled([underWay, done]);
	return done;
}

/**
 * Applies an intention, says what was done and shows the new state. True when it was done.
 * @param leadsTo where the new state is shown: another page, where this one shows what may be gone
 */
export const applyIntention = async (
	slug: string,
	intention: Intention,
	version?: number,
	leadsTo?: string
): Promise<boolean> => (await appliedIntention(slug, intention, version, leadsTo)) !== null;

/** The same; gives what was done, or null. */
export const appliedIntention = (
	slug: string,
	intention: Intention,
	version?: number,
	leadsTo?: string
): Promise<Applied | null> => changing(() => applyNow(slug, intention, version, leadsTo));

async function applyNow(
	slug: string,
	intention: Intention,
	version?: number,
	leadsTo?: string
): Promise<Applied | null> {
	try {
		const done = await post<Applied>(`/p/${slug}/api/apply`, { intention, version });
		await (leadsTo === undefined ? refresh() : goto(leadsTo, { invalidateAll: true }));
		say(saidOf(done), { undo: true });
		return done;
	} catch (error) {
		const passing = error instanceof Refused && error.passing;
		if (!passing) await refresh();
		const again = passing ? () => void applyIntention(slug, intention, version, leadsTo) : null;
		say(`${(error as Error).message}${unsaved(intention)}`, { bad: true, again });
		return null;
	}
}

/** What somebody typed and is not saved, so that it can be typed again. */
const unsaved = (intention: Intention): string =>
	intention.do === 'set' && intention.value !== '' ? ` “${intention.value}” was not saved.` : '';

/** What was undone or done again; `called`: the record that has another id now. */
interface Stepped {
	title: string | null;
	called: { kind: string; before: string; after: string } | null;
}

/** Takes the last step back, or does it again. The ticket that is open goes along with its record. */
export const step = (slug: string, direction: 'undo' | 'redo'): Promise<void> =>
	changing(() => stepNow(slug, direction));

async function stepNow(slug: string, direction: 'undo' | 'redo'): Promise<void> {
	try {
		const { title, called } = await post<Stepped>(`/p/${slug}/api/${direction}`, {});
		const isOpen = called && page.url.searchParams.get('ticket') === `${called.kind}/${called.before}`;
		await (isOpen
			? goto(withTicket(page.url, called.kind, called.after), {
					invalidateAll: true,
					keepFocus: true,
					noScroll: true
				})
			: refresh());
		const done = direction === 'undo' ? 'Undone' : 'Redone';
		say(title === null ? `There is nothing to ${direction}.` : `${done}: ${title}`);
	} catch (error) {
		say((error as Error).message, { bad: true });
	}
}
