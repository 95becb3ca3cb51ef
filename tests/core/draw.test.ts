import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import * as fontkit from 'fontkit';
import { parseFragment, type DefaultTreeAdapterTypes } from 'parse5';
import { afterAll, describe, expect, it } from 'vitest';
import { parseGuide } from '$core/guide';
import { drawn, drawnText, lookOf } from '$core/words';
import widths from '$core/words/font-widths.json' with { type: 'json' };
import { widthsOf } from '../../scripts/font-widths.mjs';
import { fontFiles } from '../../scripts/fonts.mjs';

const folder = mkdtempSync(join(tmpdir(), 'kettle-screen-'));
afterAll(() => rmSync(folder, { recursive: true }));
const guide = parseGuide(readFileSync('demo/base.guide.yaml', 'utf8'));
const about = guide.kinds.vessel!.texts.find(({ label }) => label === 'About');

/** Texts with all that the game draws in its own way, and with marks that are left open. */
const part = fc.oneof(
	{
		weight: 6,
		arbitrary: fc.constantFrom(
			'ice',
			'tern',
			'of',
			'a',
			'lighthouse-keeper',
			'Ärger',
			'灯台',
			'の',
			'氷。',
			'x'.repeat(40)
		)
	},
	{ weight: 6, arbitrary: fc.constantFrom(' ', ' ', '  ') },
	{
		weight: 1,
		arbitrary: fc.constantFrom(
			'\n',
			'<br>',
			'<anchor>',
			'||',
			'**',
			'<ice>',
			'</ice>',
			'%s',
			'%d',
			'%',
			'{speed}',
			'{',
			'<b>',
			'&',
			'"'
		)
	}
);
const nested = fc.letrec<{ text: string; piece: string }>((tie) => ({
	text: fc.array(tie('piece'), { maxLength: 14 }).map((parts) => parts.join('')),
	piece: fc.oneof(
		{ maxDepth: 3, withCrossShrink: true },
		{ weight: 6, arbitrary: part },
		{ weight: 1, arbitrary: tie('text').map((text) => `**${text}**`) },
		{ weight: 1, arbitrary: tie('text').map((text) => `<ice>${text}</ice>`) }
	)
})).text;

type Cell = { text: string; bold: boolean; ice: boolean };

/** The letters of a screen in HTML, line by line. */
function cellsOf(node: DefaultTreeAdapterTypes.Node, look = ''): Cell[] {
	if ('value' in node && node.nodeName === '#text')
		return [...node.value].map((text) => ({ text, bold: look.includes('b'), ice: look.includes('ice') }));
	const own = 'attrs' in node ? (node.attrs.find(({ name }) => name === 'class')?.value ?? '') : '';
	return 'childNodes' in node ? node.childNodes.flatMap((child) => cellsOf(child, `${look} ${own}`)) : [];
}

