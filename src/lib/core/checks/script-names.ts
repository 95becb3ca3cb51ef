import type { Facts } from '../facts';
import type { ScriptGuide } from '../guide';
import { calledIn, definedIn, spokenBy } from '../scripts';
import { nearest, scriptsOf } from '../links';
import { recordNamed, type Layer, type Stack, type Table } from '../stack';
import { filesWith } from './paths';
import { quoted, snagOfFile, withCandidates, type Rule } from './snag';

interface Unknown {
	line: number;
	call: string;
	text: string;
	rule: ScriptGuide;
	tables: Table[];
}

const known = new WeakMap<
	Facts,
	{ scripts: Stack['guide']['scripts']; names: object[]; unknown: Unknown[] }
>();

/** What a script asks for and nobody has; looked for again only where the ids of some kind changed. */
function unknownIn(stack: Stack, facts: Facts): Unknown[] {
	const { scripts = [] } = stack.guide;
	const names = [...stack.tables.values()].map(({ rows, guide }) => (guide.severalIds ? rows : rows.byText));
	const old = known.get(facts);
	if (old && old.scripts === stack.guide.scripts && names.every((name, at) => name === old.names[at]))
		return old.unknown;
	const unknown: Unknown[] = [];
	for (const { line, spoken } of spokenBy(facts))
		for (const { call, argument, text } of spoken) {
			const rule = scripts.find((script) => script.call === call && script.argument === argument);
			if (!rule || (rule.found && rule.found.sure < 0.9)) continue;
			const tables = rule.kinds.flatMap((kind) => stack.tables.get(kind) ?? []);
			if (tables.length > 0 && tables.every((table) => !recordNamed(table, text)))
				unknown.push({ line, call, text, rule, tables });
		}
	known.set(facts, { scripts: stack.guide.scripts, names, unknown });
	return unknown;
}

interface Unasked {
	layer: Layer;
	path: string;
	line: number;
	name: string;
	id: string;
	table: Table;
}

/** Functions whose names end in an id that no record of the event's kind has: the game asks for none of them. */
function* unasked(stack: Stack): Generator<Unasked> {
	const events = Object.entries(stack.guide.events ?? {});
	const open = events.flatMap(([name, { kind }]) => {
		const table = kind === undefined ? undefined : stack.tables.get(kind);
		return table && name.endsWith('{id}') ? [{ stem: name.slice(0, -'{id}'.length), table }] : [];
	});
	if (open.length === 0) return;
	const scripts = scriptsOf(stack);
	const called = new Set(scripts.flatMap(({ facts }) => [...calledIn(facts)]));
	for (const { layer, path, facts } of scripts)
		for (const { name, line } of definedIn(facts)) {
			if (called.has(name) || stack.guide.events![name]) continue;
			const [best] = open
				.filter(({ stem }) => name.startsWith(stem))
				.sort((a, b) => b.stem.length - a.stem.length);
			const id = best && name.slice(best.stem.length);
			if (best && id && !recordNamed(best.table, id))
				yield { layer, path, line, name, id, table: best.table };
		}
}

/** A script that names a record which is nowhere in the stack. */
export const scriptNames: Rule = {
	id: 'script-names',
	title: 'Missing reference in a script',
	reads: ['files', 'records'],
	local: true,
	*find({ stack }) {
		for (const { layer, path, line, name, id, table } of unasked(stack)) {
			const what = table.guide.title.toLowerCase();
			const snag = snagOfFile(
				layer,
				path,
				{
					rule: 'script-names',
					severity: 'warns',
					line,
					message: `${quoted(path)} defines ${quoted(name)} on line ${line}, but there is no ${what} ${quoted(id)}. The game never asks for it.`
				},
				...[line, name]
			);
			yield withCandidates(snag, () => nearest(id, [...table.byId.keys()]));
		}
		const scripts = stack.guide.scripts ?? [];
		if (scripts.length === 0) return;
		/** Whether a later layer has a file of the same path. */
		const isOver = (path: string, nth: number) =>
			stack.layers.some(({ files }, at) => at > nth && files.has(path));
		for (const [nth, layer] of stack.layers.entries())
			for (const [{ path }, facts] of filesWith(layer, 'prose')) {
				if (isOver(path, nth)) continue;
				yield null;
				for (const { line, call, text, rule, tables } of unknownIn(stack, facts)) {
					const what = tables.map(({ guide }) => guide.title.toLowerCase()).join(' or ');
					const snag = snagOfFile(
						layer,
						path,
						{
							rule: 'script-names',
							severity: rule.found ? 'warns' : 'blocks',
							line,
							message: `${quoted(path)} asks for ${what} ${quoted(text)} on line ${line}, which does not exist. The game stops the script there.`
						},
						...[line, call, text]
					);
					yield withCandidates(snag, () =>
						nearest(
							text,
							tables.flatMap((table) => [...table.byId.keys()])
						)
					);
				}
			}
	}
};
