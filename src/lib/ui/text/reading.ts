import type { ReadHints } from '$core/formats';

/** What a text says while it is typed. */
export interface TextReading {
	/** The format it is read in; null where it is not read as data. */
	format: string | null;
	problems: { line: number; message: string }[];
	/** Its records in order: the lines that each takes, from 1, and the number of its part. */
	records: { id: string; part: number; line: number; last: number }[];
}

/** One record of it, with its first values. */
export interface RecordReading {
	fields: { path: string; value: string; line: number }[];
	more: number;
}

/** To the worker: a text to be read, or the record that begins on a line of the last one; each answer has the number of its question. */
export type Asked =
	| { ask: number; path: string; text: string; hints: ReadHints }
	| { ask: number; record: number };

export type Answered = { ask: number } & ({ reading: TextReading } | { record: RecordReading | null });

/** Reads texts in a worker of its own; of several questions of one sort only the last one is answered. */
export class TextReader {
	#worker = new Worker(new URL('./read.worker.ts', import.meta.url), { type: 'module' });
	#asked = 0;
	#waiting = new Map<number, (answer: Answered) => void>();
	#last = { text: 0, record: 0 };

	constructor() {
		this.#worker.onmessage = ({ data }: MessageEvent<Answered>) => {
			this.#waiting.get(data.ask)?.(data);
			this.#waiting.delete(data.ask);
		};
	}

	#ask(sort: 'text' | 'record', asked: (ask: number) => Asked): Promise<Answered | null> {
		const ask = ++this.#asked;
		this.#last[sort] = ask;
		return new Promise((answered) => {
			this.#waiting.set(ask, (answer) => answered(this.#last[sort] === ask ? answer : null));
			this.#worker.postMessage(asked(ask));
		});
	}

	/** What a text says; null where another was asked for meanwhile. */
	async read(path: string, text: string, hints: ReadHints): Promise<TextReading | null> {
		const answer = await this.#ask('text', (ask) => ({ ask, path, text, hints }));
		return answer && 'reading' in answer ? answer.reading : null;
	}

	/** The record that begins on a line of the text that was read last. */
	async record(line: number): Promise<RecordReading | null> {
		const answer = await this.#ask('record', (ask) => ({ ask, record: line }));
		return answer && 'record' in answer ? answer.record : null;
	}

	end(): void {
		this.#worker.terminate();
	}
}
