// Draws the house: its storeys and the rooms of the core, with an arrow from each to what it imports. Made from the
// imports of the files, so that it is true; `npm run house` writes docs/house.svg, and a test makes it again and compares.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join, posix } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ROOMS } from './rooms.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));

/** Storeys from the top, with the folder of each. */
const STOREYS = /** @type {const} */ ([
	['routes', 'src/routes'],
	['ui', 'src/lib/ui'],
	['server', 'src/lib/server'],
	['command', 'cli'],
	['files', 'src/lib/files']
]);

const ALIASES = { $core: 'src/lib/core', $ui: 'src/lib/ui', $lib: 'src/lib' };

/** The room or storey that a path of the project is in; null for none. @param {string} path */
function placeOf(path) {
	const room = /^src\/lib\/core\/([a-z]+)(?:\/|$)/.exec(path)?.[1];
	if (room) return room;
	return STOREYS.find(([, folder]) => path === folder || path.startsWith(`${folder}/`))?.[0] ?? null;
}

/** Every file below a folder that may import. @param {string} folder @returns {string[]} */
const filesBelow = (folder) =>
	readdirSync(join(root, folder), { recursive: true })
		.map((name) => posix.join(folder, String(name).replaceAll('\\', '/')))
		.filter((name) => /\.(ts|svelte)$/.test(name) && !name.endsWith('.d.ts'))
		.sort();

/** Where an import leads, as a path of the project; null for a package. @param {string} from @param {string} said */
function leadsTo(from, said) {
	if (said.startsWith('.')) return posix.join(dirname(from), said);
	for (const [alias, folder] of Object.entries(ALIASES))
		if (said === alias || said.startsWith(`${alias}/`)) return folder + said.slice(alias.length);
	return null;
}

/** Who imports whom, and how often. @returns {Map<string, Map<string, number>>} */
export function imports() {
	/** @type {Map<string, Map<string, number>>} */
	const found = new Map();
	for (const file of [...STOREYS.map(([, folder]) => folder), 'src/lib/core'].flatMap(filesBelow)) {
		const from = placeOf(file);
		if (from === null) continue;
		for (const [, said] of readFileSync(join(root, file), 'utf8').matchAll(/\bfrom\s+'([^']+)'/g)) {
			const path = leadsTo(file, said ?? '');
			const to = path === null ? null : placeOf(path);
			if (to === null || to === from) continue;
			const own = found.get(from) ?? new Map();
			found.set(from, own);
			own.set(to, (own.get(to) ?? 0) + 1);
		}
	}
	return found;
}

const WIDTH = 1120;
/** Storeys stand left and right of the rooms, so that no arrow runs through one. */
const HEAD = { top: 24, height: 36, width: 110, lefts: [20, 150, 280, 850, 980] };
const ROOM = { top: 120, height: 26, step: 40, left: 470, width: 140 };

/** The picture, as SVG. @returns {string} */
export function picture() {
	const arrows = imports();
	/** @type {Map<string, { x: number, y: number, width: number, height: number }>} */
	const boxes = new Map();
	STOREYS.forEach(([name], at) =>
		boxes.set(name, {
			x: HEAD.lefts[at] ?? 0,
			y: HEAD.top,
			width: HEAD.width,
			height: HEAD.height
		})
	);
	// The rooms from the one that knows most to the one that knows nothing: arrows go down.
	[...ROOMS].reverse().forEach((name, at) =>
		boxes.set(name, {
			x: ROOM.left,
			y: ROOM.top + at * ROOM.step,
			width: ROOM.width,
			height: ROOM.height
		})
	);
	const height = ROOM.top + ROOMS.length * ROOM.step + 20;
	const storeys = new Set(STOREYS.map(([name]) => /** @type {string} */ (name)));
	const lines = [];
	for (const [from, targets] of [...arrows].sort(([a], [b]) => (a < b ? -1 : 1)))
		for (const [to, count] of [...targets].sort(([a], [b]) => (a < b ? -1 : 1))) {
			const [a, b] = [boxes.get(from), boxes.get(to)];
			if (!a || !b) continue;
			// Three widths: one import more or less does not make it another picture.
			const weight = count < 4 ? 0.8 : count < 16 ? 1.6 : 3;
			const title = `<title>${from} imports ${to}</title>`;
			let path;
			if (storeys.has(from) && storeys.has(to)) {
				// From storey to storey: a bow above them.
				const [x1, x2] = [a.x + a.width / 2, b.x + b.width / 2];
				path = `M${x1} ${a.y} C${x1} ${a.y - 18} ${x2} ${a.y - 18} ${x2} ${b.y}`;
			} else if (storeys.has(from)) {
				// From a storey into the core: down the left or the right of the rooms.
				const [x1, y1] = [a.x + a.width / 2, a.y + a.height];
				const left = x1 < ROOM.left + ROOM.width / 2;
				const x2 = left ? b.x : b.x + b.width;
				const y2 = b.y + b.height / 2;
				path = `M${x1} ${y1} C${x1} ${y2} ${x1} ${y2} ${x2} ${y2}`;
			} else {
				// Within the core: a bow at the right, the wider the farther.
				const [y1, y2] = [a.y + a.height / 2, b.y + b.height / 2];
				const x = a.x + a.width;
				const far = 18 + Math.abs(y2 - y1) * 0.36;
				path = `M${x} ${y1} C${(x + far).toFixed(0)} ${y1} ${(x + far).toFixed(0)} ${y2} ${x} ${y2}`;
			}
			lines.push(
				`<path d="${path}" stroke-width="${weight}" class="${storeys.has(from) ? 'down' : 'in'}">${title}</path>`
			);
		}
	const rooms = [...boxes].map(
		([name, { x, y, width, height: tall }]) =>
			`<rect x="${x}" y="${y}" width="${width}" height="${tall}" rx="3"/><text x="${x + width / 2}" y="${y + tall / 2 + 5}">${name}</text>`
	);
	return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${height}" width="${WIDTH}" height="${height}" role="img" aria-label="Storeys and rooms, and who imports whom">
<style>
svg { background: #fbfaf7; font: 14px system-ui, sans-serif; }
rect { fill: #fff; stroke: #55606b; }
text { text-anchor: middle; fill: #1f2933; }
path { fill: none; opacity: 0.55; }
.down { stroke: #7a8794; }
.in { stroke: #a8572f; }
.said { text-anchor: start; fill: #55606b; font-size: 12px; }
</style>
${lines.join('\n')}
${rooms.join('\n')}
<text class="said" x="20" y="${height - 26}">Grey: a storey imports a room.</text>
<text class="said" x="20" y="${height - 10}">Copper: a room imports one below it. Thicker: more often.</text>
</svg>
`;
}

if (process.argv[1] === fileURLToPath(import.meta.url))
	writeFileSync(join(root, 'docs/house.svg'), picture());
