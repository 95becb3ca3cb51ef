// Loads the game's data and the mods in load order, as strictly as a game would, and says what it did not take.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { checkWords } from './words.mjs';
import { loadScripts, loadWorld } from './world.mjs';
import {
	Fault,
	readElements,
	readMessages,
	readRules,
	readSections,
	readTable,
	readTexts
} from './readers.mjs';

/** @typedef {{ id: string, place: string, fields: Record<string, string> }} Thing */
/** @typedef {{ level: 'INFO' | 'WARN' | 'DROPPED' | 'REFUSED', place: string, message: string }} Line */

const COLUMNS =
	'id grade hull speed tow seats draft flags engine deck hull_gear bridge upgrade upgrade_alt art words'.split(
		' '
	);
const WHOLE = /** @type {Record<string, [number, number]>} */ ({
	grade: [1, 5],
	hull: [1, 400],
	speed: [1, 40],
	tow: [0, 120],
	seats: [0, 60],
	flags: [0, 255]
});
const RULES = [
	'turns_per_day',
	'calls_per_day',
	'storm_calls',
	'fuel_reserve',
	'tow_penalty',
	'noise_limit',
	'stations_max',
	'crew_rest',
	'ice_from'
];
const MOST_VESSELS = 128;
const LONGEST_ID = 16;
const MOST_STATIONS = 12;
const LONGEST_SHORT = 12;

/** @param {string} value @param {number} low @param {number} high @param {boolean} whole */
function numberFault(value, low, high, whole) {
	if (!(whole ? /^[-+]?\d+$/ : /^[-+]?\d+(\.\d+)?$/).test(value))
		return `"${value}" is not a ${whole ? 'whole ' : ''}number`;
	return Number(value) < low || Number(value) > high ? `${value} is outside ${low} to ${high}` : null;
}

