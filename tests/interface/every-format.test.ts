// Every format in the real interface: its table, its ticket with the record marked in the source, one edit, and the
// bytes that come of it: the base's with that one line changed, in the base's own encoding.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import iconv from 'iconv-lite';
import pg from 'pg';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { bytesOf, COAST, COAST_GUIDE } from '../fixtures/coast';
import { openPage, useServer } from './helpers';

const allowed = mkdtempSync(join(tmpdir(), 'kettle-coast-'));
const use = useServer({ demo: false, roots: allowed });
let page: Page;
let project = '';

beforeAll(async () => {
	for (const file of COAST) {
		const full = join(allowed, 'coast', file.path);
		mkdirSync(dirname(full), { recursive: true });
		writeFileSync(full, bytesOf(file));
	}
	writeFileSync(join(allowed, 'coast.guide.yaml'), COAST_GUIDE);
	page = await openPage(use.browser);
	await page.goto(`${use.server.address}/?all`);
	await page.getByLabel('Folder that holds').fill(join(allowed, 'coast'));
	await page.getByRole('button', { name: 'Import', exact: true }).click();
	await page.waitForURL(/\/p\/[^/]+\//);
	project = new URL(page.url()).pathname.split('/')[2]!;
});
afterAll(() => rmSync(allowed, { recursive: true }));

/** Bytes that my mod has at a path; null where it has no such file. */
async function mine(path: string): Promise<Uint8Array | null> {
	const client = new pg.Client({ connectionString: use.server.url });
	await client.connect();
	const { rows } = await client.query(
		`select b.bytes from layer_files f join layers l on l.id = f.layer join blobs b on b.sha256 = f.sha256
		 where l.owner = 'me' and f.path = $1`,
		[path]
	);
	await client.end();
	return rows[0]?.bytes ?? null;
}

const address = (kind: string, record?: string) =>
	`${use.server.address}/p/${project}/tables/${kind}${record === undefined ? '' : `?ticket=${encodeURIComponent(`${kind}/${record}`)}`}`;

test.each(COAST)('$path: shown, edited, its record marked', async (file) => {
	await page.goto(address(file.kind));
	await page.getByRole('grid').getByText(file.record, { exact: true }).first().waitFor();
	await page.goto(address(file.kind, file.record));
	const ticket = page.getByTestId('ticket');
	await ticket.waitFor();
	if (file.remark) expect(await ticket.getByTestId('remark').innerText()).toContain(file.remark);

	const marked = async () => (await ticket.locator('[data-inside]').allInnerTexts()).join('\n');
	const before = file.text.split(/\r\n|\n/);
	expect(before).not.toContain(file.line);
	expect(await marked()).toContain(file.kind === 'station' ? 'Skerry light' : file.record.split('|').at(-1)!);

	await ticket
		.getByRole('button', { name: new RegExp(`^(${file.field.replace(/[[\]#.]/g, '\\$&')}).*Edit$`, 'i') })
		.click();
	const input = ticket.locator('input:focus, textarea:focus');
	await input.fill(file.value);
	await input.press('Enter');
	await page.getByText(/^Set /).first().waitFor();
	await expect.poll(marked).toContain(file.line.trim().replaceAll('\t', ' → '));

	const bytes = await mine(file.path);
	const text = file.encoding
		? iconv.decode(Buffer.from(bytes!), file.encoding)
		: new TextDecoder().decode(bytes!);
	const lines = text.split(/\r\n|\n/);
	expect(lines).toContain(file.line);
	// Where the game reads whole files, every other line is the base's.
	if (lines.length === before.length)
		expect(lines.filter((line, nth) => line !== before[nth])).toEqual([file.line]);
	else
		for (const line of lines)
			if (line !== file.line) expect(before.map((one) => one.trim())).toContain(line.trim());
});

test('a file whose letters are not sure says so, and can be read otherwise', async () => {
	await page.goto(`${use.server.address}/p/${project}/setup`);
	await page.getByText('data/spawns.lst').first().waitFor();
	await page.goto(`${use.server.address}/p/${project}/file/base/data/spawns.lst`);
	const choice = page.getByLabel('Encoding');
	await page.getByText('灯台の前').waitFor();
	await choice.selectOption('cp437');
	await page.getByText('Read as cp437').waitFor();
	await page.getByText('灯台の前').waitFor({ state: 'detached' });
	await choice.selectOption('utf-8');
	await page.getByText('not valid utf-8').waitFor();
	await choice.selectOption('');
	await page.getByText('灯台の前').waitFor();
});