describe('a text as the game draws it', () => {
	it('is on the page what the game writes on its screen, as text and as HTML, for 500 random texts', () => {
		const texts = fc.sample(
			nested.filter((text) => text.trim() === text),
			{ numRuns: 500, seed: 8 }
		);
		const game = join(folder, 'game');
		cpSync('demo/base', game, { recursive: true });
		mkdirSync(join(game, 'mods/screens/words/en'), { recursive: true });
		writeFileSync(join(game, 'load-order.json'), '{"mods":["screens"]}');
		writeFileSync(
			join(game, 'mods/screens/mod.json'),
			readFileSync('demo/longline/mod.json', 'utf8')
				.replace(/"longline"/, '"screens"')
				.replace(/"after":\s*\[[^\]]*\]/, '"after": []')
		);
		// Half of them are drawn in the room of a vessel's text, with its speed; the others have all the room there is.
		const keyOf = (nth: number) => (nth % 2 === 0 ? `vessel.barge_01.${nth}.about` : `log.screen.${nth}`);
		const escaped = (text: string) => text.replace(/[\\\n]/g, (sign) => (sign === '\n' ? '\\n' : '\\\\'));
		writeFileSync(
			join(game, 'mods/screens/words/en/screens.properties'),
			texts.map((text, nth) => `${keyOf(nth)}=${escaped(text)}\n`).join('')
		);
		const show = (...how: string[]) =>
			execFileSync('node', ['standin/gannet.mjs', game, 'show', 'en', ...how], {
				encoding: 'utf8',
				maxBuffer: 1e8
			});
		const [plain, html] = [show(), parseFragment(show('--html'))];
		const byKey = new Map(
			plain
				.split(/^# /m)
				.slice(1)
				.map((one): [string, string] => {
					const [key = '', ...lines] = one.trimEnd().split('\n');
					return [key, lines.map((line) => line.slice(2)).join('\n')];
				})
		);
		const sections = new Map(
			html.childNodes.flatMap((node) =>
				'attrs' in node ? [[node.attrs[0]!.value, node.childNodes.map((line) => cellsOf(line))] as const] : []
			)
		);
		let [cut, styled] = [0, 0];
		for (const [nth, text] of texts.entries()) {
			const look = lookOf(guide, nth % 2 === 0 ? about : undefined, () => undefined);
			const mine = drawn(text, look);
			const trimmed = (said: string | undefined) => said?.replace(/ +$/gm, '').trimEnd();
			expect(trimmed(drawnText(mine)), text).toBe(trimmed(byKey.get(keyOf(nth))));
			const cells = mine.lines.map((line) =>
				line.flatMap(({ text, shows, colour }) =>
					[...text].map((one): Cell => ({
						text: one,
						bold: shows.includes('strong'),
						ice: colour !== undefined
					}))
				)
			);
			expect(cells, text).toEqual(sections.get(keyOf(nth)));
			if (mine.cut) cut++;
			if (cells.flat().some(({ bold, ice }) => bold && ice)) styled++;
		}
		expect(cut).toBeGreaterThan(20);
		expect(styled).toBeGreaterThan(20);
	});

	it('takes the values of the record that it is of', () => {
		const look = lookOf(guide, about, (field) => (field === 'speed' ? '12' : undefined));
		expect(drawnText(drawn('Makes {speed} kn for %s.', look))).toBe('Makes 12 kn for Kittiwake.');
	});

	it('measures pixels as the font itself does', () => {
		for (const [font, files] of Object.entries(fontFiles)) {
			expect(widths[font as 'sans']).toEqual(widthsOf(files));
			const loaded = fontkit.create(readFileSync(files[0]!)) as fontkit.Font;
			const text = 'Goes out when the others come in, and brings home what they left.';
			const width = (part: string) =>
				[...part].reduce(
					(sum, letter) =>
						sum + (12 * loaded.glyphForCodePoint(letter.codePointAt(0)!).advanceWidth) / loaded.unitsPerEm,
					0
				);
			const { lines } = drawn(text, {
				...lookOf(guide),
				width: { pixels: 120, size: 12, font: font as 'sans' }
			});
			expect(lines.length).toBeGreaterThan(2);
			const said = lines.map((line) => line.map((piece) => piece.text).join(''));
			for (const [nth, line] of said.entries()) {
				expect(width(line)).toBeLessThanOrEqual(120);
				const next = said[nth + 1]?.split(' ')[0];
				if (next !== undefined) expect(width(`${line} ${next}`)).toBeGreaterThan(120);
			}
			expect(said.join(' ')).toBe(text);
		}
	});

	it('cuts off with the mark of the game, within the room', () => {
		const look = { ...lookOf(guide), width: 10, lines: 1, cut: '…' };
		expect(drawnText(drawn('Grey Gate calls', look))).toBe('Grey Gate…');
		expect(drawn('Grey Gate', look).cut).toBe(false);
		expect(drawnText(drawn('灯台守の長い夜', look))).toBe('灯台守の…');
		expect(drawnText(drawn('one\ntwo', { ...look, width: null }))).toBe('one…');
	});

	it('draws a long text in a time that grows with its length', () => {
		const look = { ...lookOf(guide, about), lines: null };
		const text = 'tern and gull '.repeat(20_000);
		expect(drawn(text, look).lines.length).toBeGreaterThan(7000);
	});
});
