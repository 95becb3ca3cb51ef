// `npm run bench words`: many texts in eight languages, as the page of all texts shows and changes them.
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { clock, inApp } from './app';
import { openBrowser } from './browser';
import { random } from './game';
import { median, most, ms, row } from './said';

const KEYS = Number(process.env.BENCH_KEYS ?? 100_000);
const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'pl', 'ja', 'ko'];
const FILES = 20;
const WORDS = 'quay boat harbour light rope stone water gate wind cargo the of and under beyond'.split(' ');

/** Each text names a thing, or is about it; of a hundred one is missing, and one lacks its placeholder. */
function textsOf(code: string, from: number, to: number): string {
	const next = random(from + code.charCodeAt(0) * 7 + code.charCodeAt(1));
	const lines: string[] = [];
	for (let at = from; at < to; at++) {
		const words = Array.from(
			{ length: 4 + Math.floor(next() * 9) },
			() => WORDS[Math.floor(next() * WORDS.length)]
		);
		const luck = next();
		if (code !== 'en' && luck < 0.01) continue;
		const value = code !== 'en' && luck < 0.02 ? '' : ' %d';
		lines.push(
			`thing.${at >> 1}.${at % 2 === 0 ? 'name' : 'about'}=${code} ${words.join(' ')}${at % 2 === 0 ? '' : value}`
		);
	}
	return `${lines.join('\n')}\n`;
}

const GUIDE = `guide: 1
words: { kind: text, main: en, languages: { ${LANGUAGES.map((code) => `${code}: ${code.toUpperCase()}`).join(', ')} } }
kinds:
  text: { title: Text, plural: Texts, files: ['text/{language}/*.properties'], write: 'text/{language}/{mod}.properties', merge: file }
  thing:
    title: Thing
    plural: Things
    files: [things.csv]
    key: id
    merge: record
    texts:
      - { label: Name, key: 'thing.{id}.name', name: true, width: 30, lines: 3 }
      - { label: About, key: 'thing.{id}.about' }
`;

await inApp('words', async ({ base, work, post, brought, opened }) => {
	const folder = join(work, 'words');
	for (const code of LANGUAGES) {
		mkdirSync(join(folder, 'text', code), { recursive: true });
		for (let nth = 0; nth < FILES; nth++)
			writeFileSync(
				join(folder, 'text', code, `part_${nth}.properties`),
				textsOf(code, (KEYS / FILES) * nth, (KEYS / FILES) * (nth + 1))
			);
	}
	writeFileSync(
		join(folder, 'things.csv'),
		`id,size\n${Array.from({ length: KEYS / 2 }, (_, at) => `${at},${at % 97}`).join('\n')}\n`
	);
	writeFileSync(`${folder}.guide.yaml`, GUIDE);
	const slug = await brought('words', folder);
	console.log(`${KEYS} keys in ${LANGUAGES.length} languages`);
	const words = `/p/${slug}/words`;
	row(
		'the page for the first time',
		`${ms(await clock(() => fetch(base + words).then((one) => one.text())))} ms`
	);
	const browser = await openBrowser();
	const empty = await opened(browser, `/p/${slug}/ledger`, 'h1');
	const rows = await opened(browser, words, '[role=rowheader]');
	row(
		'first rows after opening the page anew',
		`median ${ms(median(rows))} ms; the empty ledger ${ms(median(empty))} ms`,
		'under 400 ms'
	);
	const queries = [
		'where=DE+is+empty',
		'where=FR+is+unlike+EN',
		'where=ES+is+the+same+as+EN',
		'where=used+by+things&filter=harbour',
		'filter=thing.4711',
		'where=en+has+quay&where=pl+has+rope',
		'sort=-ja',
		'where=used+by+nothing'
	];
	const times: number[] = [];
	for (let round = 0; round < 2; round++)
		for (const query of queries) {
			const asked = `${base}/p/${slug}/api/rows/text?${query}${round === 0 ? '' : `&filter=${round}`}`;
			times.push(await clock(async () => (await fetch(asked)).json()));
		}
	row(
		'filter and sort, with HTTP',
		`median ${ms(median(times))} ms, slowest ${ms(most(times))} ms`,
		'under 150 ms'
	);
	const [plain, after]: [number[], number[]] = [[], []];
	for (let nth = 0; nth < 8; nth++) {
		const intention = {
			do: 'set',
			kind: 'text',
			id: `thing.${100 + nth}.name`,
			field: 'de',
			value: `de ${nth} %d`
		};
		const { message } = await post(`/p/${slug}/api/apply`, { intention });
		if (message) throw new Error(message);
		// The first page after an edit, whichever it is, waits for the state after it.
		plain.push(await clock(() => fetch(`${base}/p/${slug}/ledger`).then((one) => one.text())));
		after.push(await clock(() => fetch(base + words).then((one) => one.text())));
		await wait(500);
	}
	row(
		'the page with its coverage, after an edit',
		`median ${ms(median(after.slice(1)))} ms, first ${ms(after[0]!)} ms; the ledger ${ms(median(plain))} ms`,
		'under 300 ms'
	);
	const similar: number[] = [];
	for (let nth = 0; nth < 6; nth++)
		similar.push(
			await clock(async () =>
				(await fetch(`${base}/p/${slug}/api/words/similar?key=thing.${nth * 777}.about`)).json()
			)
		);
	row(
		'sentences translated before',
		`first ${ms(similar[0]!)} ms, then median ${ms(median(similar.slice(1)))} ms`
	);
	await browser.close();
});
