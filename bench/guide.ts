// `npm run bench guide`: what is found of a game from its files alone, beside what is known; and how long it takes.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { createPool, type Facts } from '$core/facts';
import { EMPTY_GUIDE, parseGuide, REFERENCE_RULES, type RuleName } from '$core/guide';
import { infer, sketchOf, type DataFile } from '$core/infer';
import { assembleStack, loadLayer } from '$core/model';
import { openFolder, readAll } from '../src/lib/files';
import { gameFiles, makeGame } from './game';
import { makeGuided } from './guided';
import { judge, namer, precision, recall, truthsOf, type Score } from './judge-guide';

const RECORDS = Number(process.env.BENCH_RECORDS ?? 300_000);
const FILES = Number(process.env.BENCH_FILES ?? 3000);
/** Records of the game on which every column is compared with every kind, value by value. */
const NAIVE = 20_000;

const bytes = (files: Iterable<{ path: string; text: string }>) =>
	new Map([...files].map(({ path, text }) => [path, new TextEncoder().encode(text)]));
const baseOf = (files: ReadonlyMap<string, Uint8Array>) => ({
	id: 'base',
	title: 'Base',
	owner: 'game' as const,
	files
});
const share = (part: number) => part.toFixed(2);
const row = (what: string, said: string, limit = '') =>
	console.log(`${what.padEnd(44)} ${said.padEnd(46)} ${limit}`);

function table(title: string, all: Map<RuleName, Score>[], least: number): void {
	console.log(`\n${title} (precision / recall, at least ${least})`);
	for (const rule of REFERENCE_RULES) {
		const scores = all.map((scores) => scores.get(rule)!);
		if (scores.every(({ right, wrong, missed }) => right + wrong.length + missed.length === 0)) continue;
		const cells = scores.map((score) => `${share(precision(score))}/${share(recall(score))}`);
		const worst = Math.min(...scores.flatMap((score) => [precision(score), recall(score)]));
		console.log(`  ${rule.padEnd(10)} ${cells.join(' ')}  ${worst >= least ? '' : 'BELOW'}`);
		for (const { wrong, missed } of scores)
			if (worst < least)
				for (const line of [
					...wrong.map((one) => `found and not so: ${one}`),
					...missed.map((one) => `not found: ${one}`)
				])
					console.log(`             ${line}`);
	}
}

/** The demo: what is found without its guide, beside the guide that ships with it. */
async function demo(): Promise<void> {
	const root = fileURLToPath(new URL('../demo/', import.meta.url));
	const files = await readAll(await openFolder(`${root}base`));
	const shipped = assembleStack([baseOf(files)], parseGuide(readFileSync(`${root}base.guide.yaml`, 'utf8')));
	const bare = assembleStack([baseOf(files)], EMPTY_GUIDE);
	const paths = [...files.keys()];
	const written = parseGuide(readFileSync(`${root}base.guide.yaml`, 'utf8'));
	const truths = [...truthsOf({ ...shipped.guide, ...written }, namer(written, paths))];
	table(
		'the demo, beside its shipped guide',
		[judge([...truthsOf(bare.guide, namer(bare.guide, paths))], truths)],
		0.95
	);
}

function madeUp(): void {
	const all = Array.from({ length: 10 }, (_, nth) => {
		const { files, truths } = makeGuided(nth + 1);
		const { guide } = assembleStack([baseOf(bytes(files))], EMPTY_GUIDE);
		const known = [...truths.flatMap(({ from, to }) => [from, to]), ...files.map(({ path }) => path)];
		return judge([...truthsOf(guide, namer(guide, known))], truths);
	});
	table('ten made-up games with traps', all, 0.9);
}

const load = (records: number, files: number) => {
	const pool = createPool();
	const all = bytes(gameFiles(makeGame({ records, files })));
	const layer = loadLayer(baseOf(all), all, { guide: EMPTY_GUIDE, pool });
	const list = [...layer.files.values()].flatMap(({ path, facts }): DataFile[] =>
		facts ? [{ path, facts }] : []
	);
	return { pool, all, list, asked: { paths: new Set(all.keys()) } };
};

/** Every column against the ids of every kind, value by value: the plain check, without an index over all. */
function naive(list: readonly DataFile[]): number {
	const kinds = new Map<string, DataFile[]>();
	for (const file of list) {
		const folder = file.path.slice(0, file.path.lastIndexOf('/'));
		kinds.set(folder, [...(kinds.get(folder) ?? []), file]);
	}
	const idsOf = (files: DataFile[]) =>
		files.flatMap(({ facts }) => Array.from(facts.ids, (id) => facts.pool.at(id)));
	let found = 0;
	for (const files of kinds.values()) {
		const columns = new Map<string, Set<string>>();
		for (const { facts } of files)
			for (const [path, { values }] of sketchOf(facts).columns) {
				const own = columns.get(path) ?? new Set<string>();
				columns.set(path, own);
				for (const value of values) own.add(facts.pool.at(value));
			}
		for (const values of columns.values())
			for (const others of kinds.values()) {
				const ids = idsOf(others);
				if ([...values].every((value) => ids.includes(value))) found++;
			}
	}
	return found;
}

const timed = (work: () => void): number => {
	const started = performance.now();
	work();
	return performance.now() - started;
};

function cost(): void {
	console.log('');
	const small = load(NAIVE, 120);
	for (const { facts } of small.list) sketchOf(facts);
	const plain = timed(() => naive(small.list));
	const ours = timed(() => infer(EMPTY_GUIDE, small.list, small.asked));
	row(`${NAIVE} records, all that is found`, `${ours.toFixed(0)} ms`);
	row(
		'  plain check of all pairs, exact ones only',
		`${plain.toFixed(0)} ms, ${(plain / ours).toFixed(1)} times ours`
	);

	const { pool, all, list, asked } = load(RECORDS, FILES);
	globalThis.gc?.();
	const before = process.memoryUsage().rss;
	let most = before;
	const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 50);
	const first = timed(() => infer(EMPTY_GUIDE, list, asked));
	most = Math.max(most, process.memoryUsage().rss);
	clearInterval(watch);
	row(
		`${RECORDS} records, ${FILES} files, all that is found`,
		`${(first / 1000).toFixed(1)} s`,
		'at most 20 s'
	);
	row(
		'  memory of the process, game included',
		`${(most / 1e6).toFixed(0)} MB, ${(before / 1e6).toFixed(0)} MB before`,
		'at most 2000 MB'
	);
	const path = list.find(({ facts }) => (facts as Facts).format === 'csv')!.path;
	const text = new TextDecoder().decode(all.get(path)).replace(/\n(\w+),([^,]*),/, '\n$1,Changed,');
	const changed = loadLayer(baseOf(new Map()), new Map([[path, new TextEncoder().encode(text)]]), {
		guide: EMPTY_GUIDE,
		pool
	});
	const next = list.map((file) =>
		file.path === path ? { path, facts: changed.files.get(path)!.facts! } : file
	);
	const again = timed(() => infer(EMPTY_GUIDE, next, asked));
	row('  once more after one file changed', `${again.toFixed(0)} ms`, 'at most 1000 ms');
}

await demo();
madeUp();
cost();
