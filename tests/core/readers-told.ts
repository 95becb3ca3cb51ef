// Readers of the formats that are detected from what is in them: line by line and on their own, with no code of ours.
import type { TaggedLayout } from '$core/formats';
import type { Seen } from './readers';

const linesOf = (text: string) => text.split(/\r\n|\n|\r/);

/** Values of one line under a name: as they are where there is one, by their places where there are several. */
function put(out: Record<string, string>, name: string, values: readonly string[]): void {
	if (values.length === 1) out[name] = values[0]!;
	else values.forEach((value, nth) => (out[`${name}[${nth}]`] = value));
}

/** Paragraphs of `name: value`; a line that begins with a space goes on with the value before. */
export function stanzas(text: string): Seen {
	const seen: Seen = [];
	let current: Record<string, string> | null = null;
	let name = '';
	const mark = /^(?:id|quite_new)=/m.test(text) ? '=' : ':';
	const close = !linesOf(text.trim()).some((line) => line.trim() === '' || line.startsWith('---'));
	for (const line of linesOf(text)) {
		if (line.trim() === '' || line.startsWith('---')) current = null;
		else if (!line.startsWith('#')) {
			if (close && line.startsWith('id:')) current = null;
			if (!current) seen.push((current = {}));
			if (/^\s/.test(line)) current[name] += `\n${line.trim()}`;
			else {
				name = line.slice(0, line.indexOf(mark));
				current[name] = line.slice(name.length + 1).trim();
			}
		}
	}
	return seen;
}

const cellsOf = (text: string) =>
	[...text.matchAll(/"([^"]*)"|([^\s,"]+)/g)].map((match) => match[1] ?? match[2]!);

