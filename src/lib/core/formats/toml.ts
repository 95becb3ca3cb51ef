import { toEol } from '../text';
import { EditRefused, startDocument, type TextDocument, type ReadHints, type Scalar } from './document';
import { contentLineEnd, lineEnd } from './lines';
import { prefixOf } from './prefixes';
import { insertAt } from './siblings';
import { BARE, itemsOf, LIST, TEXT, type Tape } from './tape';
import { DATETIME, NUMBER, scanToml, stringText, type Section } from './toml-scan';
import { addTreeRecords, isHolder, type Syntax } from './tree';
import { rowOf } from './tree-edits';
import { treeFormat } from './tree-format';

const sections = new WeakMap<Tape, Map<number, Section>>();
const sectionOf = (doc: TextDocument, node: number) => sections.get(doc.tape)?.get(node);

const PART = /"(?:[^"\\]|\\.)*"|'[^']*'|[\w-]+/g;

const basic = (value: string) =>
	`"${value
		.replaceAll('\\', '\\\\')
		.replaceAll('"', '\\"')
		.replaceAll('\n', '\\n')
		.replaceAll('\r', '\\r')
		.replaceAll('\t', '\\t')
		.replace(/[\x00-\x1f\x7f]/g, (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`)}"`;

function writeString(value: string, old: string, eol: string): string {
	if (
		old.startsWith("'''") &&
		!value.includes("'''") &&
		!value.endsWith("'") &&
		!/[\x00-\x08\x0b-\x1f\x7f]/.test(value)
	)
		return `'''${/^'''(?:\r\n|\n)/.test(old) || value.startsWith('\n') ? eol : ''}${value.replaceAll('\n', eol)}'''`;
	if (old.startsWith('"""') && !/["\\]|[\x00-\x08\x0b-\x1f\x7f]/.test(value))
		return `"""${/^"""(?:\r\n|\n)/.test(old) || value.startsWith('\n') ? eol : ''}${value.replaceAll('\n', eol)}"""`;
	if (old.startsWith("'") && !old.startsWith("'''") && !/['\x00-\x08\x0a-\x1f\x7f]/.test(value))
		return `'${value}'`;
	return basic(value);
}

const raw = ({ tape, content: text }: TextDocument, node: number) =>
	text.slice(tape.from(node), tape.to(node));

function bareValue(raw: string): Scalar {
	if (raw === 'true') return true;
	if (raw === 'false') return false;
	const digits = raw.replaceAll('_', '');
	if (/inf$/.test(digits)) return digits.startsWith('-') ? -Infinity : Infinity;
	if (/nan$/.test(digits)) return NaN;
	const number = Number(digits);
	return Number.isSafeInteger(number) || /[.eE]/.test(digits) ? number : digits;
}

/** What a bare value is, for a sentence. */
const sort = (word: string) =>
	word === 'true' || word === 'false' ? 'switch' : DATETIME.test(word) ? 'date' : 'number';

const nameIn = (doc: TextDocument) => (node: number) => syntax.name(doc, node);

/** Whether a node is a section, and none of several of one name. */
function isNamedSection(doc: TextDocument, node: number): boolean {
	const section = sectionOf(doc, node);
	return section !== undefined && !section.many;
}

/** What is before the name of a record in that of its section, where all of a kind begin so; else nothing. */
function leadOf(doc: TextDocument, node: number): string {
	if (doc.hints.element === undefined || !isNamedSection(doc, node)) return '';
	return prefixOf(doc, node, nameIn(doc));
}

const syntax: Syntax = {
	name(doc, node) {
		const section = sectionOf(doc, node);
		if (section) return section.name;
		const raw = doc.content.slice(doc.tape.keyFrom(node), doc.tape.keyTo(node));
		if (/^[\w-]+$/.test(raw)) return raw;
		return [...raw.matchAll(PART)].map(([part]) => (/^["']/.test(part) ? stringText(part) : part)).join('.');
	},
	value(doc, node) {
		const kind = doc.tape.kind(node);
		return kind === TEXT
			? stringText(raw(doc, node))
			: kind === BARE
				? bareValue(raw(doc, node))
				: raw(doc, node);
	},
	writeName: (_doc, name) => (/^[\w-]+$/.test(name) ? name : basic(name)),
	writeValue(doc, node, value) {
		const bare = NUMBER.test(value) || DATETIME.test(value) || value === 'true' || value === 'false';
		if (node < 0) return bare ? value : basic(value);
		const old = raw(doc, node);
		if (doc.tape.kind(node) === TEXT) return writeString(value, old, toEol(doc.content));
		if (!bare || (sort(value) !== sort(old) && sort(old) !== 'number' && sort(value) !== 'number'))
			throw new EditRefused(`This must be a ${sort(old)}, not “${value}”.`);
		return value;
	},
	pair: ' = ',
	inside(doc, node) {
		const { tape, content: text } = doc;
		if (text[tape.from(node)] === '{' || (tape.kind(node) === LIST && text[tape.from(node)] === '['))
			return { from: tape.from(node) + 1, to: tape.to(node) - 1, separators: ',' };
		if (node === 0) return { from: 0, to: text.length, separators: '' };
		const header = lineEnd(text, tape.keyTo(node));
		return { from: header, to: Math.max(header, tape.to(node)), separators: '', lead: toEol(text) };
	},
	comment: (text, at) => (text.charCodeAt(at) === 35 ? contentLineEnd(text, at) : -1),
	repeats: true,
	numbered: (doc, node) => sectionOf(doc, node)?.many ?? false,
	trail: true,
	word: (doc, node) => (isNamedSection(doc, node) ? prefixOf(doc, node, nameIn(doc)).slice(0, -1) : ''),
	recordName: (doc, node) => syntax.name(doc, node).slice(leadOf(doc, node).length),
	renameNode(doc, node, name) {
		const { tape, content: text } = doc;
		const section = sectionOf(doc, node);
		const insert = section ? lastPart(section, leadOf(doc, node) + name) : syntax.writeName(doc, name, '');
		// A dotted name or header keeps its other parts; the headers of sections inside hold the name too.
		const headers = section
			? [...sections.get(doc.tape)!.keys()].filter((other) => other >= node && other < tape.after(node))
			: [node];
		return headers.map((header) => {
			const parts = [...text.slice(tape.keyFrom(header), tape.keyTo(header)).matchAll(PART)];
			const part = parts[section ? section.part : parts.length - 1]!;
			const from = tape.keyFrom(header) + part.index;
			return { from, to: from + part[0].length, insert };
		});
	},
	addMember(doc, node, name, value) {
		const { tape, content: text } = doc;
		const row = rowOf(doc, node, syntax);
		const raw = `${syntax.writeName(doc, name, '')}${row.separators ? ' = ' : pairOf(doc, node)}${syntax.writeValue(doc, -1, value, node)}`;
		if (row.separators) return insertAt(row, row.items.length, raw);
		// Behind the section's own values; sections inside come after them.
		const own = itemsOf(tape, node).map((item) => !sectionOf(doc, item));
		const items = row.items.filter((_, nth) => own[nth]);
		return insertAt({ ...row, items, lead: toEol(text) }, items.length, raw);
	},
	records(doc, root) {
		const { tape } = doc;
		const items = itemsOf(tape, root);
		const found = items.map((item) => sectionOf(doc, item));
		const names = new Set(found.map((section) => section?.name));
		if (items.length > 0 && names.size === 1 && found.every((section) => section?.many))
			return { holder: root, items, named: false };
		if (items.length > 0 && found.every((section) => section && !section.many))
			return { holder: root, items, named: true };
		return { holder: -1, items: [root], named: false };
	}
};

/** The new last part of a section's name; what is before it must stay. @throws EditRefused */
function lastPart(section: Section, name: string): string {
	const lead = section.name.slice(0, section.name.lastIndexOf('.') + 1);
	const part = name.slice(lead.length);
	if (!name.startsWith(lead) || !/^[\w-]+$/.test(part))
		throw new EditRefused(
			`“${name}” cannot be the name of this section: it must be “${lead}” and then letters, digits, _ or - only.`
		);
	return part;
}

/** What is between name and value in the section's last pair. */
function pairOf({ tape, content: text }: TextDocument, node: number): string {
	const last = itemsOf(tape, node).findLast((item) => !isHolder(tape, item));
	const between = last === undefined ? '' : text.slice(tape.keyTo(last), tape.from(last));
	return /^[ \t]*=[ \t]*$/.test(between) ? between : ' = ';
}

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('toml', text, hints);
	const { root, sections: found } = scanToml(doc);
	sections.set(doc.tape, found);
	doc.tape.finish();
	if (doc.tape.count > 1) addTreeRecords(doc, root, syntax);
	else {
		doc.holder = root;
		doc.named = true;
		if (doc.problems.length === 0)
			doc.problem(
				0,
				text.trim() === ''
					? 'The file is empty: there is no data.'
					: 'There is no data in this file, only comments.'
			);
	}
	return doc;
}

/** TOML: sections or tables of a list are records; a file with values of its own is one record. */
export const toml = treeFormat('toml', ['toml'], read, syntax, { nested: true });