/** One load of the game in a folder. @param {string} folder */
export function loadGame(folder) {
	/** @type {Line[]} */
	const log = [];
	const say = (
		/** @type {Line['level']} */ level,
		/** @type {string} */ place,
		/** @type {string} */ message
	) => log.push({ level, place, message });
	const read = (/** @type {string} */ path) => readFileSync(join(folder, path), 'utf8');

	/** Runs a reader; a fault refuses the whole file. @template T @param {string} path @param {(text: string) => T} reader @returns {T | null} */
	const take = (path, reader) => {
		try {
			return reader(read(path));
		} catch (error) {
			if (!(error instanceof Fault)) throw error;
			say('REFUSED', `${path}:${error.line}`, error.message);
			return null;
		}
	};

	const game = JSON.parse(read('game.json'));
	const mods = modsOf(folder, game.version, say);
	/** Every layer's path of one file, the game's own first. */
	const layered = (/** @type {string} */ path) =>
		[path, ...mods.map((mod) => `mods/${mod}/${path}`)].filter((at) => existsSync(join(folder, at)));
	/** The last one that exists: for files that are replaced whole. */
	const whole = (/** @type {string} */ path) => /** @type {string} */ (layered(path).at(-1));

	/** Merges things by id over all layers. @param {string} path @param {(text: string) => (Thing & { line: number })[]} reader @param {string} what */
	const merged = (path, reader, what) => {
		/** @type {Map<string, Thing>} */
		const all = new Map();
		for (const at of layered(path)) {
			const seen = new Set();
			for (const thing of take(at, reader) ?? []) {
				const place = `${at}:${thing.line}`;
				if (seen.has(thing.id)) say('DROPPED', place, `${what} ${thing.id}: its id is there twice`);
				else if (thing.id === '' || thing.id.length > LONGEST_ID)
					say('DROPPED', place, `${what} "${thing.id}": an id has 1 to ${LONGEST_ID} characters`);
				else {
					seen.add(thing.id);
					all.set(thing.id, { ...thing, place });
				}
			}
		}
		return all;
	};

	const { texts, places } = loadTexts(folder, mods, game.languages, take, say);
	const rules = take(whole('data/rules.lua'), readRules);
	for (const name of RULES)
		if (rules && !(name in rules))
			say('REFUSED', `${whole('data/rules.lua')}:1`, `the rule ${name} is missing`);

	if (rules && (rules.stations_max ?? 0) > MOST_STATIONS)
		say('REFUSED', `${whole('data/rules.lua')}:1`, `stations_max is above ${MOST_STATIONS}`);

	const engines = merged(
		'data/engines.ini',
		(text) => readSections(text).map((section) => ({ ...section, place: '' })),
		'engine'
	);
	/** @type {Record<string, Map<string, Thing>>} */
	const gear = {};
	for (const slot of ['deck', 'hull', 'bridge'])
		gear[slot] = merged(
			`data/gear/${slot}.xml`,
			(text) => {
				const root = readElements(text);
				if (root.name !== 'gear' || root.attributes.slot !== slot)
					throw new Fault(root.line, `the root must be <gear slot="${slot}">`);
				return root.children.map((piece) => {
					if (piece.name !== 'piece') throw new Fault(piece.line, `<${piece.name}> is not a piece`);
					for (const effect of piece.children)
						if (
							effect.name !== 'effect' ||
							!effect.attributes.on ||
							!/^-?\d+$/.test(effect.attributes.add ?? '')
						)
							throw new Fault(effect.line, 'an effect needs “on” and a whole “add”');
					return {
						id: piece.attributes.id ?? '',
						line: piece.line,
						place: '',
						fields: {
							...piece.attributes,
							effects: JSON.stringify(piece.children.map((effect) => effect.attributes))
						}
					};
				});
			},
			`${slot} gear`
		);
	const vessels = merged(
		'data/vessels.tsv',
		(text) => readTable(text, COLUMNS).map((row) => ({ ...row, place: '', id: row.fields.id ?? '' })),
		'vessel'
	);

	// Names are checked against what the files hold, so that one fault gives one line and not one for each that leans on it.
	const all = (/** @type {Map<string, Thing> | undefined} */ things) => new Set(things?.keys() ?? []);
	const ids = {
		vessels: all(vessels),
		engines: all(engines),
		deck: all(gear.deck),
		hull: all(gear.hull),
		bridge: all(gear.bridge)
	};
	/** Keys of texts that something asks for. @type {Set<string>} */
	const asked = new Set();
	const named = (/** @type {string} */ key) => {
		asked.add(key);
		const absent = game.languages.filter((/** @type {string} */ language) => !texts.get(language)?.get(key));
		return absent.length === 0 ? null : `no text ${key} (${absent.join(', ')})`;
	};
	/** Drops what has a fault. @param {Map<string, Thing>} things @param {string} what @param {(thing: Thing) => (string | null)[]} faults */
	const sieve = (things, what, faults) => {
		for (const thing of [...things.values()]) {
			const found = faults(thing).filter((fault) => fault !== null);
			for (const fault of found) say('DROPPED', thing.place, `${what} ${thing.id}: ${fault}`);
			if (found.length > 0) things.delete(thing.id);
		}
	};
	const within = (
		/** @type {Thing} */ thing,
		/** @type {string} */ field,
		/** @type {number} */ low,
		/** @type {number} */ high,
		whole = true
	) => {
		const fault = numberFault(thing.fields[field] ?? '', low, high, whole);
		return fault && `${field} ${fault}`;
	};
	sieve(engines, 'engine', (engine) => [
		within(engine, 'power', 1, 4000),
		within(engine, 'fuel', 0, 999, false),
		within(engine, game.version >= '1.5' ? 'cold_start' : 'coldest', -40, 20),
		within(engine, 'noise', 0, 120),
		named(`engine.${engine.id}.name`)
	]);
	for (const [slot, pieces] of Object.entries(gear))
		sieve(pieces, `${slot} gear`, (piece) => [
			within(piece, 'weight', 0, 20, false),
			within(piece, 'cost', 0, 9999),
			named(`${piece.fields.words}.name`)
		]);
	const rows = vessels.size;
	if (rows > MOST_VESSELS)
		say(
			'REFUSED',
			/** @type {Thing} */ ([...vessels.values()][MOST_VESSELS]).place,
			`${rows} vessels; there is room for ${MOST_VESSELS}`
		);
	const names = (
		/** @type {Thing} */ vessel,
		/** @type {string} */ field,
		/** @type {{ has(id: string): boolean }} */ where,
		/** @type {string} */ what,
		required = false
	) => {
		const id = vessel.fields[field] ?? '';
		if ((id === '' || id === '-') && !required) return null;
		return where.has(id) ? null : `${what} "${id}" is not known`;
	};
	/** Numbers that are written more exactly than they are kept. */
	const exact = (
		/** @type {Map<string, Thing>} */ things,
		/** @type {string} */ what,
		/** @type {string} */ field,
		/** @type {number} */ most
	) => {
		for (const { id, place, fields } of things.values())
			if ((/\.(\d*?)0*$/.exec(fields[field] ?? '')?.[1]?.length ?? 0) > most)
				say('WARN', place, `${what} ${id}: ${field} is cut to ${most} decimals`);
	};
	exact(vessels, 'vessel', 'draft', 2);
	exact(engines, 'engine', 'fuel', 1);
	for (const [slot, pieces] of Object.entries(gear)) exact(pieces, `${slot} gear`, 'weight', 2);
	sieve(vessels, 'vessel', (vessel) => [
		...Object.entries(WHOLE).map(([field, [low, high]]) => within(vessel, field, low, high)),
		within(vessel, 'draft', 0.2, 9, false),
		names(vessel, 'engine', ids.engines, 'engine', true),
		names(vessel, 'deck', ids.deck, 'deck gear'),
		names(vessel, 'hull_gear', ids.hull, 'hull gear'),
		names(vessel, 'bridge', ids.bridge, 'bridge gear'),
		names(vessel, 'upgrade', ids.vessels, 'upgrade'),
		names(vessel, 'upgrade_alt', ids.vessels, 'upgrade'),
		vessel.fields.words ? named(`${vessel.fields.words}.name`) : 'no text key'
	]);
	for (const [slot, pieces] of Object.entries(gear)) {
		const second = take(whole(`data/gear/cold/${slot}.xml`), readElements)?.children ?? [];
		for (const piece of pieces.values()) {
			const other = second.find(({ attributes }) => attributes.id === piece.id);
			const effects = JSON.stringify(other?.children.map((effect) => effect.attributes));
			const alike =
				other &&
				effects === piece.fields.effects &&
				other.attributes.weight === piece.fields.weight &&
				other.attributes.words === piece.fields.words;
			if (!alike) say('WARN', piece.place, `${slot} gear ${piece.id} is another one in the second winter`);
		}
	}
	for (const [id, to] of upgradeCircles(vessels))
		say('WARN', vessels.get(id)?.place ?? '', `vessel ${id}: its upgrades lead back to ${to}`);
	const world = loadWorld({ folder, mods, take, say, named, ids });
	loadScripts({
		folder,
		mods,
		read,
		say,
		known: {
			omen: (id) => world.omens.has(id),
			role: (id) => world.roles.has(id),
			vessel: (id) => ids.vessels.has(id),
			text: (id) => game.languages.some((/** @type {string} */ language) => texts.get(language)?.has(id))
		}
	});
	checkWords({ folder, mods, languages: game.languages, texts, places, asked, vessels, say });
	saySpoiled(mods, folder, say);
	for (const root of ['', ...mods.map((mod) => `mods/${mod}/`)]) {
		checkDigests(folder, root, say);
		if (root !== '') checkMade(folder, root, say);
	}
	const clean = !log.some((line) => line.level === 'DROPPED' || line.level === 'REFUSED');
	return { log, clean, mods, vessels, engines, gear, texts, rules, world };
}

