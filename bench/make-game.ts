// `npm run make-game -- --records 300000 --files 3000 [--seed 1] [--out DIR]`: writes a made-up game and its field guide.
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { gameFiles, gameGuide, makeGame } from './game';

const USAGE = 'npm run make-game -- --records COUNT --files COUNT [--seed NUMBER] [--out DIR]';

const { values } = parseArgs({
	options: {
		records: { type: 'string', default: '3000' },
		files: { type: 'string', default: '60' },
		seed: { type: 'string', default: '1' },
		out: { type: 'string', default: '.kettle/made/game' }
	}
});
const [records, files, seed] = [Number(values.records), Number(values.files), Number(values.seed)];
if (![records, files, seed].every((number) => Number.isInteger(number) && number > 0)) {
	console.error(`usage: ${USAGE}`);
	process.exit(2);
}
const out = resolve(values.out);
let bytes = 0;
let count = 0;
const folders = new Set<string>();
for (const { path, text } of gameFiles(makeGame({ records, files, seed }))) {
	const full = join(out, path);
	const folder = dirname(full);
	if (!folders.has(folder)) mkdirSync(folder, { recursive: true });
	folders.add(folder);
	writeFileSync(full, text);
	bytes += Buffer.byteLength(text);
	count++;
}
writeFileSync(`${out}.guide.yaml`, gameGuide());
console.log(`${count} files, ${(bytes / 1e6).toFixed(1)} MB in ${out}; its field guide is ${out}.guide.yaml`);
