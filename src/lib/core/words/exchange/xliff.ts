// Texts for translators as XLIFF, versions 1.2 and 2.0 (OASIS): each text is a unit, named by its key.
import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { ExchangeFault, type Returned, type ReturnedText } from '../returned';
import { tagOf } from '../../text';
import type { Given, TextUnit } from '../units';

export type XliffVersion = '1.2' | '2.0';

const NAMESPACES: Record<XliffVersion, string> = {
	'1.2': 'urn:oasis:names:tc:xliff:document:1.2',
	'2.0': 'urn:oasis:names:tc:xliff:document:2.0'
};

/** Who the notes with the translation that was there are from, so that they are found again. */
const WAS = 'given-out';

/** Signs that no XML file can hold, not even as a number. */
const NOT_XML =
	/[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

const NOT_XML_ALL = new RegExp(NOT_XML, 'g');

const ENTITIES: Record<string, string> = {
	'&': '&amp;',
	'<': '&lt;',
	'>': '&gt;',
	'"': '&quot;',
	'\r': '&#13;'
};
const escaped = (text: string): string => text.replace(/[&<>"\r]/g, (sign) => ENTITIES[sign]!);
/** In an attribute line ends and tabs would be read as spaces. */
const attribute = (text: string): string => escaped(text).replaceAll('\n', '&#10;').replaceAll('\t', '&#9;');

/** What a translator is told of a text. */
const notesOf = ({ usedBy, remark, longest, others }: TextUnit): string[] =>
	[
		...usedBy.map((user) => `Used by ${user}`),
		...(longest === null ? [] : [`At most ${longest} characters`]),
		...(remark === undefined ? [] : [remark]),
		...others.map(([code, text]) => `${code}: ${text}`)
	].map((note) => note.replace(NOT_XML_ALL, '\ufffd'));

function unit12(unit: TextUnit, nth: number): string {
	const { key, source, target, stale, longest } = unit;
	const room = longest === null ? '' : ` maxwidth="${longest}" size-unit="char"`;
	const state = target === '' ? 'needs-translation' : stale ? 'needs-review-translation' : 'translated';
	return [
		`      <trans-unit id="${nth + 1}" resname="${attribute(key)}" xml:space="preserve"${room}>`,
		`        <source>${escaped(source)}</source>`,
		`        <target state="${state}">${escaped(target)}</target>`,
		...(target === '' ? [] : [`        <note from="${WAS}">${escaped(target)}</note>`]),
		...notesOf(unit).map((note) => `        <note>${escaped(note)}</note>`),
		'      </trans-unit>'
	].join('\n');
}

function unit20(unit: TextUnit, nth: number): string {
	const { key, source, target, stale } = unit;
	const notes = notesOf(unit).map((note) => `        <note>${escaped(note)}</note>`);
	if (target !== '') notes.unshift(`        <note category="${WAS}">${escaped(target)}</note>`);
	return [
		`    <unit id="u${nth + 1}" name="${attribute(key)}" xml:space="preserve">`,
		...(notes.length > 0 ? ['      <notes>', ...notes, '      </notes>'] : []),
		`      <segment state="${target === '' || stale ? 'initial' : 'translated'}">`,
		`        <source>${escaped(source)}</source>`,
		...(target === '' ? [] : [`        <target>${escaped(target)}</target>`]),
		'      </segment>',
		'    </unit>'
	].join('\n');
}

/** The texts as XLIFF. @throws ExchangeFault where a text holds what XML cannot */
export function asXliff({ from, to, units }: Given, version: XliffVersion): string {
	const bad = units.find(({ key, source, target }) =>
		[key, source, target].some((text) => NOT_XML.test(text))
	);
	if (bad)
		throw new ExchangeFault(
			`“${bad.key}” holds a control character, which XLIFF cannot hold. Give the texts out as PO or CSV.`
		);
	const [source, target] = [tagOf(from), tagOf(to)];
	const list = units.map(version === '1.2' ? unit12 : unit20);
	const [open, close] =
		version === '1.2'
			? [
					[
						`<xliff version="1.2" xmlns="${NAMESPACES['1.2']}">`,
						`  <file original="texts" source-language="${source}" target-language="${target}" datatype="plaintext">`,
						'    <body>'
					],
					['    </body>', '  </file>', '</xliff>']
				]
			: [
					[
						`<xliff version="2.0" xmlns="${NAMESPACES['2.0']}" srcLang="${source}" trgLang="${target}">`,
						'  <file id="texts">'
					],
					['  </file>', '</xliff>']
				];
	return `${['<?xml version="1.0" encoding="UTF-8"?>', ...open, ...list, ...close].join('\n')}\n`;
}

/** Elements that stand for something which is not said in the file. */
const EMPTY: ReadonlySet<string> = new Set(['x', 'bx', 'ex', 'ph', 'sc', 'ec', 'cp']);

/** A unit while it is read. */
interface Open {
	key: string;
	line: number;
	source: string | null;
	target: string;
	before: string | null;
	/** As the file says it; null where it says nothing. */
	state: string | null;
	fault: string | null;
}

/** Whether a state says that nothing was done yet, or not all. */
const isOpen = (state: string | null): boolean =>
	state !== null && (state === 'new' || state === 'initial' || state.startsWith('needs-'));

/** Reads the elements one by one: what is around a text, and the texts. */
class Reader {
	private readonly path: string[] = [];
	private unit: Open | null = null;
	/** What the letters that come are of. */
	private into: 'source' | 'target' | 'was' | null = null;
	to = '';
	readonly texts: ReturnedText[] = [];
	readonly faults: Returned['faults'] = [];

	opens({ name, attributes }: SaxesTagPlain, line: number): void {
		const local = name.replace(/^.*:/, '');
		const outer = this.path.at(-1);
		this.path.push(local);
		if (local === 'xliff') this.to ||= attributes.trgLang ?? '';
		else if (local === 'file') this.to ||= attributes['target-language'] ?? '';
		else if (local === 'trans-unit' || local === 'unit')
			this.unit = {
				key: attributes.resname ?? attributes.name ?? attributes.id ?? '',
				line,
				source: null,
				target: '',
				before: null,
				state: null,
				fault: null
			};
		else if (this.unit && this.into === null) this.part(this.unit, local, outer, attributes);
		else if (this.unit && EMPTY.has(local) && this.into === 'target' && !attributes.hex)
			this.unit.fault = `its translation holds <${name}/>, and the file does not say what that stands for`;
	}

	/** An element of a unit that says something of it. */
	private part(
		unit: Open,
		local: string,
		outer: string | undefined,
		attributes: Record<string, string>
	): void {
		// Proposals of other programs (`alt-trans`, `match`) have sources and targets too.
		const own = outer === 'trans-unit' || outer === 'segment' || outer === 'ignorable';
		if (local === 'segment') unit.state = isOpen(unit.state) ? unit.state : (attributes.state ?? null);
		else if (local === 'source' && own) {
			this.into = 'source';
			unit.source ??= '';
		} else if (local === 'target' && own) {
			this.into = 'target';
			unit.state = attributes.state ?? unit.state;
		} else if (local === 'note' && (attributes.from ?? attributes.category) === WAS) {
			this.into = 'was';
			unit.before = '';
		}
	}

	says(letters: string): void {
		if (!this.unit || this.into === null) return;
		if (this.into === 'was') this.unit.before += letters;
		else if (this.into === 'source') this.unit.source += letters;
		else this.unit.target += letters;
	}

	closes(): void {
		const local = this.path.pop();
		if (local === 'source' || local === 'target' || local === 'note') this.into = null;
		if ((local !== 'trans-unit' && local !== 'unit') || !this.unit) return;
		const { key, line, source, target, before, state, fault } = this.unit;
		this.unit = null;
		if (key === '') this.faults.push({ line, message: 'This unit has neither a name nor an id.' });
		else if (fault) this.faults.push({ line, message: `“${key}” is left out: ${fault}.` });
		// Many programs leave the state as it was: what was written then is done.
		else
			this.texts.push({ key, source, before, target, finished: !isOpen(state) || target !== before, line });
	}
}

/** An XLIFF file that came back, of either version. @throws ExchangeFault */
export function fromXliff(text: string): Returned {
	const parser = new SaxesParser<{ xmlns: false; position: true }>({ xmlns: false, position: true });
	const reader = new Reader();
	parser.on('error', ({ message }) => {
		throw new ExchangeFault(
			`Line ${parser.line}: this is not well-formed XML (${message.replace(/^[\d:]+\s*/, '')}).`
		);
	});
	parser.on('opentag', (tag) => reader.opens(tag, parser.line));
	parser.on('text', (letters) => reader.says(letters));
	parser.on('cdata', (letters) => reader.says(letters));
	parser.on('closetag', () => reader.closes());
	parser.write(text.replace(/^\ufeff/, '')).close();
	if (reader.to === '')
		throw new ExchangeFault('The file does not say which language it is translated into.');
	return { to: reader.to, texts: reader.texts, faults: reader.faults };
}
