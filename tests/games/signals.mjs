// Signals: a made-up game of another make than the demo, with no field guide. Records of several types share lists and
// are told by a word in them, lamps are made from patterns, constants are after a mark, keepers are indented blocks,
// rounds are sections with a table, and words are pairs of lines. `node tests/games/signals.mjs DIR` writes it.
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { argv } from 'node:process';
import { pathToFileURL } from 'node:url';

/** @param {number} count */
const range = (count) => Array.from({ length: count }, (_, nth) => nth);
/** @param {unknown} value */
const json = (value) => `${JSON.stringify(value, null, '\t')}\n`;

const FIRST = ['Grey', 'Far', 'Lost', 'Salt', 'Slow', 'Bright', 'Hollow', 'Late'];
const SECOND = ['Gull', 'Reef', 'Bell', 'Tide', 'Stair', 'Sound', 'Skerry', 'Lamp'];
/** @param {number} nth */
const nameOf = (nth) => `${FIRST[nth % 8]} ${SECOND[Math.floor(nth / 8) % 8]}`;
/** @param {number} nth */
const slug = (nth) => nameOf(nth).toLowerCase().replace(' ', '_');

/** Lamps: two patterns, of which most inherit what they do not say. */
const lamps = [
	{ type: 'lamp', pattern: 'any_lamp', oil: 12, reach: 9, colour: 'white', beats: [2, 4] },
	{ type: 'lamp', pattern: 'any_red', of: 'any_lamp', colour: 'red', times: { reach: 0.5 } },
	...range(24).map((nth) => ({
		type: 'lamp',
		id: `lamp_${slug(nth)}`,
		title: nameOf(nth),
		...(nth % 3 === 0
			? { of: nth % 2 ? 'any_red' : 'any_lamp', plus: { reach: nth % 5 } }
			: {
					oil: 6 + (nth % 7),
					reach: 5 + (nth % 11),
					colour: ['white', 'red', 'green'][nth % 3],
					beats: [1 + (nth % 3), 5]
				})
	}))
];
const masts = range(40).map((nth) => ({
	type: 'mast',
	id: `mast_${slug(nth)}`,
	title: nameOf(nth),
	lamp: `lamp_${slug((nth * 5) % 24)}`,
	height: nth % 6 === 0 ? '@TALL' : 8 + (nth % 13),
	sees: [1, 2, 3].slice(0, 1 + (nth % 3)).map((step) => `mast_${slug((nth + step * 7) % 40)}`),
	stores: [
		['oil', 20 + nth],
		[nth % 2 ? 'rope' : 'flag_blue', 1 + (nth % 4)]
	]
}));
const goods = ['oil', 'rope', 'flag_blue', 'flag_red', 'wick', 'glass'].map((id, nth) => ({
	type: 'good',
	id,
	title: id.replace('_', ' '),
	weight: 1.5 * (nth + 1)
}));

/** @param {number} nth */
const idOf = (nth) => goods[nth % 6]?.id;

const keepers = range(30)
	.map((nth) =>
		[
			`keeper "Keeper ${nameOf(nth)}"`,
			`\tmast mast_${slug((nth * 3) % 40)}`,
			`\tage ${20 + ((nth * 7) % 45)}`,
			`\ttemper ${['brisk', 'mild', 'stern'][nth % 3]}`,
			...(nth % 2 ? [`\tcarries ${idOf(nth)} ${1 + (nth % 5)}`] : []),
			'\twatch',
			`\t\tfrom ${nth % 12}`,
			`\t\thours ${2 + (nth % 5)}`,
			''
		].join('\n')
	)
	.join('\n');

const rounds = range(18)
	.map((nth) =>
		[
			'[round]',
			`id = "round_${nth}"`,
			`boat = "${['tern', 'plover', 'knot'][nth % 3]}"`,
			`stops = "mast_${slug(nth)}", "mast_${slug((nth + 9) % 40)}", "mast_${slug((nth + 20) % 40)}"`,
			'load = { "good", "count"',
			`         "${idOf(nth)}", ${2 + nth}`,
			`         "${idOf(nth + 1)}", ${1 + nth}`,
			'       }',
			''
		].join('\n')
	)
	.join('\n');

const WORDS = { de: 'Das', fr: 'Le', es: 'El' };
/** @param {string} article */
const words = (article) =>
	range(40)
		.map((nth) => `${nameOf(nth)}\n${article} ${nameOf(nth).toLowerCase().split(' ').reverse().join(' ')}`)
		.join('\n');

/** The files of the game: path and text. */
export const signals = () => ({
	'game.json': json({ name: 'Signals', version: '3.1' }),
	'data/outer/lights.json': json([...lamps.slice(0, 14), ...masts.slice(0, 20)]),
	'data/inner/lights.json': json([...masts.slice(20), ...lamps.slice(14), ...goods]),
	'data/fixed.json': json({ fixed: { TALL: 31, SHORT: 6, NIGHT: 22, DAWN: 5 } }),
	'data/uses.json': json({ nightfall: { at: '@NIGHT' }, daybreak: { at: '@DAWN' }, jetty: { at: '@SHORT' } }),
	'people/keepers.txt': keepers,
	'data/rounds.rules': rounds,
	...Object.fromEntries(
		Object.entries(WORDS).map(([code, article]) => [`words/${code}.pairs`, `${words(article)}\n`])
	),
	'readme.txt': 'Signals\n\nSet the lamps before the fog comes in.\nNobody is to row out alone.\n'
});

/**
 * Writes the game into a folder.
 * @param {string} folder
 */
export function writeSignals(folder) {
	for (const [path, text] of Object.entries(signals())) {
		mkdirSync(dirname(join(folder, path)), { recursive: true });
		writeFileSync(join(folder, path), text);
	}
}

if (argv[1] && import.meta.url === pathToFileURL(argv[1]).href) {
	if (!argv[2]) {
		console.error('Usage: node tests/games/signals.mjs DIR');
		process.exit(2);
	}
	writeSignals(argv[2]);
	console.log(`The game is in ${argv[2]}.`);
}
