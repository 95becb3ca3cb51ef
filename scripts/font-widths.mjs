// Writes how wide the letters of the fonts that ship with the application are: src/lib/core/words/font-widths.json.
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import * as fontkit from 'fontkit';
import { fontFiles } from './fonts.mjs';

/** @param {string} file */
const fontIn = (file) => /** @type {fontkit.Font} */ (fontkit.create(readFileSync(file)));

/** The widths of the letters of a font. @param {string[]} files @returns {{ unit: number, advances: Record<string, number> }} */
export function widthsOf(files) {
	/** @type {Record<string, number>} */
	const advances = {};
	let unit = 1000;
	for (const font of files.map(fontIn)) {
		unit = font.unitsPerEm;
		for (const point of font.characterSet) {
			const letter = String.fromCodePoint(point);
			if (point >= 0x20 && point < 0x2200 && !(letter in advances))
				advances[letter] = font.glyphForCodePoint(point).advanceWidth;
		}
	}
	return { unit, advances };
}

if (process.argv[1] === fileURLToPath(import.meta.url))
	writeFileSync(
		'src/lib/core/words/font-widths.json',
		`${JSON.stringify(Object.fromEntries(Object.entries(fontFiles).map(([name, files]) => [name, widthsOf(files)])))}\n`
	);
