// `npm run bench formats [format…]`: reading with spans beside the plain parsers, memory, and one edit in 10 MB.
// Each format and size runs in a process of its own; ours and the reference take turns in it. `BENCH_SIZES=1,10` leaves
// the large files out.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { applySplices } from '$core/change';
import {
	findRecord,
	formatFor,
	readDocument,
	TEXT_FORMATS,
	type FormatId,
	type TextFormat
} from '$core/formats';
import { generate, type Generated } from './generate';
import { REFERENCES } from './references';

const MB = 1024 * 1024;
const SIZES = (process.env.BENCH_SIZES ?? '1,10,100').split(',').map(Number);

/** What one process measures. Speeds in MB/s, memory in times the file, the edit in milliseconds. */
interface Measured {
	ours: number;
	theirs: { name: string; speed: number }[];
	memory: number;
	peak: number;
	firstSet: number;
	set: number;
}

const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]!;

function timed(run: () => unknown): number {
	const from = performance.now();
	run();
	return performance.now() - from;
}

const held = () => {
	for (let time = 0; time < 3; time++) globalThis.gc!();
	const { heapUsed, external, arrayBuffers } = process.memoryUsage();
	return heapUsed + Math.max(external, arrayBuffers);
};

function measure(file: string, id: FormatId, megabytes: number): Measured {
	const { path, hints, record, field, value } = JSON.parse(readFileSync(`${file}.json`, 'utf8')) as Generated;
	const text = readFileSync(file, 'latin1');
	const size = text.length / MB;
	const before = held();
	const peakBefore = process.resourceUsage().maxRSS * 1024;
	const doc = readDocument(path, text, hints)!;
	const peak = process.resourceUsage().maxRSS * 1024 - peakBefore;
	const memory = held() - before + text.length;
	if (doc.problems.length > 0) throw new Error(`${id}: ${JSON.stringify(doc.problems[0])}`);

	const format = formatFor(path, hints) as TextFormat;
	const edit = () =>
		applySplices(text, format.set(doc, findRecord(doc, record)!, field, value)).charCodeAt(5);
	const firstSet = timed(edit);
	const set = median(Array.from({ length: 5 }, () => timed(edit)));

	// Small files are read some times before it counts, so that all code is compiled.
	const warm = megabytes >= 10 ? 0 : 15;
	const runs = warm + (megabytes >= 100 ? 3 : megabytes >= 10 ? 5 : 15);
	const references = REFERENCES[id]!.filter(({ most }) => most >= megabytes);
	const ours: number[] = [];
	const theirs = references.map((): number[] => []);
	const settle = () => {
		// After small files a forced collection would cost more than they do: it throws compiled code away.
		if (megabytes >= 10) globalThis.gc!();
	};
	for (let run = 0; run < runs; run++) {
		settle();
		const time = timed(() => readDocument(path, text, hints));
		if (run >= warm) ours.push(time);
		references.forEach(({ parse }, nth) => {
			settle();
			const taken = timed(() => parse(text));
			if (run >= warm) theirs[nth]!.push(taken);
		});
	}
	return {
		ours: size / (median(ours) / 1000),
		theirs: references.map(({ name }, nth) => ({ name, speed: size / (median(theirs[nth]!) / 1000) })),
		memory: memory / text.length,
		peak: peak / text.length,
		firstSet,
		set
	};
}

/** Most that reading with spans may cost against the fastest plain parser. */
const LIMITS: Partial<Record<FormatId, number>> = { csv: 1.5, tsv: 1.5, json: 4, xml: 1.5 };

const pad = (text: string | number, width: number) => String(text).padStart(width);

function main(args: string[]): void {
	if (args[0] === '--one') {
		process.stdout.write(JSON.stringify(measure(args[1]!, args[2] as FormatId, Number(args[3]))));
		return;
	}
	const folder = mkdtempSync(join(tmpdir(), 'kettle-bench-'));
	process.on('exit', () => rmSync(folder, { recursive: true }));
	const file = join(folder, 'file');
	// Packed tables have a benchmark of bytes, not of text.
	const ids = args.length > 0 ? (args as FormatId[]) : TEXT_FORMATS.map(({ id }) => id);
	console.log(
		'Reading with spans, MB/s; memory kept (with the text) and at its peak, in times the file; one set, ms.\n'
	);
	console.log(
		'format        MB     ours   reference                   MB/s   ours/ref   limit   kept   peak   set (first)'
	);
	for (const id of ids)
		for (const size of SIZES) {
			const { text, ...about } = generate(id, size * MB);
			writeFileSync(file, text, 'latin1');
			writeFileSync(`${file}.json`, JSON.stringify(about));
			const out = execFileSync(
				process.execPath,
				['--expose-gc', '--max-old-space-size=12000', process.argv[1]!, '--one', file, id, String(size)],
				{ encoding: 'utf8', maxBuffer: MB, stdio: ['ignore', 'pipe', 'inherit'] }
			);
			const { ours, theirs, memory, peak, firstSet, set } = JSON.parse(out) as Measured;
			const fastest = theirs.reduce<Measured['theirs'][number] | null>(
				(best, next) => (best && best.speed > next.speed ? best : next),
				null
			);
			const cost = fastest ? fastest.speed / ours : NaN;
			const limit = LIMITS[id] ?? 2;
			console.log(
				`${id.padEnd(11)}${pad(size, 5)}${pad(ours.toFixed(1), 9)}   ${(fastest?.name ?? '(too slow for this size)').padEnd(24)}${pad(fastest ? fastest.speed.toFixed(1) : '', 8)}${pad(fastest ? cost.toFixed(2) : '', 11)}${pad(limit, 8)}${pad(memory.toFixed(1), 7)}${pad(peak.toFixed(1), 7)}${size === 10 ? `${pad(set.toFixed(1), 6)} (${firstSet.toFixed(1)})` : ''}${cost > limit || memory > 12 || (size === 10 && Math.max(set, firstSet) > 50) ? '   over' : ''}`
			);
		}
}

main(process.argv.slice(2));
