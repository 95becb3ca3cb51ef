// The command on a file of every format: how it is read, one value set, the rest of the bytes alone.
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { zipSync } from 'fflate';
import iconv from 'iconv-lite';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { bytesOf, COAST, COAST_GUIDE } from '../fixtures/coast';
import { kettle, root } from './kettle';

const work = mkdtempSync(join(tmpdir(), 'kettle-formats-'));
const guide = join(work, 'coast.guide.yaml');
afterAll(() => {
	process.chdir(root);
	rmSync(work, { recursive: true });
});
beforeAll(() => {
	process.chdir(work);
	writeFileSync(guide, COAST_GUIDE);
	for (const file of COAST) {
		mkdirSync(dirname(join(work, file.path)), { recursive: true });
		writeFileSync(join(work, file.path), bytesOf(file));
	}
	writeFileSync(
		join(work, 'coast.zip'),
		zipSync(Object.fromEntries(COAST.map((file) => [file.path, bytesOf(file)])))
	);
});

interface Read {
	file: string;
	encoding: string;
	records: { kind: string; id: string; fields: Record<string, unknown> }[];
	problems: unknown[];
}
const parsed = (out: string) =>
	out
		.trim()
		.split('\n')
		.map((line) => JSON.parse(line) as Read);

test('records reads every format, in a folder and in an archive alike, one JSON to a line in the order given', async () => {
	const { status, out } = await kettle(
		'records',
		...COAST.map(({ path }) => path),
		'--guide',
		guide,
		'--json'
	);
	const found = parsed(out);
	expect(status).toBe(0);
	expect(found.map(({ file }) => file)).toEqual(COAST.map(({ path }) => path));
	found.forEach(({ records, problems, encoding }, nth) => {
		const file = COAST[nth]!;
		expect(problems).toEqual([]);
		expect(encoding).toBe(file.encoding ?? 'utf-8');
		const record = records.find(({ id }) => id === file.record)!;
		expect(record.kind).toBe(file.kind);
		expect(Object.keys(record.fields)).toContain(file.field);
	});
	const packed = parsed((await kettle('records', 'coast.zip', '--guide', guide, '--json')).out);
	for (const { file, records } of packed)
		expect(records).toEqual(found.find((one) => `coast.zip/${one.file}` === file)!.records);
	expect(packed).toHaveLength(COAST.length);
});

test('set changes one line of each, all of them at once or none', async () => {
	const edits = COAST.map(({ path, record, field, value }) => ({ file: path, record, field, value }));
	writeFileSync(
		join(work, 'bad.jsonl'),
		[...edits, { file: 'data/crew.json', record: 'nobody', field: 'pay', value: '1' }]
			.map((edit) => JSON.stringify(edit))
			.join('\n')
	);
	const refused = await kettle('set', '--from', 'bad.jsonl', '--guide', guide);
	expect(refused.status).toBe(1);
	expect(refused.said).toContain('has no record “nobody”');
	for (const file of COAST) expect([...readFileSync(join(work, file.path))]).toEqual([...bytesOf(file)]);

	writeFileSync(join(work, 'good.jsonl'), edits.map((edit) => JSON.stringify(edit)).join('\n'));
	expect(await kettle('set', '--from', 'good.jsonl', '--guide', guide)).toMatchObject({
		status: 0,
		said: ''
	});
	for (const file of COAST) {
		const bytes = readFileSync(join(work, file.path));
		const lines = (file.encoding ? iconv.decode(bytes, file.encoding) : bytes.toString()).split('\n');
		const before = file.text.split('\n');
		expect(lines.filter((line, nth) => line !== before[nth]).map((line) => line.replace('\r', ''))).toEqual([
			file.line
		]);
	}
});

test('a value that outgrows its style is written and said; a letter the file cannot hold is refused with its place', async () => {
	writeFileSync(join(work, 'style.csv'), 'id,cost,code\na,1.50,007\n');
	const longer = await kettle('set', 'style.csv', 'a', 'cost', '2.125');
	expect(longer).toMatchObject({
		status: 0,
		said: expect.stringContaining('has 3 decimals; the file writes 2 here')
	});
	expect(await kettle('set', 'style.csv', 'a', 'code', '12')).toMatchObject({ status: 0, said: '' });
	expect(readFileSync(join(work, 'style.csv'), 'utf8')).toBe('id,cost,code\na,2.125,012\n');
	const gear = COAST.find(({ kind }) => kind === 'gear')!;
	writeFileSync(join(work, 'gear.xml'), bytesOf(gear));
	const odd = await kettle('set', 'gear.xml', 'winch', 'about', '漢');
	expect(odd).toMatchObject({
		status: 1,
		said: expect.stringMatching(/“漢” \(line 4, column \d+\) cannot be written in windows-1252/)
	});
	expect([...readFileSync(join(work, 'gear.xml'))]).toEqual([...bytesOf(gear)]);
});
