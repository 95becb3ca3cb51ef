import { codeOf, spokenIn } from '../infer';
import { nearest } from '../links';
import { quoted, type Rule } from './snag';

/** A script that names a record which is nowhere in the stack. */
export const scriptNames: Rule = {
	id: 'script-names',
	title: 'A script names something that is not there',
	reads: ['files', 'records'],
	*find({ stack }) {
		const scripts = stack.guide.scripts ?? [];
		if (scripts.length === 0) return;
		const counting = new Map(
			stack.layers.flatMap(({ id, files }) => [...files.keys()].map((path) => [path, id]))
		);
		for (const layer of stack.layers)
			for (const { path, facts } of layer.files.values()) {
				if (!facts || facts.prose.length === 0 || counting.get(path) !== layer.id) continue;
				for (let at = 0; at < facts.prose.length; at += 2) {
					const line = facts.prose[at]!;
					for (const { call, argument, text } of spokenIn(codeOf(facts.pool.at(facts.prose[at + 1]!)))) {
						const rule = scripts.find((script) => script.call === call && script.argument === argument);
						if (!rule || (rule.found && rule.found.sure < 0.9)) continue;
						const tables = rule.kinds.flatMap((kind) => stack.tables.get(kind) ?? []);
						if (tables.length === 0 || tables.some((table) => table.rowOf(text) >= 0)) continue;
						const candidates = nearest(
							text,
							tables.flatMap((table) => [...table.byId.keys()])
						);
						const what = tables.map(({ guide }) => guide.title.toLowerCase()).join(' or ');
						yield {
							id: ['script-names', path, line, call, text, layer.id].join('|'),
							rule: 'script-names',
							severity: rule.found ? 'warns' : 'blocks',
							layer: layer.id,
							file: path,
							line,
							kind: null,
							record: null,
							name: null,
							field: null,
							message: `${quoted(path)} asks for ${what} ${quoted(text)} on line ${line}, and there is none. The game would stop the script there.${candidates[0] ? ` Did you mean ${quoted(candidates[0])}?` : ''}`,
							candidates,
							repairable: false
						};
					}
				}
			}
	}
};
