// `npm run bench layers`: twelve layers over a game of 300,000 records, of which each changes some; the list of what
// several of them change, switching one off, and memory, beside a rebuild from nothing and one layer in the same run.
// With `field` as a word, layers replace single fields.
import { createPool } from '$core/facts';
import { parseGuide } from '$core/guide';
import { clashesOf } from '$core/layers';
import { buildLinks } from '$core/links';
import { guideWith, loadLayer } from '$core/model';
import { buildStack, type Layer } from '$core/stack';
import { gameFiles, gameGuide, makeGame, random } from './game';
import { median, ms, row, timed } from './said';

const RECORDS = Number(process.env.BENCH_RECORDS ?? 300_000);
const FILES = Number(process.env.BENCH_FILES ?? 3000);
const LAYERS = 12;
/** Files of the game that each layer has its own version of, as a share. */
const SHARE = 0.02;

const byField = process.argv.includes('field');

function main(): void {
	const game = makeGame({ records: RECORDS, files: FILES });
	const texts = new Map([...gameFiles(game)].map(({ path, text }) => [path, text]));
	const bytes = (text: string) => new TextEncoder().encode(text);
	const pool = createPool();
	const yaml = byField ? gameGuide().replaceAll('merge: record', 'merge: field') : gameGuide();
	const written = parseGuide(yaml);
	const files = new Map([...texts].map(([path, text]) => [path, bytes(text)]));
	const base = loadLayer({ id: 'base', title: 'Base', owner: 'game' }, files, { guide: written, pool });
	const guide = guideWith(written, base);
	const dice = random(7);
	// Some files are popular: layers meet in them.
	const data = [...texts.keys()].filter((path) => path.startsWith('data/'));
	const makeLayer = (nth: number): Layer => {
		const own = new Map<string, Uint8Array>();
		while (own.size < data.length * SHARE) {
			const path = data[Math.floor(dice() ** 2 * data.length)]!;
			const changed = texts
				.get(path)!
				.replace(/\b\d{2}\b/g, (number) => (dice() < 0.2 ? String(10 + nth) : number));
			own.set(path, bytes(changed));
		}
		return loadLayer({ id: `mod${nth}`, title: `Mod ${nth}`, owner: 'others' }, own, { guide, pool });
	};
	const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, new Map(), { guide, pool });
	const records = (of: readonly Layer[]) =>
		of.reduce(
			(sum, { files: own }) =>
				sum + [...own.values()].reduce((count, { facts }) => count + (facts?.count ?? 0), 0),
			0
		);
	const memory = () => {
		globalThis.gc?.();
		globalThis.gc?.();
		const { heapUsed, arrayBuffers } = process.memoryUsage();
		return (heapUsed + arrayBuffers) / 2 ** 20;
	};
	/** Everything that a first look at a stack makes. */
	const build = (of: Layer[]) => {
		const stack = buildStack(
			of.map((layer) => ({ ...layer, files: new Map(layer.files) })),
			guide,
			pool
		);
		return { stack, links: buildLinks(stack) };
	};
	const layers = [makeLayer(0)];
	let kept: ReturnType<typeof build> | null = build([base, ...layers, mine]);
	const one = memory();
	kept = null;
	while (layers.length < LAYERS) layers.push(makeLayer(layers.length));
	console.log(
		`A made-up game of ${records([base])} records in ${files.size} files; ${LAYERS} layers over it with ${records(layers)} records, merged by ${byField ? 'field' : 'record'}`
	);

	const rebuilds = [0, 1, 2].map(() => timed(() => build([base, ...layers, mine]))[1]);
	kept = build([base, ...layers, mine]);
	const all = memory();
	const [clashes, first] = timed(() => clashesOf(kept!.stack));
	const again = median([0, 1, 2].map(() => timed(() => clashesOf(kept!.stack))[1]));
	row('rebuild from nothing: tables and links', `${ms(median(rebuilds))} ms`);
	row(
		`what several layers change: ${clashes.length} values`,
		`${ms(first)} ms the first time, then ${ms(again)} ms; 1/${(median(rebuilds) / first).toFixed(1)} of the rebuild`,
		'under 1 s'
	);
	const switches: number[] = [];
	let { stack, links } = kept;
	for (const nth of [2, 5, 9]) {
		for (const on of [false, true]) {
			const next = stack.layers.map((layer) => (layer.id === `mod${nth}` ? { ...layer, on } : layer));
			const [, time] = timed(() => {
				stack = buildStack(next, guide, pool, stack);
				links = buildLinks(stack, links);
			});
			switches.push(time);
		}
	}
	row(
		'a layer switched off or on: tables and links',
		`median ${ms(median(switches))} ms, slowest ${ms(Math.max(...switches))} ms; 1/${(median(rebuilds) / median(switches)).toFixed(1)} of the rebuild`,
		'under 2 s'
	);
	row(
		'memory, with what was read',
		`${all.toFixed(0)} MB with ${LAYERS} layers, ${one.toFixed(0)} MB with one: ${((all / one - 1) * 100).toFixed(0)} % more`,
		'a quarter more'
	);
	void kept;
}

main();
