// The game's load order: a JSON file with a list of names under `mods`, a text with a name a line, or a field of a
// configuration. It is edited in place, never rewritten: what others keep in it, and how they format it, stays.
import { findNodeAtLocation, parseTree, type Node, type ParseError } from 'jsonc-parser';
import { applySplices, type Splice } from '$core/change';
import { decode, encode, type TextFile } from '$core/text';
import { SourceFault } from './fault';

const NAME = 'mods';

/**
 * How a load order lists mods; `field` is a field of a configuration: in JSON the path of a list, such as `game.mods`,
 * else the name of a setting, such as `Mods/active` below `[Mods]`, with the names one after the other.
 */
export type Listed = 'json' | 'lines' | { field: string; between?: string | undefined };

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

/** The node at a path of names in a JSON text; undefined where there is none. */
const nodeAt = (text: string, names: readonly string[]): Node | undefined =>
	findNodeAtLocation(parseTree(text)!, [...names]);

/** A list of names in a JSON text, which is there. */
function listIn(file: TextFile, at: readonly string[]): Order {
	const list = nodeAt(file.text, at)!;
	const names = (list.children ?? []).map(({ value }) => value as string);
	const spliced = (splices: Splice[]) => encode({ ...file, text: applySplices(file.text, splices) });
	return {
		names,
		with: (name) => spliced(names.includes(name) ? [] : [added(file.text, list, name)]),
		without(name) {
			// The last first, so that the places of the others hold.
			let text = file.text;
			for (let nth = names.length - 1; nth >= 0; nth--)
				if (names[nth] === name) text = applySplices(text, [removed(nodeAt(text, at)!.children!, nth)]);
			return encode({ ...file, text });
		}
	};
}

/** A list of names under a path of a configuration in JSON. @throws SourceFault where there is none */
function readField(path: string, file: TextFile, field: string): Order {
	const faults: ParseError[] = [];
	const root = parseTree(file.text, faults, { allowTrailingComma: false, disallowComments: false });
	if (!root || faults.length > 0) throw unreadable(path, 'it is not valid JSON');
	const names = field.split('.');
	const list = findNodeAtLocation(root, names);
	if (list?.type !== 'array' || list.children?.some(({ type }) => type !== 'string'))
		throw unreadable(path, `it has no list of names under “${field}”`);
	return listIn(file, names);
}

/**
 * Names one after the other in a setting `name = value`, below a section `[…]` where the field names one.
 * @param between what is between two names
 * @throws SourceFault where there is no such setting
 */
function readSetting(path: string, file: TextFile, field: string, between: string): Order {
	const { text } = file;
	const cut = field.lastIndexOf('/');
	const [section, name] = [cut < 0 ? null : field.slice(0, cut), field.slice(cut + 1)];
	let [within, at]: [string | null, number] = [null, 0];
	for (const line of text.match(/[^\n]*\n|[^\n]+$/g) ?? []) {
		within = /^\s*\[(.*)\]\s*$/.exec(line)?.[1]?.trim() ?? within;
		const found = /^(\s*([^=:\s][^=:]*?)\s*[=:][^\S\r\n]*)(.*?)[^\S\r\n]*\r?\n?$/.exec(line);
		if (found?.[2] === name && (section === null || within === section))
			return listOf(file, at + found[1]!.length, found[3]!, between);
		at += line.length;
	}
	throw unreadable(path, `it has no setting “${field}”`);
}

/** Names in a value that stands at a place of a text, with or without quotes around it. */
function listOf(file: TextFile, from: number, value: string, between: string): Order {
	const quote = /^"(.*)"$/.exec(value) ? 1 : 0;
	const start = from + quote;
	const said = value.slice(quote, value.length - quote);
	/** Each name with where it begins and ends in the value. */
	const parts: { name: string; from: number; to: number }[] = [];
	let at = 0;
	for (const part of said.split(between)) {
		const lead = part.length - part.trimStart().length;
		const name = part.trim();
		if (name !== '') parts.push({ name, from: at + lead, to: at + lead + name.length });
		at += part.length + between.length;
	}
	const names = parts.map(({ name }) => name);
	const spliced = (splices: Splice[]) => encode({ ...file, text: applySplices(file.text, splices) });
	return {
		names,
		with(name) {
			if (names.includes(name)) return spliced([]);
			const [last, before] = [parts.at(-1), parts.at(-2)];
			const place = start + (last?.to ?? said.length);
			const lead = !last ? '' : before ? said.slice(before.to, last.from) : between;
			return spliced([{ from: place, to: place, insert: lead + name }]);
		},
		without(name) {
			const nth = names.indexOf(name);
			if (nth < 0) return spliced([]);
			const [one, last, next] = [parts[nth]!, parts[nth - 1], parts[nth + 1]];
			const cutFrom = last ? last.to : one.from;
			const cutTo = last ? one.to : (next?.from ?? one.to);
			return spliced([{ from: start + cutFrom, to: start + cutTo, insert: '' }]);
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
	if (typeof listed === 'object') {
		if (bytes === null) throw unreadable(path, 'it is not there, and its other fields are not known');
		const whole = decode(bytes);
		return /^\s*[{[]/.test(whole.text) && !/^\s*\[[^\]"{}]+\]\s*$/m.test(whole.text)
			? readField(path, whole, listed.field)
			: readSetting(path, whole, listed.field, listed.between ?? ',');
	}
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
	if (list) return listIn(file, NAME.split('.'));
	return {
		names,
		with(name) {
			const others = root.children?.length ?? 0;
			const insert = `"${NAME}": [${JSON.stringify(name)}]${others > 0 ? ', ' : ''}`;
			return spliced([{ from: root.offset + 1, to: root.offset + 1, insert }]);
		},
		without: () => spliced([])
	};
}
