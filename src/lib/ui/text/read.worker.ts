// Reads a text while it is typed, so that the page never waits for it.
import { readDocument, type RecordNode, type TextDocument } from '$core/formats';
import { lineAt } from '$core/text';
import type { Answered, Asked, RecordReading, TextReading } from './reading';

const MOST_PROBLEMS = 100;
const MOST_FIELDS = 40;

let doc: TextDocument | null = null;

/** The line that holds a place of the last text, from 1. */
const lineOf = (at: number): number => lineAt(doc!.lines, at);

/** The records of the last text, each with the number of its part. */
const recordsIn = (): { part: number; record: RecordNode }[] =>
	doc?.parts?.flatMap(({ spec, doc: part }) => part.records.map((record) => ({ part: spec, record }))) ??
	doc?.records.map((record) => ({ part: 0, record })) ??
	[];

function readingOf(asked: Extract<Asked, { text: string }>): TextReading {
	doc = readDocument(asked.path, asked.text, asked.hints);
	if (!doc) return { format: null, problems: [], records: [] };
	return {
		format: doc.format,
		problems: doc.problems.slice(0, MOST_PROBLEMS).map(({ line, message }) => ({ line, message })),
		records: recordsIn()
			.map(({ part, record: { id, line, to } }) => ({ id, part, line, last: lineOf(Math.max(0, to - 1)) }))
			.sort((a, b) => a.line - b.line)
	};
}

function recordOf(line: number): RecordReading | null {
	const record = recordsIn().find((one) => one.record.line === line)?.record;
	if (!record) return null;
	const { fields } = record;
	return {
		fields: fields.slice(0, MOST_FIELDS).map(({ path, value, from }) => ({
			path,
			value: String(value ?? ''),
			line: lineOf(from)
		})),
		more: Math.max(0, fields.length - MOST_FIELDS)
	};
}

self.onmessage = ({ data }: MessageEvent<Asked>) => {
	const answer: Answered =
		'text' in data
			? { ask: data.ask, reading: readingOf(data) }
			: { ask: data.ask, record: recordOf(data.record) };
	self.postMessage(answer);
};