/** Vessels whose upgrades lead back to one that leads to them. @param {Map<string, Thing>} vessels @returns {[string, string][]} */
function upgradeCircles(vessels) {
	/** @type {[string, string][]} */
	const circles = [];
	const state = new Map();
	const visit = (/** @type {string} */ id) => {
		state.set(id, 'open');
		for (const field of ['upgrade', 'upgrade_alt']) {
			const to = vessels.get(id)?.fields[field] ?? '';
			if (!vessels.has(to)) continue;
			if (state.get(to) === 'open') circles.push([id, to]);
			else if (!state.has(to)) visit(to);
		}
		state.set(id, 'done');
	};
	for (const id of vessels.keys()) if (!state.has(id)) visit(id);
	return circles;
}

/** The mods to load, in order. @param {string} folder @param {string} version @param {(level: Line['level'], place: string, message: string) => void} say */
function modsOf(folder, version, say) {
	const order = existsSync(join(folder, 'load-order.json'))
		? JSON.parse(readFileSync(join(folder, 'load-order.json'), 'utf8')).mods
		: [];
	return /** @type {string[]} */ (order).filter((mod, at) => {
		const path = `mods/${mod}/mod.json`;
		try {
			const identity = JSON.parse(readFileSync(join(folder, path), 'utf8'));
			if (identity.name !== mod) throw new Error(`it calls itself "${identity.name}"`);
			for (const needed of identity.requires ?? [])
				if (!order.slice(0, at).includes(needed))
					throw new Error(
						order.includes(needed) ? `it needs "${needed}", which is loaded later` : `it needs "${needed}"`
					);
			const enemy = (identity.notWith ?? []).find((/** @type {string} */ other) => order.includes(other));
			if (enemy !== undefined) throw new Error(`it does not work together with "${enemy}"`);
			for (const other of identity.after ?? [])
				if (order.indexOf(other) > at) say('WARN', `${path}:1`, `"${other}" should be loaded before it`);
			if (identity.gameVersion !== version)
				say('WARN', `${path}:1`, `made for version ${identity.gameVersion}; this is ${version}`);
			return true;
		} catch (error) {
			say('REFUSED', `${path}:1`, `the mod is not loaded: ${error instanceof Error ? error.message : error}`);
			return false;
		}
	});
}

