import { LineCounter, parseDocument } from 'yaml';
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
	const doc = parseDocument(yaml, { lineCounter: counter, merge: true });
	const [fault] = doc.errors;
	if (fault)
		throw new GuideFault(
			`The field guide is not YAML at line ${counter.linePos(fault.pos[0]).line}: ${fault.message.split('\n')[0]}`
		);
	const parsed = guideSchema.safeParse(doc.toJS({ maxAliasCount: 100 }));
	if (parsed.success) {
		for (const [name, kind] of Object.entries(parsed.data.kinds)) {
			for (const [path, field] of Object.entries(kind.fields)) {
				const unknown = field.reference?.kinds.find((target) => !(target in parsed.data.kinds));
				if (unknown)
					throw new GuideFault(
						`The field guide names no kind “${unknown}”, to which ${name}.${path} refers.`
					);
			}
		}
		return parsed.data;
	}
	const issue = parsed.error.issues[0]!;
	const node = doc.getIn(issue.path as string[], true) as { range?: [number, number, number] } | undefined;
	const line = node?.range ? ` (line ${counter.linePos(node.range[0]).line})` : '';
	throw new GuideFault(
		`The field guide is not right at ${issue.path.join('.') || 'its top'}${line}: ${issue.message}.`
	);
}
