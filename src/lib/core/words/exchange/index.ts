// What leaves for translators, and what comes back: in open formats that their programs read.
import { ExchangeFault, type Returned } from '../returned';
import type { Given } from '../units';
import { asCsv, fromCsv } from './csv';
import { asPo, fromPo } from './po';
import { asXliff, fromXliff } from './xliff';

/** The forms in which texts are given out, with their titles and endings. */
export const FORMS = {
	po: { title: 'PO', ending: 'po', type: 'text/x-gettext-translation' },
	xliff: { title: 'XLIFF 1.2', ending: 'xlf', type: 'application/xliff+xml' },
	xliff2: { title: 'XLIFF 2.0', ending: 'xlf', type: 'application/xliff+xml' },
	csv: { title: 'CSV', ending: 'csv', type: 'text/csv' }
} as const;

export type Form = keyof typeof FORMS;

export const FORM_NAMES = Object.keys(FORMS) as [Form, ...Form[]];

/** Texts as a file for a translator. @throws ExchangeFault where the form cannot hold them */
export function giveAs(given: Given, form: Form): string {
	if (form === 'po') return asPo(given);
	if (form === 'csv') return asCsv(given);
	return asXliff(given, form === 'xliff' ? '1.2' : '2.0');
}

/**
 * A file that came back, of whichever form it is.
 * @param said the language that is taken in, where a CSV file has several
 * @throws ExchangeFault
 */
export function readReturned(text: string, said?: string): Returned {
	const start = text.replace(/^\ufeff/, '').trimStart();
	if (start === '') throw new ExchangeFault('The file is empty.');
	if (start.startsWith('<')) return fromXliff(text);
	if (/^(?:"key"|key)[,;\t|]/.test(start)) return fromCsv(text, said);
	if (/^(?:#|msgid|msgctxt)/.test(start)) return fromPo(text.replace(/^\ufeff/, ''));
	throw new ExchangeFault('The file is neither PO nor XLIFF nor CSV with a column “key”.');
}

/** The text of a file that came back: UTF-8, or UTF-16 with a mark of its order. @throws ExchangeFault for other bytes */
export function textOfReturned(bytes: Uint8Array): string {
	const marks = { '255,254': 'utf-16le', '254,255': 'utf-16be' } as Record<string, string>;
	try {
		return new TextDecoder(marks[bytes.subarray(0, 2).join()] ?? 'utf-8', { fatal: true }).decode(bytes);
	} catch {
		throw new ExchangeFault('The file is not in UTF-8. Save it as UTF-8 and import it again.');
	}
}
