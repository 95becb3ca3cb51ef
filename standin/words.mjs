// What the stand-in's screen makes of texts that are there, but not as they should be: it draws them, and says so.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { roomOf, screenOf } from './screen.mjs';

/** @typedef {Map<string, { fields: Record<string, string> }>} Vessels */

/** What is put in for placeholders. @param {string} key @param {Vessels} vessels @returns {Record<string, string>} */
export function valuesFor(key, vessels) {
	const stem = key.replace(/\.[^.]*$/, '');
	const vessel = [...vessels.values()].find(({ fields }) => fields.words === stem);
	return { '%s': 'Kittiwake', '%d': '3', ...(vessel ? { '{speed}': vessel.fields.speed ?? '' } : {}) };
}

const MAIN = 'en';
/** Forms for numbers that a language has. */
const FORMS = /** @type {Record<string, string[]>} */ ({
	en: ['one', 'other'],
	de: ['one', 'other'],
	ja: ['other']
});
const count = (/** @type {string} */ text, /** @type {string} */ sign) => text.split(sign).length - 1;
const signs = (/** @type {string} */ text) => (text.match(/%[sd]|\{\w+\}/g) ?? []).sort().join(' ');
const marks = (/** @type {string} */ text) => (text.match(/\*\*|<\/?\w+>/g) ?? []).sort().join(' ');
const edges = (/** @type {string} */ text) => `${/^\s/.test(text)}${/\s$/.test(text)}`;
const curled = (/** @type {string} */ text) => text.replace(/(?<=\p{L})'(?=\p{L})/gu, '');

/**
 * Says what is drawn otherwise than it should be.
 * @param {{ folder: string, mods: string[], languages: string[], texts: Map<string, Map<string, string>>, places: Map<string, string>, asked: Set<string>,
 *   vessels: Vessels, say: (level: 'INFO' | 'WARN', place: string, message: string) => void }} game
 */
export function checkWords({ folder, mods, languages, texts, places, asked, vessels, say }) {
	const font = join(folder, 'ui/letters.txt');
	const letters = existsSync(font) ? new Set(readFileSync(font, 'utf8')) : null;
	const main = texts.get(MAIN) ?? new Map();
	const lower = new Map([...main.keys()].reverse().map((key) => [key.toLowerCase(), key]));
	for (const [language, all] of texts)
		for (const [key, text] of all) {
			const warn = (/** @type {string} */ message) =>
				say('WARN', places.get(`${language} ${key}`) ?? '', `text ${key} (${language}): ${message}`);
			const source = main.get(key);
			if (count(text, '**') % 2 === 1 || count(text, '<ice>') !== count(text, '</ice>'))
				warn('a mark is left open and drawn as it is written');
			if (letters) {
				const absent = [...new Set(text)].filter((char) => char > ' ' && !letters.has(char));
				if (absent.length > 0) warn(`drawn as boxes: ${absent.join(' ')}`);
			}
			const room = roomOf(key);
			if (room.rows !== null && screenOf(text, room, valuesFor(key, vessels)).cut) warn('it is cut off');
			if (/["']/.test(curled(text))) warn('straight quotes');
			const form = /^(.*)\.(zero|one|two|few|many|other)$/.exec(key);
			if (form && form[2] === 'other')
				for (const one of FORMS[language] ?? [])
					if (!all.has(`${form[1]}.${one}`)) warn(`there is no form “${one}”`);
			// The game's own keys are read first.
			const other = lower.get(key.toLowerCase());
			if (other !== undefined && other !== key && !asked.has(key))
				warn(`nothing asks for it; the game knows ${other}`);
			if (language === MAIN || source === undefined) continue;
			if (signs(text) !== signs(source)) warn('other placeholders than in en');
			if (marks(text) !== marks(source)) warn('other marks than in en');
			if (edges(text) !== edges(source)) warn('other spaces around it than in en');
			if (text === source && /\p{L}/u.test(text) && places.get(`${language} ${key}`)?.startsWith('mods/'))
				say('INFO', places.get(`${language} ${key}`) ?? '', `text ${key} (${language}): it is as in en`);
		}
	for (const mod of mods) {
		const at = join(folder, 'mods', mod, 'words');
		if (!existsSync(at)) continue;
		for (const name of readdirSync(at)) {
			if (!languages.includes(name))
				say('WARN', `mods/${mod}/words/${name}:1`, `there is no language ${name}`);
			for (const file of readdirSync(join(at, name))) {
				const said = /"Language: (\w+)/.exec(
					file.endsWith('.po') ? readFileSync(join(at, name, file), 'utf8') : ''
				);
				if (said && said[1] !== name)
					say(
						'WARN',
						`mods/${mod}/words/${name}/${file}:1`,
						`it says that it is in ${said[1]}, and is read as ${name}`
					);
			}
		}
	}
}