/**
 * All texts by language and key. A mod's file of the same path stands in for the game's; others add.
 * @param {string} folder @param {string[]} mods @param {string[]} languages
 * @param {<T>(path: string, reader: (text: string) => T) => T | null} take
 * @param {(level: Line['level'], place: string, message: string) => void} say
 */
function loadTexts(folder, mods, languages, take, say) {
	/** @type {Map<string, Map<string, string>>} */
	const texts = new Map();
	/** @type {Map<string, string>} where a text stands, by `language key` */
	const places = new Map();
	for (const language of languages) {
		/** @type {Map<string, string>} */
		const found = new Map();
		/** @type {Map<string, string>} */
		const files = new Map();
		for (const root of ['', ...mods.map((mod) => `mods/${mod}/`)]) {
			const at = join(folder, root, 'words', language);
			if (!existsSync(at) || !statSync(at).isDirectory()) continue;
			for (const name of readdirSync(at).sort())
				if (/\.(properties|po)$/.test(name)) {
					files.delete(name);
					files.set(name, `${root}words/${language}/${name}`);
				}
		}
		for (const path of files.values()) {
			const seen = new Set();
			for (const { line, key, text } of take(path, path.endsWith('.po') ? readMessages : readTexts) ?? []) {
				if (seen.has(key)) say('DROPPED', `${path}:${line}`, `text ${key}: its key is there twice`);
				else if (key.endsWith('.short') && (text.includes('\n') || [...text].length > LONGEST_SHORT))
					say('DROPPED', `${path}:${line}`, `text ${key}: one line of ${LONGEST_SHORT} letters at most`);
				else {
					found.set(key, text);
					places.set(`${language} ${key}`, `${path}:${line}`);
				}
				seen.add(key);
			}
		}
		texts.set(language, found);
	}
	return { texts, places };
}

/** What the game goes on without because of a mod. @param {string[]} mods @param {string} folder @param {(level: Line['level'], place: string, message: string) => void} say */
function saySpoiled(mods, folder, say) {
	const spoils = {
		'data/rules.lua': 'other rules; no honours are kept',
		'client/modes.json': 'other modes; network games need the same on both ends',
		'server/modes.json': 'other modes; network games need the same on both ends'
	};
	for (const mod of mods)
		for (const [path, message] of Object.entries(spoils))
			if (existsSync(join(folder, 'mods', mod, path))) say('INFO', `mods/${mod}/${path}:1`, message);
}

/** A roster that does not list the mod's own vessels, and a seal of another state: the game goes on. @param {string} folder @param {string} root of a mod @param {(level: Line['level'], place: string, message: string) => void} say */
function checkMade(folder, root, say) {
	const at = (/** @type {string} */ path) => join(folder, root, path);
	if (existsSync(at('roster.txt'))) {
		const rows = existsSync(at('data/vessels.tsv')) ? readFileSync(at('data/vessels.tsv'), 'utf8') : '';
		const vessels = rows
			.split(/\r?\n/)
			.slice(1)
			.map((row) => row.split('\t')[0])
			.filter((id) => id && !id.startsWith('#'));
		const listed = readFileSync(at('roster.txt'), 'utf8')
			.split('\n')
			.map((line) => line.split(' ')[0])
			.filter((id) => id);
		if (vessels.slice().sort().join() !== listed.slice().sort().join())
			say('WARN', `${root}roster.txt:1`, 'the roster does not list the vessels of this mod');
	}
	if (!existsSync(at('seal.txt'))) return;
	const files = existsSync(at('data'))
		? readdirSync(at('data'), { recursive: true })
				.map((name) => at(`data/${name}`))
				.filter((path) => statSync(path).isFile())
		: [];
	let sum = 0;
	for (const path of files) for (const byte of readFileSync(path)) sum += byte;
	if (readFileSync(at('seal.txt'), 'utf8').trim() !== `${files.length} ${sum}`)
		say('WARN', `${root}seal.txt:1`, 'the seal is broken: this copy of the mod may be cut short');
}

/** Files that are not as their maker lists them: the game goes on, but keeps no honours. @param {string} folder @param {string} root the game's own, or that of a mod that brings such a list @param {(level: Line['level'], place: string, message: string) => void} say */
function checkDigests(folder, root, say) {
	if (!existsSync(join(folder, root, 'digests.txt'))) return;
	readFileSync(join(folder, root, 'digests.txt'), 'utf8')
		.split('\n')
		.forEach((line, at) => {
			const [digest, path] = line.split('  ');
			if (!digest || !path) return;
			const file = join(folder, root, path);
			const now = existsSync(file) ? createHash('sha256').update(readFileSync(file)).digest('hex') : 'absent';
			if (now !== digest)
				say('WARN', `${root}digests.txt:${at + 1}`, `${path} is not the maker's; no honours are kept`);
		});
}
