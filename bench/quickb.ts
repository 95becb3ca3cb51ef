import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { REFERENCES } from './references';
const dir = process.argv[2]!;
const files = (readdirSync(dir, { recursive: true }) as string[])
	.filter((p) => statSync(join(dir, p)).isFile())
	.sort();
const per: Record<string, number> = {};
const at = performance.now();
for (const p of files) {
	const e = p.split('.').at(-1)!;
	const r = (REFERENCES as any)[e]?.[0];
	if (!r) continue;
	const text = readFileSync(join(dir, p), 'utf8');
	const s = performance.now();
	r.parse(text);
	per[e] = (per[e] ?? 0) + performance.now() - s;
}
console.log(performance.now() - at, per);
