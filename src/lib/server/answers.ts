// How endpoints answer: faults that people can act on become words with a fitting status, everything else stays a fault.
import { error, json } from '@sveltejs/kit';
import * as z from 'zod';
import { ChangedUnderneath } from '$core/change';
import { NotPossible, StaleValue } from '$core/edits';
import { EditRefused, NotPacked } from '$core/formats';
import { GuideFault } from '$core/guide';
import { FormulaFault } from '$core/numbers';
import { PatchFault } from '$core/patch';
import { UnsafeName } from '$core/stack';
import { Unwritable } from '$core/text';
import { ExchangeFault } from '$core/words';
import { SourceFault } from '../files';
import { LedgerFault } from './db/ledger';
import { isAway, isBusy } from './db/pool';
import { NotThere } from './faults';

/** What a call sent cannot be used at all. */
export class BadCall extends Error {}

function statusOf(fault: unknown): number | null {
	if (fault instanceof BadCall) return 400;
	if (fault instanceof NotThere) return 404;
	if (fault instanceof ChangedUnderneath || fault instanceof StaleValue) return 409;
	const mendable = [
		LedgerFault,
		FormulaFault,
		NotPossible,
		EditRefused,
		ExchangeFault,
		GuideFault,
		NotPacked,
		PatchFault,
		SourceFault,
		UnsafeName,
		Unwritable,
		z.ZodError
	];
	if (mendable.some((kind) => fault instanceof kind)) return 422;
	if (isAway(fault) || isBusy(fault)) return 503;
	return null;
}

const AWAY = 'The database cannot be reached. Nothing has changed; try again in a moment.';
const BUSY = 'Another change is still running. Nothing has changed; try again in a moment.';

function wordsOf(fault: unknown): string {
	if (fault instanceof z.ZodError)
		return `Invalid request: ${fault.issues[0]?.path.join('.') || 'the body'}: ${fault.issues[0]?.message}.`;
	if (isAway(fault)) return AWAY;
	if (isBusy(fault)) return BUSY;
	return (fault as Error).message;
}

/** Whether some text in a value holds a NUL, which neither the database nor any game takes. */
function holdsNul(value: unknown): boolean {
	const open = [value];
	while (open.length > 0) {
		const next = open.pop();
		if (typeof next === 'string' && next.includes('\0')) return true;
		if (typeof next === 'object' && next !== null)
			for (const [name, inner] of Object.entries(next)) open.push(name, inner);
	}
	return false;
}

/** The JSON that a call sent, in the shape that it must have. @throws BadCall, ZodError */
export async function bodyOf<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
	let body: unknown;
	try {
		body = await request.json();
	} catch {
		throw new BadCall('Invalid request: the body must be JSON.');
	}
	if (holdsNul(body)) throw new BadCall('Invalid request: a text in it holds a NUL character.');
	return schema.parse(body);
}

/** Runs an endpoint's work and gives its result, or its fault in words, as JSON. */
export async function answer(work: () => Promise<unknown>): Promise<Response> {
	try {
		return json(await work());
	} catch (fault) {
		const status = statusOf(fault);
		if (status === null) throw fault;
		const headers = status === 503 ? { 'retry-after': '1' } : undefined;
		return json({ message: wordsOf(fault) }, headers ? { status, headers } : { status });
	}
}

/** Runs a page's loading; what is not there, or cannot be reached, becomes the page that says so. */
export async function show<T>(work: () => Promise<T>): Promise<T> {
	try {
		return await work();
	} catch (fault) {
		const status = statusOf(fault);
		if (status === null) throw fault;
		error(status, wordsOf(fault));
	}
}
