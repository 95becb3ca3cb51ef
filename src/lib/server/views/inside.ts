// Numbers and texts inside a script, function by function, with what calls each.
import { scriptsOf } from '$core/links';
import {
	assignedIn,
	callsIn,
	literalsIn,
	readNames,
	seenBy,
	usesIn,
	type Literal,
	type NamesRead
} from '$core/scripts';
import { fileBelow, displayName, recordNamed, type Stack } from '$core/stack';
import { lineIndex } from '$core/text';
import type { CodeLine, CodePlace, FunctionView, InsidePage, LiteralView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

const MOST = 800;
const MOST_USES = 12;

/** The record whose id a text is, among the kinds that scripts speak of. */
function recordOf(stack: Stack, { of, value }: Literal): LiteralView['record'] {
	if (of !== 'text') return null;
	for (const { kinds } of stack.guide.scripts ?? [])
		for (const kind of kinds) {
			const record = recordNamed(stack.tables.get(kind), value);
			if (!record) continue;
			const { words } = stack.guide;
			const text = words?.kind === kind ? record.values.get(words.main)?.value : undefined;
			return { kind, id: record.id, name: text || displayName(stack, record) };
		}
	return null;
}

/** Where a function is called, in all scripts. */
function usesOf(stack: Stack, name: string): CodePlace[] {
	const used: CodePlace[] = [];
	for (const { path, layer } of scriptsOf(stack)) {
		const code = layer.files.get(path)!.text?.text ?? '';
		if (!code.includes(name)) continue;
		for (const { line } of callsIn(code, name)) used.push({ layer: layer.id, path, line });
		if (used.length >= MOST_USES) break;
	}
	return used.slice(0, MOST_USES);
}

interface Given {
	line: CodeLine;
	name: string;
	place: number;
}

/** Where else the names that lines of a script give values to are used: in this script, and global ones in all. */
function findUses(stack: Stack, path: string, code: string, given: readonly Given[]): void {
	if (given.length === 0) return;
	const own = readNames(code);
	const words = new RegExp(
		`(?<![\\p{L}\\p{N}_])(?:${[...new Set(given.map(({ name }) => name))].join('|')})(?![\\p{L}\\p{N}_])`,
		'u'
	);
	const read = new Map<string, { layer: string; names: NamesRead }>();
	const scripts = scriptsOf(stack);
	// This script first.
	for (const { path: where, layer } of [
		...scripts.filter((one) => one.path === path),
		...scripts.filter((one) => one.path !== path)
	]) {
		const text = layer.files.get(where)!.text?.text ?? '';
		if (where === path) read.set(path, { layer: layer.id, names: own });
		else if (words.test(text)) read.set(where, { layer: layer.id, names: readNames(text) });
	}
	for (const { line, name, place } of given) {
		const seen = seenBy(own, place);
		if (seen === null) continue;
		const used: CodePlace[] = [];
		for (const [where, { layer, names }] of read) {
			if (seen === 'part' && where !== path) continue;
			for (const at of usesIn(names, name, where === path ? place : null))
				if (where !== path || at !== line.line) used.push({ layer, path: where, line: at });
		}
		line.gives = { name, used: used.slice(0, MOST_USES) };
	}
}

/** @throws NotThere where there is no such script */
export function insidePage({ stack, project }: Model, path: string): InsidePage {
	const mine = stack.mine?.files.get(path);
	const file = mine ?? fileBelow(stack, path);
	const layer = mine ? stack.mine! : stack.layers.findLast((one) => one.files.has(path));
	const code = file?.text?.text;
	if (code === undefined || !layer || !scriptsOf(stack).some((script) => script.path === path))
		throw new NotThere(`There is no script ${path}.`);
	const all = literalsIn(code);
	const functions: FunctionView[] = [];
	const starts = lineIndex(code);
	const given: Given[] = [];
	for (const one of all.slice(0, MOST)) {
		let group = functions.find(({ name }) => name === one.in);
		if (!group)
			functions.push(
				(group = { name: one.in, lines: [], used: one.in === null ? [] : usesOf(stack, one.in) })
			);
		let line = group.lines.at(-1);
		if (line?.line !== one.line) {
			group.lines.push((line = { line: one.line, code: one.around, literals: [], gives: null }));
			const start = starts[one.line - 1]!;
			const assigned = assignedIn(code.slice(start, starts[one.line] ?? code.length));
			if (assigned) given.push({ line, name: assigned.name, place: start + assigned.at });
		}
		const { nth, raw, value, of, at } = one;
		line.literals.push({ nth, raw, value, of, at, record: recordOf(stack, one) });
	}
	findUses(stack, path, code, given);
	return {
		slug: project.slug,
		path,
		layer: { id: layer.id, title: layer.title, owner: layer.owner },
		mine: mine !== undefined,
		functions,
		more: Math.max(0, all.length - MOST)
	};
}
