// Writes demo/base/digests.txt anew: the SHA-256 of every core file, as the demo game ships it.
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';

const base = new URL('./base/', import.meta.url);
const lines = readdirSync(base, { recursive: true, withFileTypes: true })
	.filter((entry) => entry.isFile())
	.map((entry) => `${entry.parentPath ?? entry.path}/${entry.name}`.slice(base.pathname.length).replace(/^\/+/, ''))
	.filter((path) => /^(data|words)\//.test(path))
	.sort()
	.map((path) => `${createHash('sha256').update(readFileSync(new URL(path, base))).digest('hex')}  ${path}`);
writeFileSync(new URL('digests.txt', base), lines.join('\n') + '\n');
