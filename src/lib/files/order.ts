// The game's load order: a JSON file with a list of names under `mods`, or a text with a name a line. It is edited in
// place, never rewritten: what others keep in it, and how they format it, stays.
import { parseTree, type Node, type ParseError } from 'jsonc-parser';
import { applySplices, type Splice } from '$core/change';
import { decode, encode, type TextFile } from '$core/text';
import { SourceFault } from './fault';

const NAME = 'mods';

/** How a load order lists mods. */
export type Listed = 'json' | 'lines';

/** A load order as it was read. */
export interface Order {
	names: string[];
	/** The bytes with a name more, at the end; the same where it is listed. */
	with(name: string): Uint8Array;
	/** The bytes without a name. */
	without(name: string): Uint8Array;
}

const unreadable = (path: string, why: string) =>
	new SourceFault(
		`The load order ${path} cannot be changed: ${why}. Nothing was installed or removed. Correct the file, or delete it if it is not needed, and try again.`
	);

const endOf = ({ offset, length }: Node) => offset + length;

function added(text: string, list: Node, name: string): Splice {
	const items = list.children ?? [];
	const said = JSON.stringify(name);
	const [last, before] = [items.at(-1), items.at(-2)];
	if (!last) return { from: list.offset + 1, to: list.offset + 1, insert: said };
	const lead = text.slice(list.offset + 1, items[0]!.offset);
	const between = before ? text.slice(endOf(before), last.offset) : `,${lead.includes('\n') ? lead : ' '}`;
	return { from: endOf(last), to: endOf(last), insert: between + said };
}

function removed(items: readonly Node[], at: number): Splice {
	const item = items[at]!;
	if (at > 0) return { from: endOf(items[at - 1]!), to: endOf(item), insert: '' };
	return { from: item.offset, to: items[1]?.offset ?? endOf(item), insert: '' };
}

/** Lines of a text with their ends, each with the name that it lists; null for one that is empty or a remark. */
function namedLines(text: string): { line: string; name: string | null }[] {
	return (text.match(/[^\n]*\n|[^\n]+$/g) ?? []).map((line) => {
		const said = line.trim();
		return { line, name: said === '' || /^(?:#|;|\/\/)/.test(said) ? null : said };
	});
}

function readLines(file: TextFile): Order {
	const { text, eol } = file;
	const lines = namedLines(text);
	const end = eol === 'crlf' ? '\r\n' : '\n';
	const names = lines.flatMap(({ name }) => name ?? []);
	return {
		names,
		with(name) {
			if (names.includes(name)) return encode(file);
			const open = text !== '' && !text.endsWith('\n');
			return encode({ ...file, text: open ? `${text}${end}${name}` : `${text}${name}${end}` });
		},
		without(name) {
			const left = lines.filter((one) => one.name !== name).map(({ line }) => line);
			// A last line that had no end has none afterwards.
			const whole = left.join('');
			const bare = !text.endsWith('\n') && lines.at(-1)?.name === name;
			return encode({ ...file, text: bare ? whole.replace(/\r?\n$/, '') : whole });
		}
	};
}

/**
 * Reads a load order.
 * @param bytes null where the file is not there: a list that is empty
 * @throws SourceFault where it is not an object whose `mods`, if there, is a list of names
 */
export function readOrder(path: string, bytes: Uint8Array | null, listed: Listed = 'json'): Order {
	if (listed === 'lines') return readLines(decode(bytes ?? new Uint8Array(0)));
	const file = decode(bytes ?? new TextEncoder().encode('{\n\t"mods": []\n}\n'));
	const faults: ParseError[] = [];
	const root = parseTree(file.text, faults, { allowTrailingComma: false, disallowComments: false });
	if (!root || faults.length > 0) throw unreadable(path, 'it is not valid JSON');
	if (root.type !== 'object') throw unreadable(path, 'it is not an object');
	const property = root.children?.find(({ children }) => children?.[0]?.value === NAME);
	const list = property?.children?.[1];
	if (list && list.type !== 'array') throw unreadable(path, `“${NAME}” is not a list`);
	const items = list?.children ?? [];
	if (items.some(({ type }) => type !== 'string')) throw unreadable(path, `“${NAME}” holds more than names`);
	const names = items.map(({ value }) => value as string);
	const spliced = (splices: Splice[]) => encode({ ...file, text: applySplices(file.text, splices) });
	return {
		names,
		with(name) {
			if (names.includes(name)) return spliced([]);
			if (list) return spliced([added(file.text, list, name)]);
			const others = root.children?.length ?? 0;
			const insert = `"${NAME}": [${JSON.stringify(name)}]${others > 0 ? ', ' : ''}`;
			return spliced([{ from: root.offset + 1, to: root.offset + 1, insert }]);
		},
		without(name) {
			// The last first, so that the places of the others hold.
			let text = file.text;
			for (let at = names.length - 1; at >= 0; at--) if (names[at] === name) text = withoutItem(text, at);
			return encode({ ...file, text });
		}
	};
}

/** The text of a load order without one of its names, by its number from 0. */
function withoutItem(text: string, at: number): string {
	const root = parseTree(text)!;
	const list = root.children!.find(({ children }) => children?.[0]?.value === NAME)!.children![1]!;
	return applySplices(text, [removed(list.children!, at)]);
}
