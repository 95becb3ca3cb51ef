import { isScalar, LineCounter, parseDocument, visit } from 'yaml';
import type * as z from 'zod';
import { listed } from '../wording';
import { guideSchema, type Guide } from './schema';

/** A guide file that cannot be taken, with the place and what is wrong there. */
export class GuideFault extends Error {}

/** What is known of a game before anybody wrote a guide. */
export const EMPTY_GUIDE: Guide = guideSchema.parse({ guide: 1 });

/**
 * Reads a guide file.
 * @throws GuideFault naming line and key of the first fault, in plain words.
 */
export function parseGuide(yaml: string): Guide {
	const counter = new LineCounter();
	// The library compares each key with all others; that is done below in one pass.
	const doc = parseDocument(yaml, { lineCounter: counter, merge: true, uniqueKeys: false });
	const [fault] = doc.errors;
	if (fault)
		throw new GuideFault(
			`The field guide is not YAML at line ${counter.linePos(fault.pos[0]).line}: ${fault.message.split('\n')[0]}`
		);
	visit(doc, {
		Map(_, { items }) {
			const seen = new Set<unknown>();
			for (const { key } of items) {
				if (!isScalar(key) || key.value === '<<') continue;
				if (seen.has(key.value))
					throw new GuideFault(
						`The field guide has “${String(key.value)}” twice in one place (line ${counter.linePos(key.range?.[0] ?? 0).line}). Take one of them out.`
					);
				seen.add(key.value);
			}
		}
	});
	let data: unknown;
	try {
		data = doc.toJS({ maxAliasCount: 100 });
	} catch {
		throw new GuideFault(
			'The field guide cannot be read: its anchors and aliases expand to too much. Write out what they stand for.'
		);
	}
	return checked(data, (path) => {
		const node = doc.getIn(path, true) as { range?: [number, number, number] } | undefined;
		return node?.range ? ` (line ${counter.linePos(node.range[0]).line})` : '';
	});
}

/** A guide from plain data, put together from several files. @throws GuideFault */
export const guideFrom = (data: unknown): Guide => checked(data, () => '');

const SORTS: Record<string, string> = {
	string: 'a text',
	number: 'a number',
	int: 'a whole number',
	boolean: 'true or false',
	array: 'a list',
	tuple: 'a list',
	object: 'a block of names and values',
	record: 'a block of names and values'
};

/** What is wrong at a place, and what would do there. */
function issueInWords(issue: z.core.$ZodIssue): string {
	const last = String(issue.path.at(-1) ?? '');
	switch (issue.code) {
		case 'invalid_type': {
			const wanted = SORTS[issue.expected] ?? issue.expected;
			return issue.input === undefined
				? `“${last}” is missing; it must be ${wanted}`
				: `this must be ${wanted}`;
		}
		case 'unrecognized_keys': {
			const [key] = issue.keys;
			return `a guide cannot say “${key}” here. Check the spelling, or remove it; docs/field-guide.md lists what a guide can say`;
		}
		case 'invalid_value':
			return `this must be ${listed(
				issue.values.map((value) => `“${String(value)}”`),
				'or'
			)}`;
		case 'too_small':
			return issue.origin === 'array'
				? 'the list needs at least one item'
				: `this must be at least ${String(issue.minimum)}`;
		case 'too_big':
			return `this must be at most ${String(issue.maximum)}`;
		default:
			return issue.message.replace(/\.$/, '');
	}
}

function checked(data: unknown, where: (path: string[]) => string): Guide {
	const parsed = guideSchema.safeParse(data, { reportInput: true });
	if (!parsed.success) {
		const issue = parsed.error.issues[0]!;
		const path = issue.path.map(String);
		// What is missing has no place of its own: that of what should hold it.
		const place = where(path) || where(path.slice(0, -1));
		throw new GuideFault(
			`The field guide has a mistake at ${path.join('.') || 'its top'}${place}: ${issueInWords(issue)}.`
		);
	}
	const { sets = {} } = parsed.data;
	for (const [name, kind] of Object.entries(parsed.data.kinds))
		for (const [path, field] of Object.entries(kind.fields)) {
			if (field.set !== undefined && !Object.hasOwn(sets, field.set))
				throw new GuideFault(
					`The field guide has no set of values “${field.set}”, of which ${name}.${path} speaks.`
				);
			if (field.set !== undefined) field.codes = { ...sets[field.set], ...field.codes };
			const unknown = field.reference?.kinds.find((target) => !Object.hasOwn(parsed.data.kinds, target));
			if (unknown)
				throw new GuideFault(`The field guide has no kind “${unknown}”, to which ${name}.${path} refers.`);
		}
	for (const [name, { title, things, links = [] }] of Object.entries(parsed.data.places ?? {})) {
		const kinds = [...things, ...links].map(({ kind }) => kind);
		const unknown = (title === undefined ? [name, ...kinds] : kinds).find(
			(kind) => !Object.hasOwn(parsed.data.kinds, kind)
		);
		if (unknown !== undefined)
			throw new GuideFault(`The field guide has no kind “${unknown}”, of which places.${name} speaks.`);
	}
	return parsed.data;
}