/** Sections of `name = value`, where a value may be a text of several lines, a list, or a table with a head. */
export function sections(text: string): Seen {
	if (text.includes('[/')) return nested(text);
	const seen: Seen = [];
	const lines = linesOf(text);
	const eol = /\r\n|\n|\r/.exec(text)?.[0] ?? '';
	for (let at = 0; at < lines.length; at++) {
		const line = lines[at]!;
		if (line === '' || line.startsWith(';')) continue;
		if (line.startsWith('[')) {
			seen.push({});
			continue;
		}
		const name = line.slice(0, line.indexOf('=')).trim();
		let rest = line.slice(line.indexOf('=') + 1).trim();
		const out = seen.at(-1)!;
		if (rest.startsWith('{')) {
			const head = cellsOf(rest.slice(1));
			for (let nth = 0; lines[++at]!.trim() !== '}'; nth++) {
				const cells = cellsOf(lines[at]!.split(' #')[0]!);
				head.forEach((column, place) => (out[`${name}[${nth}].${column}`] = cells[place]!));
			}
			continue;
		}
		while ((rest.match(/"/g) ?? []).length % 2 > 0) rest += eol + lines[++at]!;
		if (rest.startsWith('_(')) rest = rest.slice(2, -1);
		put(
			out,
			name,
			rest.includes('"') ? [...rest.matchAll(/"([^"]*)"/g)].map((cell) => cell[1]!) : [rest.split(' #')[0]!]
		);
	}
	return seen;
}

/** Sections in sections: each is numbered among those of its name. */
function nested(text: string): Seen {
	const seen: Seen = [];
	const open: { path: string; counts: Map<string, number> }[] = [];
	for (const raw of linesOf(text)) {
		const line = raw.trim();
		const [, closing, name] = /^\[(\/?)(\w+)\]/.exec(line) ?? [];
		if (closing === '/') open.pop();
		else if (name !== undefined) {
			const above = open.at(-1);
			if (!above) seen.push({});
			const nth = above?.counts.get(name) ?? 0;
			above?.counts.set(name, nth + 1);
			open.push({ path: above ? `${above.path}${name}[${nth}].` : '', counts: new Map() });
		} else if (/^\w+\s*=/.test(line)) {
			const value = line
				.slice(line.indexOf('=') + 1)
				.replace(/ #.*$/, '')
				.trim();
			seen.at(-1)![open.at(-1)!.path + line.slice(0, line.indexOf('=')).trim()] = value.replace(
				/^(?:_ )?"([^]*)"$/,
				'$1'
			);
		}
	}
	return seen;
}

/** Lines that begin with a tag; the first of the layout begins a record, and what is before it belongs to none. */
export function tagged(text: string, { first, separator, brackets, texts }: TaggedLayout): Seen {
	if (brackets) return inBrackets(text, first);
	const seen: Seen = [];
	const counts = new Map<string, number>();
	for (const line of linesOf(text)) {
		if (line === '' || line.startsWith('#')) continue;
		const [tag, ...cells] = line.split(separator) as [string, ...string[]];
		if (tag === first) {
			seen.push({});
			counts.clear();
		}
		const out = seen.at(-1);
		if (!out) continue;
		const nth = counts.get(tag) ?? 0;
		counts.set(tag, nth + 1);
		if (texts.includes(tag)) out[`${tag}[${nth}]`] = line.slice(tag.length + separator.length);
		else
			cells.forEach(
				(cell, place) => (out[tag === first ? `${tag}[${place}]` : `${tag}[${nth}][${place}]`] = cell)
			);
	}
	return seen;
}

/** Tags in brackets, one after the other. */
function inBrackets(text: string, first: string): Seen {
	const seen: Seen = [];
	const counts = new Map<string, number>();
	for (const [, inner] of text.matchAll(/\[([^\]]*)\]/g)) {
		const [tag, ...cells] = inner!.split(':') as [string, ...string[]];
		if (tag === first) {
			seen.push({});
			counts.clear();
		}
		const out = seen.at(-1);
		if (!out) continue;
		const nth = counts.get(tag) ?? 0;
		counts.set(tag, nth + 1);
		if (cells.length === 0) out[`${tag}[${nth}]`] = '';
		if (cells.join('') === '' && cells.length === 1) continue;
		cells.forEach((cell, place) => {
			out[tag === first ? `${tag}[${place}]` : `${tag}[${nth}][${place}]`] = cell;
		});
	}
	return seen;
}

/** Outlines by indentation, line by line: the names that a line is below are those of less deep ones before it. */
export function outline(text: string): Seen {
	const seen: Seen = [];
	const above: string[] = [];
	const all = linesOf(text).flatMap((line) => {
		const [, tabs, name, value] =
			/^(\t*)([^\t#][^:]*):(?: +(.*))?$/.exec(line.replace(/(^|\s)#.*$/, '').trimEnd()) ?? [];
		return tabs === undefined ? [] : [{ depth: tabs.length, name: name!, value: value ?? '' }];
	});
	all.forEach(({ depth, name, value }, nth) => {
		above.length = depth;
		above.push(name);
		if (depth === 0) seen.push({});
		else if ((all[nth + 1]?.depth ?? 0) <= depth) seen.at(-1)![above.slice(1).join('.')] = value;
		else if (value !== '') seen.at(-1)![`${above.slice(1).join('.')}.#1`] = value;
	});
	return seen;
}

/** Blocks by indentation: what stands indented further belongs to the line above. */
export function indented(text: string): Seen {
	const seen: Seen = [];
	const wordsOf = (line: string) =>
		[...line.matchAll(/"([^"]*)"|`([^`]*)`|(#.*)|(\S+)/g)]
			.filter((match) => match[3] === undefined)
			.map((match) => match[1] ?? match[2] ?? match[4]!);
	const tree: { depth: number; name: string; values: string[] }[] = [];
	const finish = () => {
		const out = seen.at(-1);
		if (!out) return;
		const top = tree.filter(({ depth }) => depth === 1);
		const times = (list: typeof tree, name: string) => list.filter((one) => one.name === name).length;
		const met = new Map<string, number>();
		for (const one of top) {
			const nth = met.get(one.name) ?? 0;
			met.set(one.name, nth + 1);
			const path = times(top, one.name) > 1 ? `${one.name}[${nth}]` : one.name;
			const from = tree.indexOf(one) + 1;
			const below: typeof tree = [];
			for (let at = from; at < tree.length && tree[at]!.depth > 1; at++) below.push(tree[at]!);
			if (below.length === 0) put(out, path, one.values.length === 0 ? [''] : one.values);
			for (const inner of below) put(out, `${path}.${inner.name}`, inner.values);
		}
		tree.length = 0;
	};
	for (const line of linesOf(text)) {
		const depth = /^\t*/.exec(line)![0].length;
		const [name, ...values] = wordsOf(line);
		if (name === undefined) continue;
		if (depth === 0) {
			finish();
			seen.push({});
		} else tree.push({ depth, name, values });
	}
	finish();
	return seen;
}

type List = (string | List)[];

/** The lists of a text in parentheses; words that name what is behind them keep their colon. */
function listsOf(text: string): List {
	const stack: List[] = [[]];
	const tokens = text.matchAll(/;.*|#\|[^|]*\|#|[()]|"(?:[^"\\]|\\.)*"|[^\s()";]+/g);
	for (const [token] of tokens) {
		if (token.startsWith(';') || token.startsWith('#|') || token === "'" || token === '.') continue;
		if (token === '(') stack.push([]);
		else if (token === ')') {
			const done = stack.pop()!;
			stack.at(-1)!.push(done[0] === '_' ? done[1]! : done);
		} else
			stack
				.at(-1)!
				.push(token.startsWith('"') ? (JSON.parse(token.replaceAll('\t', '\\t')) as string) : token);
	}
	return stack[0]!;
}

/** Lists in parentheses: what a thing is, its name, and lists of a name and values; or words before their values. */
export function parens(text: string): Seen {
	const [first, ...others] = listsOf(text);
	if (first === undefined) return [];
	if (first[0] !== 'beast')
		return (first as List).map((list) => {
			const out: Record<string, string> = {};
			for (let at = 0; at < list.length; at += 2) {
				const value = list[at + 1] as string | List;
				put(out, (list[at] as string).slice(1), typeof value === 'string' ? [value] : (value as string[]));
			}
			return out;
		});
	return [first, ...others].map((beast) => {
		const [, id, ...fields] = beast as [string, string, ...List[]];
		const out: Record<string, string> = { id };
		for (const [name, ...values] of fields as [string, ...(string | List)[]][])
			if (Array.isArray(values[0]))
				for (const [inner, value] of values as [string, string][]) out[`${name}.${inner}`] = value;
			else put(out, name, values as string[]);
		return out;
	});
}

/** Pairs of lines. */
export function groups(text: string, names: readonly string[]): Seen {
	const lines = linesOf(text).filter((line) => line !== '');
	return Array.from({ length: lines.length / names.length }, (_, nth) =>
		Object.fromEntries(names.map((name, place) => [name, lines[nth * names.length + place]!]))
	);
}
