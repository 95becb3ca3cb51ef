import { EditRefused, startDocument, type TextDocument, type OpenDocument, type ReadHints } from './document';
import { lineEnd, nextLine } from './lines';
import { itemsOf, LIST, MAP, OWN, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

// Parts of an entry; the message itself is the field `text`, as in the other formats of texts.
const CONTEXT = OWN;
const ID = OWN + 1;
const PLURAL = OWN + 2;
const MESSAGE = OWN + 3;
/** `msgstr[0]` and on: the number is added. */
const FORM = OWN + 4;
const OBSOLETE = '#~';

const KEYWORD = /^(#~[ \t]*)?(msgctxt|msgid_plural|msgid|msgstr)(?:\[(\d{1,2})\])?[ \t]*(?=")/;
const MORE = /^(?:#~)?[ \t]*(?=")/;

function kindOf(word: string, form: string | undefined): number {
	if (word === 'msgctxt') return CONTEXT;
	if (word === 'msgid') return ID;
	if (word === 'msgid_plural') return PLURAL;
	return form === undefined ? MESSAGE : FORM + Number(form);
}

/** End of the text in quotes that begins at `at`; -1 where it is not closed on its line. */
function closing(text: string, at: number, end: number): number {
	for (let to = at + 1; to < end; to++) {
		if (text.charCodeAt(to) === 92) to++;
		else if (text.charCodeAt(to) === 34) return to + 1;
	}
	return -1;
}

interface Open {
	node: number;
	last: number;
	hasText: boolean;
}

function scan(doc: OpenDocument): number {
	const { content: text, tape } = doc;
	const root = tape.open(MAP, -1, -1, 0);
	let entry: Open | null = null;
	let leaf: { kind: number; keyFrom: number; keyTo: number; from: number; to: number } | null = null;
	let flags: [number, number] | null = null;
	const endLeaf = () => {
		if (leaf) tape.leaf(leaf.kind, leaf.keyFrom, leaf.keyTo, leaf.from, leaf.to);
		leaf = null;
	};
	const endEntry = () => {
		endLeaf();
		if (entry) tape.close(entry.node, entry.last);
		entry = null;
	};
	const addFlags = ([from, to]: [number, number]) => {
		const list = tape.open(LIST, from, from + 2, from);
		for (let at = from + 2; at < to; at++) {
			while (at < to && /[\s,]/.test(text[at]!)) at++;
			let end = at;
			while (end < to && text[end] !== ',') end++;
			let trimmed = end;
			while (trimmed > at && /\s/.test(text[trimmed - 1]!)) trimmed--;
			if (trimmed > at) tape.leaf(TEXT, -1, -1, at, trimmed);
			at = end;
		}
		tape.close(list, to);
	};
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		let from = at;
		let end = lineEnd(text, at);
		while (from < end && text.charCodeAt(from) <= 32) from++;
		while (end > from && text.charCodeAt(end - 1) <= 32) end--;
		if (from === end) continue;
		const line = text.charCodeAt(from) === 35 ? text.slice(from, Math.min(end, from + 60)) : '';
		if (line !== '' && !line.startsWith(OBSOLETE)) {
			if (entry?.hasText || leaf) endEntry();
			if (line.startsWith('#,')) flags = [from, end];
			else tape.remark(from, end);
			continue;
		}
		const more = text.charCodeAt(from) === 34 || MORE.test(line);
		if (more && leaf) {
			const quote = text.indexOf('"', from);
			const to = closing(text, quote, end);
			if (to < 0) doc.problem(quote, 'This text is never closed by a double quote.');
			else {
				(leaf as { to: number }).to = to;
				entry!.last = to;
			}
			continue;
		}
		const match = KEYWORD.exec(text.slice(from, Math.min(end, from + 60)));
		if (!match) {
			if (line.startsWith(OBSOLETE)) {
				tape.remark(from, end);
				continue;
			}
			doc.problem(
				from,
				more
					? 'This text belongs to no msgid or msgstr above it.'
					: 'This line is neither a comment nor msgctxt, msgid, msgid_plural or msgstr with a text in quotes.'
			);
			continue;
		}
		const kind = kindOf(match[2]!, match[3]);
		endLeaf();
		const starts =
			kind === CONTEXT || (kind === ID && !(entry && !entry.hasText && lastIsContext(tape, entry.node)));
		if (starts && entry && (entry.hasText || tape.count > entry.node + 1 + (flags ? 1 : 0))) {
			if (!entry.hasText) doc.problem(from, 'The entry before this one has no msgstr.');
			endEntry();
		}
		const begin = (): Open => {
			const start =
				flags && !/\S/.test(text.slice(flags[1], from).replace(/^[ \t]*#.*$/gm, '')) ? flags[0] : from;
			const node = tape.open(MAP, -1, -1, start);
			if (flags && start !== from) addFlags(flags);
			flags = null;
			return { node, last: from, hasText: false };
		};
		entry ??= begin();
		const quote = from + match[0].length;
		const to = closing(text, quote, end);
		if (to < 0) {
			doc.problem(quote, 'This text is never closed by a double quote.');
			continue;
		}
		if (to < end) doc.problem(to, 'There is text after the closing quote.');
		if (kind >= MESSAGE) entry.hasText = true;
		entry.last = to;
		const keyFrom = from + (match[1]?.length ?? 0);
		leaf = {
			kind,
			keyFrom,
			keyTo: keyFrom + match[0].trimEnd().length - (match[1]?.length ?? 0),
			from: quote,
			to
		};
	}
	endEntry();
	tape.close(root, text.length);
	return root;
}

function lastIsContext(tape: OpenDocument['tape'], node: number): boolean {
	return tape.count > node + 1 && tape.kind(tape.count - 1) === CONTEXT;
}

const ESCAPES: Record<string, string> = { n: '\n', t: '\t', r: '\r', a: '\x07', b: '\b', f: '\f', v: '\v' };

/** The text of one or more quoted lines. */
function unquoted(raw: string): string {
	let out = '';
	for (const [, part] of raw.matchAll(/"((?:[^"\\\r\n]|\\.)*)"/g))
		out += part!.includes('\\')
			? part!.replace(/\\(?:([0-7]{1,3})|x([0-9a-fA-F]{2})|(.))/g, (_, octal, hex, char: string) =>
					octal
						? String.fromCharCode(parseInt(octal as string, 8))
						: hex
							? String.fromCharCode(parseInt(hex as string, 16))
							: (ESCAPES[char] ?? char)
				)
			: part!;
	return out;
}

/** A text in double quotes, with what cannot stand in them written as an escape. */
export const quotedMessage = (value: string): string =>
	`"${value
		.replaceAll('\\', '\\\\')
		.replaceAll('"', '\\"')
		.replaceAll('\n', '\\n')
		.replaceAll('\t', '\\t')
		.replaceAll('\r', '\\r')
		.replace(/[\x00-\x1f]/g, (char) => `\\${char.charCodeAt(0).toString(8).padStart(3, '0')}`)}"`;

/** A text as the one it replaces is laid out: on one line, or an empty one first and then a line for each line. */
function laidOut(value: string, old: string): string {
	const eol = /\r\n|\n|\r/.exec(old)?.[0];
	if (!eol || !value.includes('\n')) return quotedMessage(value);
	const lead = /[\r\n]((?:#~)?[ \t]*)"/.exec(old)?.[1] ?? '';
	return ['""', ...value.split(/(?<=\n)/).map(quotedMessage)].join(eol + lead);
}

const leafOf = ({ tape }: TextDocument, node: number, kind: number) =>
	itemsOf(tape, node).find((item) => tape.kind(item) === kind) ?? -1;

const raw = ({ tape, content: text }: TextDocument, node: number) =>
	text.slice(tape.from(node), tape.to(node));

/** Whether a part is after the mark of entries that are no longer used. */
function isObsolete({ content: text, tape }: TextDocument, node: number): boolean {
	let at = tape.keyFrom(node);
	while (text[at - 1] === ' ' || text[at - 1] === '\t') at--;
	return text.slice(Math.max(0, at - OBSOLETE.length), at) === OBSOLETE;
}

/** The first entry where it has no msgid: it says what the file is, and is no message. -1 for none. */
function headerOf(doc: TextDocument, root: number): number {
	const first = itemsOf(doc.tape, root)[0] ?? -1;
	if (first < 0 || leafOf(doc, first, CONTEXT) >= 0) return -1;
	const id = leafOf(doc, first, ID);
	return id >= 0 && unquoted(raw(doc, id)) === '' && !isObsolete(doc, id) ? first : -1;
}

const syntax: Syntax = {
	name({ tape }, node) {
		const kind = tape.kind(node);
		if (kind === LIST) return 'flags';
		if (kind === CONTEXT) return 'context';
		if (kind === ID) return 'id';
		if (kind === PLURAL) return 'plural';
		return kind === MESSAGE ? 'text' : `text[${kind - FORM}]`;
	},
	value: (doc, node) => (doc.tape.kind(node) === TEXT ? raw(doc, node) : unquoted(raw(doc, node))),
	writeName() {
		throw new EditRefused('The names of this file’s parts are fixed: context, id, plural, text.');
	},
	writeValue(doc, node, value) {
		if (node >= 0 && doc.tape.kind(node) !== TEXT) return laidOut(value, raw(doc, node));
		if (!/^[\w.:-]+$/.test(value)) throw new EditRefused(`“${value}” cannot be a flag.`);
		return value;
	},
	addMember(_doc, _node, name) {
		throw new EditRefused(`An entry of this file has no “${name}”; copy one that has.`);
	},
	dropNode({ tape }, node) {
		const kind = tape.kind(node);
		if (kind === TEXT) return null;
		if (kind >= MESSAGE) return [{ from: tape.from(node), to: tape.to(node), insert: '""' }];
		throw new EditRefused('Only the text of an entry can be emptied.');
	},
	hidden: ({ tape }, node) => tape.kind(node) === ID,
	idLeaf: (doc, node) => leafOf(doc, node, ID),
	idText(doc, node) {
		const [context, id] = [leafOf(doc, node, CONTEXT), leafOf(doc, node, ID)];
		if (id < 0) return '';
		const name = unquoted(raw(doc, id));
		const whole = context < 0 ? name : `${unquoted(raw(doc, context))}|${name}`;
		return isObsolete(doc, id) ? `${OBSOLETE} ${whole}` : whole;
	},
	pair: ' ',
	inside: ({ tape }, node) =>
		tape.kind(node) === LIST
			? { from: tape.from(node) + 2, to: tape.to(node), separators: ',' }
			: { from: tape.from(node), to: tape.to(node), separators: '' },
	trail: true,
	records(doc, root) {
		const header = headerOf(doc, root);
		return { holder: root, items: itemsOf(doc.tape, root).filter((item) => item !== header), named: false };
	}
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('po', text, hints);
	const root = scan(doc);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	doc.key = null;
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no entry.');
	return doc;
}

/** What the header says of the language; null where there is none, or it says nothing. */
function languageIn(text: string): string | null {
	const doc = read(text, {});
	const header = headerOf(doc, doc.root);
	const said = header < 0 ? -1 : leafOf(doc, header, MESSAGE);
	return said < 0 ? null : (/^Language:[ \t]*(\S+)/m.exec(unquoted(raw(doc, said)))?.[1] ?? null);
}

const base = treeFormat('po', ['po', 'pot'], read, syntax, {
	fixedIds: true,
	texts: {
		one: 'msgid "x"\nmsgstr ""\n',
		none: (language) =>
			`msgid ""\nmsgstr ""\n"Language: ${language}\\n"\n"Content-Type: text/plain; charset=UTF-8\\n"\n`,
		says: languageIn
	}
});

/** Messages of gettext: an entry is a record named by its msgid (`context|msgid`), with the field `text`. */
export const po = {
	...base,
	blank(doc) {
		const header = headerOf(doc, doc.root);
		if (header < 0) return base.blank(doc);
		const eol = /\r\n|\n|\r/.exec(doc.content)?.[0] ?? '\n';
		return doc.content.slice(0, doc.tape.to(header)).trimEnd() + eol;
	},
	insert(doc, source, record) {
		const splices = base.insert(doc, source, record);
		if (doc.records.length > 0 || headerOf(doc, doc.root) < 0) return splices;
		// The first message stands apart from the header.
		const eol = /\r\n|\n|\r/.exec(doc.content)?.[0] ?? '\n';
		return splices.map((splice) => ({ ...splice, insert: eol + splice.insert }));
	},
	rename(doc, record, id) {
		const context = leafOf(doc, record.node, CONTEXT);
		const obsolete = record.id.startsWith(`${OBSOLETE} `) ? `${OBSOLETE} ` : '';
		const lead = obsolete + (context < 0 ? '' : `${unquoted(raw(doc, context))}|`);
		if (!id.startsWith(lead))
			throw new EditRefused(`The new id must begin with “${lead}”, like the old one.`);
		return base.rename(doc, record, id.slice(lead.length));
	},
	renameKey() {
		throw new EditRefused('The names of this file’s parts are fixed: context, id, plural, text.');
	}
} satisfies typeof base as typeof base;
