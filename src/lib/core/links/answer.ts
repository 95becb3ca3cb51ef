// A function that answers an event, as it has to be written: its name, its arguments, the records that it is for, and what
// answered before it.
import type { Stack } from '../stack';
import { kindOfArgument, type GameEvent } from './events';

/** For which records an answer is: all, one, or those with a value in a field. */
export interface AnswerFor {
	id?: string | undefined;
	field?: string | undefined;
	value?: string | undefined;
}

/** The argument that is the record which an event is about. */
export function recordArgument(stack: Stack, event: GameEvent): { name: string; kind: string } | null {
	for (const name of event.parameters) {
		const kind = kindOfArgument(stack, event.said, name);
		if (kind !== null) return { name, kind };
	}
	return null;
}

const quoted = (text: string) => `"${text.replace(/[\\"]/g, (char) => `\\${char}`)}"`;

/** A value of a record as scripts compare it: a number where it is one. */
const written = (value: string): string =>
	/^-?\d+(?:\.\d+)?$/.test(value) || /^(?:true|false)$/.test(value) ? value : quoted(value);

/** The condition that a record is one of those that are meant; null for all. */
function condition(argument: string, { id, field, value }: AnswerFor): string | null {
	if (id !== undefined) return `${argument}.id == ${quoted(id)}`;
	if (field === undefined || value === undefined) return null;
	const names = field
		.split('.')
		.map((name) => (/^[A-Za-z_]\w*$/.test(name) ? `.${name}` : `[${quoted(name)}]`));
	return `${argument}${names.join('')} == ${written(value)}`;
}

/** What the guide says of an event, as lines of commentary. */
function remarks({ said }: GameEvent): string[] {
	const lines = said?.when === undefined ? [] : [said.when];
	for (const { name, meaning, unit, min, max } of said?.arguments ?? []) {
		const range = min !== undefined && max !== undefined ? `${min} to ${max}${unit ? ` ${unit}` : ''}` : '';
		const about = [meaning?.replace(/\.$/, ''), range].filter(Boolean).join(', ');
		if (about !== '') lines.push(`${name}: ${about}`);
	}
	if (said?.returns !== undefined) lines.push(`Returns: ${said.returns}`);
	return lines.map((line) => `-- ${line.replaceAll('\n', ' ')}`);
}

/**
 * The text of a script that answers an event.
 * @param name the function's name: that of the event, with an id in place of `{id}`
 */
export function answerText(stack: Stack, event: GameEvent, name: string, wanted: AnswerFor): string {
	const list = event.parameters.join(', ');
	const argument = recordArgument(stack, event);
	const only = argument && condition(argument.name, wanted);
	// Of several functions with one name the last one counts: it has to call those before it.
	const earlier = event.answers.some((answer) => answer.name === name);
	const gives = event.said?.returns !== undefined;
	return [
		...remarks(event),
		...(earlier ? [`local before = ${name}`] : []),
		`function ${name}(${list})`,
		...(earlier && !gives ? [`\tbefore(${list})`] : []),
		...(only ? [`\tif ${only} then`, '\t\t', '\tend'] : ['\t']),
		...(earlier && gives ? [`\treturn before(${list})`] : []),
		'end',
		''
	].join('\n');
}
