// Writes demo/base/digests.txt anew: the SHA-256 of every core file, as the demo game ships it.
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { relative, sep } from 'node:path';
import { fileURLToPath } from 'node:url';

/** @param {string} folder */
export function writeDigests(folder) {
	const lines = readdirSync(folder, { recursive: true, withFileTypes: true })
		.filter((entry) => entry.isFile())
		.map((entry) => relative(folder, `${entry.parentPath ?? entry.path}/${entry.name}`).split(sep).join('/'))
		.filter((path) => /^(data|words)\//.test(path))
		.sort()
		.map((path) => `${createHash('sha256').update(readFileSync(`${folder}/${path}`)).digest('hex')}  ${path}`);
	writeFileSync(`${folder}/digests.txt`, lines.join('\n') + '\n');
}

if (process.argv[1] === fileURLToPath(import.meta.url))
	writeDigests(fileURLToPath(new URL('base', import.meta.url)));
