// Seals a mod: how many of its data files there are, and a sum over their bytes, so that the game knows a copy that was
// cut short. Give it the folder of the mod.
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const folder = process.argv[2];
if (!folder || !existsSync(folder)) {
	console.error('usage: seal FOLDER-OF-A-MOD');
	process.exit(2);
}
const data = join(folder, 'data');
const files = existsSync(data)
	? readdirSync(data, { recursive: true })
			.map((name) => join(data, String(name)))
			.filter((path) => statSync(path).isFile())
	: [];
let sum = 0;
for (const path of files) for (const byte of readFileSync(path)) sum += byte;
writeFileSync(join(folder, 'seal.txt'), `${files.length} ${sum}\n`);
