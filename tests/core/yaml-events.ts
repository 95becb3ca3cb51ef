// The events of a YAML document as its test suite writes them (without anchors, tags and styles), from our tape.
import { readDocument, type TextDocument } from '$core/formats';
import { isHolder } from '$core/formats/tree';
import { itemsOf, LIST } from '$core/formats/tape';
import { scalarText } from '$core/formats/yaml-scalars';
import { yamlNotes } from '$core/formats/yaml';
import { ALIAS } from '$core/formats/yaml-pieces';

const shown = (text: string) =>
	text
		.replaceAll('\\', '\\\\')
		.replaceAll('\n', '\\n')
		.replaceAll('\t', '\\t')
		.replaceAll('\b', '\\b')
		.replaceAll('\r', '\\r');

/** Events of a name, which may be a map or list itself. */
function keyEvents(doc: TextDocument, node: number): string[] {
	const { tape, content: text } = doc;
	const from = tape.keyFrom(node);
	const raw = text.slice(from, tape.keyTo(node));
	const column = from - (text.lastIndexOf('\n', from - 1) + 1);
	const mark = /^\?\s*/.exec(raw);
	// A name written with “? ” may be anything; it is read by itself, in its own columns.
	const inner = mark && /^\?(\s|$)/.test(raw) ? ' '.repeat(column) + ' ' + raw.slice(1) : raw;
	const bare = inner.trim();
	if (bare.replace(/^(?:[&!]\S*\s*)+/, '') === '') return ['=VAL '];
	if (/^\*\S+$/.test(bare)) return [`=ALI ${bare}`];
	const whole = /^\?(\s|$)/.test(raw) || /^(?:[&!]\S*\s+)*[[{"']/.test(bare);
	const alone = whole && !/\*/.test(bare) ? readDocument('key.yaml', inner) : null;
	if (alone && alone.problems.length === 0)
		return itemsOf(alone.tape, 0).flatMap((item) => nodeEvents(alone, item));
	return [`=VAL ${shown(scalarText(bare.replace(/^(?:[&!]\S*\s+)+/, '')))}`];
}

function nodeEvents(doc: TextDocument, node: number): string[] {
	const { tape, content: text } = doc;
	if (isHolder(tape, node)) {
		const list = tape.kind(node) === LIST;
		return [
			list ? '+SEQ' : '+MAP',
			...itemsOf(tape, node).flatMap((item) =>
				list ? nodeEvents(doc, item) : [...keyEvents(doc, item), ...nodeEvents(doc, item)]
			),
			list ? '-SEQ' : '-MAP'
		];
	}
	const raw = text.slice(tape.from(node), tape.to(node));
	if (tape.kind(node) === ALIAS) return [`=ALI ${raw}`];
	return [`=VAL ${shown(scalarText(raw, yamlNotes(doc)!.indents.get(node)))}`];
}

/** All events of a text. */
export function eventsOf(text: string): { events: string[]; problems: string[] } {
	const doc = readDocument('case.yaml', text)!;
	const events = itemsOf(doc.tape, 0).flatMap((item) => ['+DOC', ...nodeEvents(doc, item), '-DOC']);
	return { events, problems: doc.problems.map(({ line, message }) => `${line}: ${message}`) };
}

/** The suite's events, brought to the same form. */
export function expectedEvents(tree: string): string[] {
	return tree
		.split('\n')
		.map((line) => line.trimStart())
		.filter((line) => line !== '' && !/^[-+]STR/.test(line))
		.map((line) => {
			if (/^[-+]/.test(line)) return line.slice(0, 4);
			const bare = line.replace(/^=VAL (?:(?:&\S+|<[^>]*>) )*/, '=VAL ');
			return bare.startsWith('=VAL ') ? `=VAL ${bare.slice(6)}` : bare;
		});
}
