// Texts for translators as messages of gettext: the key is the context, the main language the id.
import { formatFor, quotedMessage, readDocument } from '../../formats';
import { ExchangeFault, type Returned, type ReturnedText } from '../returned';
import { tagOf } from '../../text';
import type { Given, TextUnit } from '../units';

const WAS = 'Translation when this was given out: ';

/** A text in quotes; one with several lines has a line for each. */
function laidOut(text: string): string {
	const lines = text.split(/(?<=\n)/);
	return lines.length < 2 ? quotedMessage(text) : ['""', ...lines.map(quotedMessage)].join('\n');
}

/** A remark for the translator, on one line each. */
const said = (text: string): string[] => text.split(/\r\n|\n|\r/).map((line) => `#. ${line}`.trimEnd());

function entry({ key, source, target, stale, usedBy, remark, longest, others }: TextUnit): string {
	return [
		...usedBy.flatMap((user) => said(`Used by ${user}`)),
		...(longest === null ? [] : said(`At most ${longest} characters`)),
		...(remark === undefined ? [] : said(remark)),
		...others.flatMap(([code, text]) => said(`${code}: ${JSON.stringify(text)}`)),
		...(target === '' ? [] : said(`${WAS}${JSON.stringify(target)}`)),
		...(stale ? ['#, fuzzy'] : []),
		`msgctxt ${laidOut(key)}`,
		`msgid ${laidOut(source)}`,
		`msgstr ${laidOut(target)}`
	].join('\n');
}

/** The texts as a PO file. One that is older than the main text is marked as fuzzy. */
export function asPo({ from, to, units }: Given): string {
	const header = [
		`Language: ${tagOf(to)}`,
		'MIME-Version: 1.0',
		'Content-Type: text/plain; charset=UTF-8',
		'Content-Transfer-Encoding: 8bit',
		`X-Source-Language: ${tagOf(from)}`
	].map((line) => quotedMessage(`${line}\n`));
	return `${[['msgid ""', 'msgstr ""', ...header].join('\n'), ...units.map(entry)].join('\n\n')}\n`;
}

/** The translation that a remark says was there. */
function wasIn(remark: string | undefined): string | null {
	const at = remark?.split('\n').find((line) => line.replace(/^\.\s*/, '').startsWith(WAS));
	if (at === undefined) return null;
	try {
		const text: unknown = JSON.parse(at.slice(at.indexOf(WAS) + WAS.length));
		return typeof text === 'string' ? text : null;
	} catch {
		return null;
	}
}

/** A PO file that came back. @throws ExchangeFault */
export function fromPo(text: string): Returned {
	const doc = readDocument('texts.po', text, { format: 'po' })!;
	const [problem] = doc.problems;
	if (problem) throw new ExchangeFault(`Line ${problem.line}: ${problem.message}`);
	const to = formatFor('texts.po')?.traits.texts?.says?.(text) ?? '';
	const texts: ReturnedText[] = [];
	const faults: Returned['faults'] = [];
	for (const record of doc.records) {
		const fields = new Map(record.fields.map(({ path, value }) => [path, String(value ?? '')]));
		const [context, target] = [fields.get('context'), fields.get('text')];
		if (record.id.startsWith('#~ ')) continue;
		if (context === undefined || target === undefined) {
			const message =
				context === undefined
					? `The message ${JSON.stringify(record.id)} has no msgctxt, which says the key of the text.`
					: `“${context}” has several forms of its text; these are not taken in.`;
			faults.push({ line: record.line, message });
			continue;
		}
		texts.push({
			key: context,
			source: record.id.slice(context.length + 1),
			before: wasIn(record.remark),
			target,
			finished: ![...fields].some(([path, value]) => path.startsWith('flags[') && value === 'fuzzy'),
			line: record.line
		});
	}
	if (to === '')
		throw new ExchangeFault('The header of the file has no line “Language: …”, which says what it is in.');
	return { to, texts, faults };
}
