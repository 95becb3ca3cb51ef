import { isScalar, LineCounter, parseDocument, visit } from 'yaml';
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

function checked(data: unknown, where: (path: string[]) => string): Guide {
	const parsed = guideSchema.safeParse(data);
	if (!parsed.success) {
		const issue = parsed.error.issues[0]!;
		throw new GuideFault(
			`The field guide has a mistake at ${issue.path.join('.') || 'its top'}${where(issue.path as string[])}: ${issue.message}.`
		);
	}
	for (const [name, kind] of Object.entries(parsed.data.kinds))
		for (const [path, field] of Object.entries(kind.fields)) {
			const unknown = field.reference?.kinds.find((target) => !Object.hasOwn(parsed.data.kinds, target));
			if (unknown)
				throw new GuideFault(`The field guide has no kind “${unknown}”, to which ${name}.${path} refers.`);
		}
	return parsed.data;
}
