// Numbers and texts inside a script, function by function, with what calls each.
import { fileBelow } from '$core/edits';
import { scriptsOf } from '$core/links';
import { callsIn, literalsIn, type Literal } from '$core/scripts';
import { displayName, type Stack } from '$core/stack';
import type { FunctionView, InsidePage, LiteralView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

const MOST = 800;
const MOST_USES = 12;

/** The record whose id a text is, among the kinds that scripts speak of. */
function recordOf(stack: Stack, { of, value }: Literal): LiteralView['record'] {
	if (of !== 'text') return null;
	for (const { kinds } of stack.guide.scripts ?? [])
		for (const kind of kinds) {
			const record = stack.tables.get(kind)?.byId.get(value);
			if (!record) continue;
			const { words } = stack.guide;
			const text = words?.kind === kind ? record.values.get(words.main)?.value : undefined;
			return { kind, id: value, name: text || displayName(stack, record) };
		}
	return null;
}

/** Where a function is called, in all scripts. */
function usesOf(stack: Stack, name: string): FunctionView['used'] {
	const used: FunctionView['used'] = [];
	for (const { path, layer } of scriptsOf(stack)) {
		const code = layer.files.get(path)!.text?.text ?? '';
		if (!code.includes(name)) continue;
		for (const { line } of callsIn(code, name)) used.push({ layer: layer.id, path, line });
		if (used.length >= MOST_USES) break;
	}
	return used.slice(0, MOST_USES);
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
	for (const one of all.slice(0, MOST)) {
		let group = functions.find(({ name }) => name === one.in);
		if (!group)
			functions.push(
				(group = { name: one.in, lines: [], used: one.in === null ? [] : usesOf(stack, one.in) })
			);
		let line = group.lines.at(-1);
		if (line?.line !== one.line)
			group.lines.push((line = { line: one.line, code: one.around, literals: [] }));
		const { nth, raw, value, of, at } = one;
		line.literals.push({ nth, raw, value, of, at, record: recordOf(stack, one) });
	}
	return {
		slug: project.slug,
		path,
		layer: { id: layer.id, title: layer.title, owner: layer.owner },
		mine: mine !== undefined,
		functions,
		more: Math.max(0, all.length - MOST)
	};
}
