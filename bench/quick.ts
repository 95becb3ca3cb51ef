import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { createPool, packFacts, unpackFacts, settleFacts } from '$core/facts';
import { parseGuide } from '$core/guide';
import { buildStack, fileOf, howFor, readFacts, guideWith, type Layer } from '$core/stack';
import { buildLinks } from '$core/links';
import { buildIndex, search } from '$core/search';
import { checkStack } from '$core/checks';
const dir = process.argv[2]!;
const files = (readdirSync(dir, { recursive: true }) as string[])
	.filter((p) => statSync(join(dir, p)).isFile())
	.sort();
const guide = parseGuide(readFileSync(`${dir}.guide.yaml`, 'utf8'));
const t = (name: string, from: number) =>
	console.log(
		name.padEnd(20),
		(performance.now() - from).toFixed(0),
		'ms',
		Math.round(process.memoryUsage().rss / 1e6),
		'MB rss'
	);
let at = performance.now();
const bytes = new Map(files.map((p) => [p, readFileSync(join(dir, p))]));
t('read', at);
const per: Record<string, number> = {};
at = performance.now();
const packed = new Map<string, Uint8Array | null>();
let size = 0;
for (const [p, b] of bytes) {
	const s = performance.now();
	const facts = readFacts(p, b, howFor(p, { guide }));
	const out = facts && packFacts(facts);
	packed.set(p, out);
	size += out?.length ?? 0;
	const e = p.split('.').at(-1)!;
	per[e] = (per[e] ?? 0) + performance.now() - s;
}
t('facts+pack', at);
console.log(per, (size / 1e6).toFixed(1), 'MB packed');
at = performance.now();
const pool = createPool();
const layerFiles = new Map(
	files.map((p) => {
		const f = packed.get(p);
		return [
			p,
			fileOf(p, bytes.get(p)!, howFor(p, { guide }), f ? settleFacts(unpackFacts(f), pool) : null)
		] as const;
	})
);
t('unpack+settle', at);
console.log('pool', pool.size);
const layer: Layer = { id: '1', title: 'Base', role: 'base', files: layerFiles };
at = performance.now();
const told = guideWith(guide, layer);
t('infer', at);
at = performance.now();
const stack = buildStack([layer], told, pool);
t('stack', at);
let cells = 0;
for (const f of layerFiles.values()) cells += f.facts?.values.length ?? 0;
console.log(
	'records',
	[...stack.tables.values()].reduce((s, x) => s + x.count, 0),
	'cells',
	cells
);
at = performance.now();
const links = buildLinks(stack);
t('links', at);
at = performance.now();
const snags = checkStack(stack, links);
t('check', at);
console.log('snags', snags.length, snags[0]?.message);
at = performance.now();
const index = buildIndex(stack, links);
t('index', at);
console.log(
	'words',
	index.lexicons[0]!.words.length,
	'marks',
	index.occurrences.marks.length,
	'lines',
	index.occurrences.lines.length
);
packed.clear();
(globalThis as any).gc?.();
t('gc', performance.now());
const qs = [
	'47',
	'lifeboat',
	'vs_',
	'bosun',
	'0.5',
	'on_alarm',
	'hold on',
	'speed 12',
	'engine 47',
	'Schlepper',
	'a',
	'e',
	'the',
	'data',
	'raise_call',
	'999',
	'st',
	'mate 30',
	'turbin',
	'dieesel',
	'rettungsbot'
];
const v = stack.tables.get('vessel')!;
for (let i = 0; i < 20; i++) {
	const r = v.record((i * 997) % v.count);
	const key = `vessel.${r.id}.name`;
	const n = stack.tables.get('text')!.byId.get(key)!;
	qs.push(
		n.value('en')!,
		r.id,
		n.value('de')!.toUpperCase(),
		n.value('en')!.split(' ').reverse().join(' '),
		n.value('en')!.slice(0, -2)
	);
}
search(index, 'warm');
search(index, 'warm up');
const times: [number, string, number, string][] = [];
for (const q of qs) {
	const s = performance.now();
	const r = search(index, q);
	times.push([
		performance.now() - s,
		q,
		r.total,
		r.hits[0]
			? `${r.hits[0].kind}/${r.hits[0].record} ${r.hits[0].reason}: ${r.hits[0].matched.slice(0, 40)}`
			: ''
	]);
}
times.sort((a, b) => b[0] - a[0]);
for (const x of times.slice(0, 25)) console.log(x[0].toFixed(1), x[1], x[2], x[3]);
console.log(
	'median',
	times[times.length >> 1]![0].toFixed(1),
	'p95',
	times[Math.floor(times.length * 0.05)]![0].toFixed(1)
);
at = performance.now();
buildIndex(stack, links);
t('index again', at);
