// How endpoints answer: faults that people can act on become words with a fitting status, everything else stays a fault.
import { error, json } from '@sveltejs/kit';
import { z } from 'zod';
import { ChangedUnderneath } from '$core/change';
import { NotPossible, StaleValue } from '$core/edits';
import { EditRefused } from '$core/formats';
import { GuideFault } from '$core/guide';
import { FormulaFault } from '$core/numbers';
import { SourceFault } from '../files';
import { NotThere } from './model';

function statusOf(fault: unknown): number | null {
	if (fault instanceof NotThere) return 404;
	if (fault instanceof ChangedUnderneath || fault instanceof StaleValue) return 409;
	const mendable = [FormulaFault, NotPossible, EditRefused, GuideFault, SourceFault, z.ZodError, RangeError];
	return mendable.some((kind) => fault instanceof kind) ? 422 : null;
}

function wordsOf(fault: unknown): string {
	if (fault instanceof z.ZodError)
		return `The call is not right at ${fault.issues[0]?.path.join('.') || 'its top'}: ${fault.issues[0]?.message}.`;
	return (fault as Error).message;
}

/** Runs an endpoint's work and gives its result, or its fault in words, as JSON. */
export async function answer(work: () => Promise<unknown>): Promise<Response> {
	try {
		return json(await work());
	} catch (fault) {
		const status = statusOf(fault);
		if (status === null) throw fault;
		return json({ message: wordsOf(fault) }, { status });
	}
}

/** Runs a page's loading; what is not there becomes the page that says so. */
export async function show<T>(work: () => Promise<T>): Promise<T> {
	try {
		return await work();
	} catch (fault) {
		if (fault instanceof NotThere) error(404, fault.message);
		throw fault;
	}
}
