// Everything of the game beside vessels, engines and gear: crew, hazards, calls, places, omens, modes. Strict, as above.
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { patched } from './json-patch.mjs';
import { readCsv, readJson, readLuaTable, readNumbers, readOptions, readToml, readYaml } from './nested.mjs';
import { readControls, readElements } from './readers.mjs';

/** @typedef {import('./nested.mjs').Item} Item */
/** @typedef {Item & { at: string }} Placed */

const WHOLE = /^[-+]?\d+$/;
const NUMBER = /^[-+]?\d+(\.\d+)?$/;

/** @param {string} field @param {number} low @param {number} high @param {RegExp} [form] */
const within =
	(field, low, high, form = WHOLE) =>
	(/** @type {Item} */ { fields }) => {
		const value = fields[field] ?? '';
		if (!form.test(value)) return `${field} "${value}" is no ${form === WHOLE ? 'whole ' : ''}number`;
		return Number(value) < low || Number(value) > high
			? `${field} ${value} is outside ${low} to ${high}`
			: null;
	};
/** @param {string} field @param {(item: Item) => string | null} test */
const ifThere = (field, test) => (/** @type {Item} */ item) =>
	(item.fields[field] ?? '') === '' ? null : test(item);
const truth =
	(/** @type {string} */ field) =>
	(/** @type {Item} */ { fields }) =>
		/^(true|false|0|1|yes|no|on|off)$/i.test(fields[field] ?? '') ? null : `${field} is neither on nor off`;
const oneOf =
	(/** @type {string} */ field, /** @type {string[]} */ list) =>
	(/** @type {Item} */ { fields }) =>
		list.includes(fields[field] ?? '') ? null : `${field} "${fields[field] ?? ''}" is not known`;
const date =
	(/** @type {string} */ field) =>
	(/** @type {Item} */ { fields }) => {
		const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(fields[field] ?? '');
		const made = match && new Date(Date.UTC(Number(match[1]), Number(match[2]) - 1, Number(match[3])));
		return made && made.toISOString().startsWith(fields[field] ?? '') ? null : `${field} is no date`;
	};
const after =
	(/** @type {string} */ end, /** @type {string} */ start) =>
	(/** @type {Item} */ { fields }) => {
		const [a = '', b = ''] = [fields[end], fields[start]];
		if (a === '' || b === '') return null;
		const numbers = NUMBER.test(a) && NUMBER.test(b);
		const dates = /^\d{4}-\d\d-\d\d/.test(a) && /^\d{4}-\d\d-\d\d/.test(b);
		return (numbers && Number(a) < Number(b)) || (dates && a < b) ? `${end} lies before ${start}` : null;
	};
const names =
	(
		/** @type {string} */ field,
		/** @type {Set<string>} */ where,
		/** @type {(value: string) => string} */ bare = (value) => value
	) =>
	(/** @type {Item} */ { fields }) =>
		where.has(bare(fields[field] ?? '')) ? null : `${field} "${fields[field] ?? ''}" names nothing`;
const eachOf =
	(/** @type {string} */ list, /** @type {Set<string>} */ where) =>
	(/** @type {Item} */ { fields }) => {
		const wrong = Object.entries(fields).find(
			([path, value]) => path.startsWith(`${list}[`) && value !== '' && value !== '-' && !where.has(value)
		);
		return wrong ? `${wrong[0]} "${wrong[1]}" names nothing` : null;
	};

/**
 * Controls of all layers: a later one adds to the list or changes it by id, and takes out what is exactly as it says.
 * @param {{
 *   roots: string[],
 *   there: (path: string) => boolean,
 *   take: <T>(path: string, reader: (text: string) => T) => T | null,
 *   say: (level: 'WARN' | 'DROPPED' | 'REFUSED', place: string, message: string) => void,
 *   unique: (items: Placed[]) => Map<string, Placed>
 * }} game
 */
function controlsOf({ roots, there, take, say, unique }) {
	const read = (/** @type {string} */ at) =>
		there(at) ? (take(at, readJson) ?? []).map((item) => ({ ...item, at })) : [];
	/** @type {Map<string, Placed>} */
	const all = new Map();
	for (const root of roots) {
		for (const item of read(`${root}data/controls.out.json`)) {
			const own = all.get(item.id);
			if (own && JSON.stringify(own.fields) === JSON.stringify(item.fields)) all.delete(item.id);
			else
				say(
					'WARN',
					`${item.at}:${item.line}`,
					`control ${item.id} is nowhere exactly so; nothing is taken out`
				);
		}
		for (const [id, item] of unique(read(`${root}data/controls.json`))) all.set(id, item);
	}
	if (all.size === 0) say('REFUSED', 'data/controls.json:1', 'there is no control');
	return all;
}

/**
 * Rows of depths. @param {string} path @param {<T>(path: string, reader: (text: string) => T) => T | null} take
 * @returns {number[][]}
 */
function soundings(path, take) {
	return (
		take(path, (text) =>
			text
				.split('\n')
				.filter((line) => line.trim() !== '' && !line.startsWith('#'))
				.map((line) => line.trim().split(/\s+/).map(Number))
		) ?? []
	);
}

/**
 * Warns of lanes on which nobody gets to the landing, and of those that are deeper than the water.
 * @param {Placed[]} lanes @param {Placed} bay @param {number[][]} depths
 * @param {(level: 'WARN', place: string, message: string) => void} say
 */
function checkLanes(lanes, bay, depths, say) {
	const landing = bay.fields.landing ?? '';
	if (!lanes.some(({ id }) => id === landing)) return;
	for (const lane of lanes) {
		const seen = [lane.id];
		for (const id of seen)
			for (const { id: from, fields } of lanes) {
				const next =
					from === id
						? fields.next
						: fields.next === id && /^(?:true|1|yes|on)$/i.test(fields.both ?? '')
							? from
							: null;
				if (next && !seen.includes(next)) seen.push(next);
			}
		if (!seen.includes(landing))
			say('WARN', `${lane.at}:${lane.line}`, `${lane.id} does not lead to the landing`);
		const [x, y] = [Number(lane.fields.x) / 900, Number(lane.fields.y) / 900].map(
			(share) => share * (depths.length - 1)
		);
		const [i, j] = [Math.floor(x ?? 0), Math.floor(y ?? 0)];
		const at = (/** @type {number} */ row, /** @type {number} */ column) =>
			depths[Math.min(row, depths.length - 1)]?.[Math.min(column, depths.length - 1)] ?? 0;
		const [right, down] = [(x ?? 0) - i, (y ?? 0) - j];
		const water =
			(at(j, i) * (1 - right) + at(j, i + 1) * right) * (1 - down) +
			(at(j + 1, i) * (1 - right) + at(j + 1, i + 1) * right) * down;
		if (Number(lane.fields.depth) > water)
			say(
				'WARN',
				`${lane.at}:${lane.line}`,
				`${lane.id} is ${lane.fields.depth} m deep in ${water.toFixed(2)} m of water`
			);
	}
}

/**
 * The packed controls: refused where they are not as the game expects, and warned of where they differ from the others.
 * @param {string} path
 * @param {{
 *   folder: string, controls: Map<string, Placed>,
 *   say: (level: 'WARN' | 'DROPPED' | 'REFUSED', place: string, message: string) => void
 * }} game
 */
function loadPacked(path, { folder, controls, say }) {
	if (!existsSync(join(folder, path))) return say('REFUSED', `${path}:1`, 'the file is missing');
	const rows = readControls(readFileSync(join(folder, path)), (message) =>
		say('REFUSED', `${path}:1`, message)
	);
	rows.forEach(({ id, key, pad }, at) => {
		const other = controls.get(id)?.fields;
		const apart = Object.entries({ key, pad }).flatMap(([field, value]) =>
			other && other[field] !== String(value) ? [field] : []
		);
		if (apart.length > 0)
			say('WARN', `${path}:${at + 1}`, `${id}: the packed controls differ in ${apart.join(', ')}`);
	});
}

/**
 * Loads them and says what it does not take.
 * @param {{
 *   folder: string, mods: string[],
 *   take: <T>(path: string, reader: (text: string) => T) => T | null,
 *   say: (level: 'WARN' | 'DROPPED' | 'REFUSED', place: string, message: string) => void,
 *   named: (key: string) => string | null,
 *   ids: { vessels: Set<string>, engines: Set<string>, deck: Set<string>, hull: Set<string>, bridge: Set<string> }
 * }} game
 */
export function loadWorld({ folder, mods, take, say, named, ids }) {
	const roots = ['', ...mods.map((mod) => `mods/${mod}/`)];
	const there = (/** @type {string} */ path) => existsSync(join(folder, path));
	/** The last of the layers that has a file. @param {string} path */
	const whole = (path) => `${roots.findLast((root) => there(root + path)) ?? ''}${path}`;
	/** Names in a folder over all layers. @param {string} path */
	const within_ = (path) =>
		[
			...new Set(
				roots.flatMap((root) =>
					there(root + path) && statSync(join(folder, root + path)).isDirectory()
						? readdirSync(join(folder, root + path))
						: []
				)
			)
		].sort();
	/** @param {string} path @param {(text: string) => Item[]} reader @returns {Placed[]} */
	const load = (path, reader) => {
		const at = whole(path);
		if (!there(at)) {
			say('REFUSED', `${at}:1`, 'the file is missing');
			return [];
		}
		return (take(at, path.endsWith('.json') ? withPatches(path, at, reader) : reader) ?? []).map((item) => ({
			...item,
			at
		}));
	};
	/**
	 * Reads a file after the changes that the mods bring for it.
	 * @param {string} path @param {string} at where it is taken from @param {(text: string) => Item[]} reader
	 */
	const withPatches = (path, at, reader) => (/** @type {string} */ text) => {
		let now = text;
		for (const root of roots.slice(roots.indexOf(at.slice(0, at.length - path.length)))) {
			const patch = `${root}${path}.patch`;
			if (there(patch)) now = take(patch, (changes) => patched(now, changes)) ?? now;
		}
		return reader(now);
	};
	/** Leaves out what has no id or one that was there. @param {Placed[]} items */
	const unique = (items) => {
		/** @type {Map<string, Placed>} */
		const all = new Map();
		for (const item of items) {
			if (item.id === '') say('REFUSED', `${item.at}:${item.line}`, 'it has no id');
			else if (all.has(item.id)) say('REFUSED', `${item.at}:${item.line}`, `${item.id} is there twice`);
			else all.set(item.id, item);
		}
		return all;
	};
	/** What one field is for another layer: a list counts as one. @param {string} path */
	const unitOf = (path) => path.replace(/\[.*/, '');
	/**
	 * Reads the file of every layer: of a thing that several have, each field is as the last one says that has it.
	 * @param {string} path @param {(text: string) => Item[]} reader
	 */
	const fieldwise = (path, reader) => {
		/** @type {Map<string, Placed>} */
		const all = new Map();
		for (const root of roots) {
			if (!there(root + path)) continue;
			const items = (take(root + path, reader) ?? []).map((item) => ({ ...item, at: root + path }));
			for (const [id, item] of unique(items)) {
				const below = all.get(id);
				const own = new Set(Object.keys(item.fields).map(unitOf));
				const kept = Object.entries(below?.fields ?? {}).filter(([field]) => !own.has(unitOf(field)));
				all.set(id, { ...item, fields: { ...Object.fromEntries(kept), ...item.fields } });
			}
		}
		return all;
	};
	const idsOf = (/** @type {Map<string, Placed>} */ items) => new Set(items.keys());
	/** @param {Iterable<Placed>} items @param {((item: Placed) => string | null)[]} tests */
	const check = (items, tests) => {
		for (const item of items)
			for (const test of tests) {
				const fault = test(item);
				if (fault !== null) say('REFUSED', `${item.at}:${item.line}`, `${item.id}: ${fault}`);
			}
	};
	const shown =
		(/** @type {(id: string) => string} */ key) =>
		(/** @type {Placed} */ { id }) =>
			named(key(id));
	const share = (/** @type {string} */ field) => within(field, 0, 1, NUMBER);

	const roles = unique(load('data/crew.json', readJson));
	const abilities = fieldwise('data/abilities.json', readJson);
	const hazards = unique(
		load('data/hazards.csv', (text) =>
			readCsv(text, 'id name chance damage sea_from sea_to echo met_by'.split(' '))
		)
	);
	const salvage = unique(
		load('data/salvage.csv', (text) => readCsv(text, 'id name value weight'.split(' ')))
	);
	const calls = unique(load('data/calls.yaml', readYaml));
	const ambience = unique(load('data/ambience.yaml', readYaml));
	const omens = unique(
		load('data/omens.xml', (text) =>
			readElements(text).children.map(({ line, attributes }) => ({
				id: attributes.id ?? '',
				line,
				fields: attributes
			}))
		)
	);
	/** @type {Map<string, Placed>} */
	const stations = new Map();
	for (const name of within_('data/stations')) {
		const id = name.replace(/\.toml$/, '');
		for (const item of load(`data/stations/${name}`, (text) => [readToml(text)]))
			stations.set(id, { ...item, id });
	}
	/** @type {Map<string, Placed>} */
	const bays = new Map();
	/** @type {(Placed & { bay: string })[]} */
	const lanes = [];
	/** @type {(Placed & { bay: string })[]} */
	const spawns = [];
	/** @type {(Placed & { bay: string })[]} */
	const points = [];
	for (const code of within_('data/bays')) {
		for (const item of load(`data/bays/${code}/layout.json`, readJson)) bays.set(code, { ...item, id: code });
		lanes.push(...load(`data/bays/${code}/lanes.json`, readJson).map((lane) => ({ ...lane, bay: code })));
		points.push(...load(`data/bays/${code}/points.json`, readJson).map((point) => ({ ...point, bay: code })));
		for (const name of within_(`data/bays/${code}/spawns`))
			spawns.push(
				...load(`data/bays/${code}/spawns/${name}`, (text) =>
					readNumbers(text, ['day', 'what', 'x', 'y'])
				).map((spawn) => ({ ...spawn, bay: code }))
			);
	}
	const starts = unique(load('scripts/freeplay.lua', readLuaTable));
	const tints = unique(load('data/tints.json', readJson));
	const controls = controlsOf({ roots, there, take, say, unique });
	loadPacked(whole('packed/controls.bin'), { folder, controls, say });
	const modes = unique(load('client/modes.json', readJson));
	const serverModes = unique(load('server/modes.json', readJson));
	const laneIds = new Set(lanes.map(({ id }) => id));

	/** @type {Record<string, Set<string>>} */
	const slots = { deck: ids.deck, hull: ids.hull, bridge: ids.bridge, motor: ids.engines };
	check(roles.values(), [
		within('pay', 0, 99, NUMBER),
		oneOf('watch', ['0', '1', '2', '3']),
		within('nerve', 0, 60),
		truth('swims'),
		eachOf('abilities', idsOf(abilities)),
		eachOf('boats', ids.vessels),
		shown((id) => `role.${id}.name`)
	]);
	check(abilities.values(), [
		within('ticks', 1, 600),
		within('rest', -999, 999),
		oneOf('grant.type', Object.keys(slots)),
		({ fields }) =>
			(slots[fields['grant.type'] ?? '']?.has(fields['grant.id'] ?? '') ?? true)
				? null
				: 'grant.id names nothing',
		share('chance'),
		shown((id) => `ability.${id}.name`)
	]);
	for (const { at, line, id, fields } of abilities.values())
		if (Number(fields.rest) < 0 || Number(fields.rest) > 9)
			say(
				'WARN',
				`${at}:${line}`,
				`${id}: rest ${fields.rest} is read as ${Number(fields.rest) < 0 ? 0 : 9}`
			);
	check(hazards.values(), [
		share('chance'),
		within('damage', 0, 99),
		within('sea_from', 0, 9),
		within('sea_to', 0, 9),
		after('sea_to', 'sea_from'),
		({ fields }) => {
			const wrong = (fields.met_by ?? '')
				.split('|')
				.map((part) => (part.split(':')[0] ?? '').trim())
				.find((role) => role !== '' && role !== '-' && !roles.has(role));
			return wrong === undefined ? null : `met_by "${wrong}" names nothing`;
		},
		shown((id) => `hazard.${id}.name`)
	]);
	check(salvage.values(), [
		within('value', 0, 999),
		within('weight', 0, 20, NUMBER),
		shown((id) => `salvage.${id}.name`)
	]);
	const lower = new Set([...ids.vessels].map((id) => id.toLowerCase()));
	check(calls.values(), [
		names('hazard', idsOf(hazards)),
		names('where', idsOf(bays), (value) => value.replace(/^bay:(?=.)/, '')),
		names('first', lower, (value) => value.toLowerCase()),
		within('sea.from', 0, 9),
		within('sea.to', 0, 9),
		after('sea.to', 'sea.from'),
		within('hour.from', 0, 24),
		within('hour.to', 0, 24),
		after('hour.to', 'hour.from'),
		within('omens', 0, 2 ** 30 - 1),
		within('reward', 0, 999),
		({ fields }) => {
			const wrong = Object.keys(fields).find(
				(path) => path.startsWith('wants.') && !roles.has(path.slice(6))
			);
			return wrong ? `${wrong} names nothing` : null;
		},
		shown((id) => `call.${id}.name`)
	]);
	check(ambience.values(), [
		...['hour.from', 'hour.to'].map((field) => ifThere(field, within(field, 0, 24))),
		...['sea.from', 'sea.to'].map((field) => ifThere(field, within(field, 0, 9))),
		({ fields }) => ((fields.sound ?? '') === '' ? 'it has no sound' : null),
		share('volume')
	]);
	const rules = [...ambience.values()].filter(({ fields }) => fields['hour.from'] !== undefined);
	const meet = (/** @type {Placed} */ a, /** @type {Placed} */ b, /** @type {string} */ axis) =>
		Number(a.fields[`${axis}.from`]) < Number(b.fields[`${axis}.to`]) &&
		Number(b.fields[`${axis}.from`]) < Number(a.fields[`${axis}.to`]);
	rules.forEach((rule, nth) => {
		const first = rules.slice(0, nth).find((other) => meet(other, rule, 'hour') && meet(other, rule, 'sea'));
		if (first) say('WARN', `${rule.at}:${rule.line}`, `${rule.id} is never heard where ${first.id} is`);
	});
	for (const { at, line, fields } of ambience.values())
		if (fields.sound && !roots.some((root) => there(root + fields.sound)))
			say('WARN', `${at}:${line}`, `there is no ${fields.sound}`);
	for (const { at, line, id } of omens.values())
		if (!roots.some((root) => there(`${root}sound/omens/${id}.ogg`)))
			say('WARN', `${at}:${line}`, `there is no sound/omens/${id}.ogg`);
	check(stations.values(), [
		({ id, fields }) => (fields.code === id ? null : `it calls itself "${fields.code ?? ''}"`),
		names('bay', idsOf(bays)),
		// Without a slip no boat can lie there: the number is not read.
		(item) => (item.fields.slip === 'true' ? within('berths', 1, 9)(item) : null),
		date('opened'),
		truth('slip'),
		date('keeper.since'),
		date('keeper.until'),
		...['deputy', 'successor'].flatMap((who) => [
			ifThere(`${who}.since`, date(`${who}.since`)),
			ifThere(`${who}.until`, date(`${who}.until`))
		]),
		...['keeper', 'deputy', 'successor'].map((who) => after(`${who}.until`, `${who}.since`)),
		shown((id) => `${id}_name`)
	]);
	check(bays.values(), [
		({ id, fields }) => (fields.code === id ? null : `it calls itself "${fields.code ?? ''}"`),
		within('depth', 0, 90, NUMBER),
		names('station', idsOf(stations)),
		names('landing', laneIds),
		within('north', -90, 90, NUMBER),
		within('east', -180, 180, NUMBER),
		within('heading', 0, 360, NUMBER),
		shown((id) => `bay.${id}.name`)
	]);
	check(lanes, [
		names('next', laneIds),
		within('x', 0, 900),
		within('y', 0, 900),
		truth('both'),
		within('depth', 0, 90, NUMBER),
		names('light', ids.bridge)
	]);
	check(points, [
		within('x', 0, 900, NUMBER),
		within('y', 0, 900, NUMBER),
		within('facing', 0, 360, NUMBER),
		within('reach', 1, 300),
		within('crew', 1, 9),
		within('from', 1, 28),
		within('until', 1, 28)
	]);
	for (const [code, bay] of bays)
		checkLanes(
			lanes.filter((lane) => lane.bay === code),
			bay,
			soundings(whole(`data/bays/${code}/soundings.txt`), take),
			say
		);
	const numbered = new Set([
		...[...hazards.keys()].map((id) => String(Number(id) + 200)),
		...[...salvage.keys()].map((id) => String(Number(id) + 600))
	]);
	check(spawns, [
		within('day', 1, 28),
		names('what', numbered, (value) => (WHOLE.test(value) ? String(Number(value)) : value)),
		within('x', 0, 900),
		within('y', 0, 900)
	]);
	check(omens.values(), [
		within('bit', 0, 30),
		share('chance'),
		within('every', 1, 600),
		shown((id) => `omen.${id}.name`)
	]);
	check(starts.values(), [within('x', 0, 900), within('y', 0, 900), within('clock', 0, 23)]);
	check(load('ui/freeplay.html', readOptions), [
		({ id }) => (starts.has(id) ? null : 'free play has no such start')
	]);
	check(tints.values(), [
		({ fields }) =>
			/^\s*\d{1,3}([,; ]\s*\d{1,3}){2,3}\s*$|^(#|0x)?[0-9a-f]{3,8}$/i.test(fields.rgb ?? '')
				? null
				: 'rgb is no colour',
		within('steps', 1, 9),
		({ fields }) =>
			Number(fields.steps) === Object.keys(fields).filter((path) => path.startsWith('falloff[')).length
				? null
				: 'steps is not the number of its falloff',
		({ fields }) =>
			Object.keys(fields)
				.filter((path) => path.startsWith('falloff['))
				.map((path) => share(path)({ id: '', line: 0, fields }))
				.find((fault) => fault !== null) ?? null
	]);
	check(controls.values(), [
		({ fields }) => ((fields.key ?? '') === '' ? 'it has no key' : null),
		within('pad', 1, 12)
	]);
	check(modes.values(), [within('pace', 1, 9), within('sight', 1, 9), share('ice'), within('frame', 1, 99)]);
	for (const mode of modes.values()) {
		const other = serverModes.get(mode.id);
		const apart = ['pace', 'sight', 'ice'].filter((field) => other?.fields[field] !== mode.fields[field]);
		if (apart.length > 0)
			say('WARN', `${mode.at}:${mode.line}`, `${mode.id}: the two ends differ in ${apart.join(', ')}`);
	}
	return {
		roles,
		abilities,
		hazards,
		salvage,
		calls,
		ambience,
		omens,
		stations,
		bays,
		lanes,
		points,
		spawns,
		starts,
		tints,
		modes
	};
}

/** Ids that scripts ask for. @param {{ mods: string[], folder: string, read: (path: string) => string, say: (level: 'DROPPED', place: string, message: string) => void, known: Record<string, (id: string) => boolean> }} game */
export function loadScripts({ folder, mods, read, say, known }) {
	const roots = ['', ...mods.map((mod) => `mods/${mod}/`)];
	const files = new Set(
		roots.flatMap((root) =>
			existsSync(join(folder, root, 'scripts')) ? readdirSync(join(folder, root, 'scripts')) : []
		)
	);
	for (const name of files) {
		if (!name.endsWith('.lua')) continue;
		const path = `${roots.findLast((root) => existsSync(join(folder, root, 'scripts', name))) ?? ''}scripts/${name}`;
		read(path)
			.split('\n')
			.forEach((raw, nth) => {
				const line = raw.replace(/--.*$/, '');
				const asked = [
					...[...line.matchAll(/\b(seen|show_omen)\("([^"]*)"\)/g)].map((match) => ['omen', match[2] ?? '']),
					...[...line.matchAll(/\bsay\("([^"]*)"\)/g)].map((match) => ['text', match[1] ?? '']),
					...[...line.matchAll(/\bgive\([^,"]*,\s*"([^"]*)"/g)].map((match) => ['role', match[1] ?? '']),
					...[...line.matchAll(/\bboat\.id == "([^"]*)"/g)].map((match) => ['vessel', match[1] ?? ''])
				];
				for (const [what = '', id = ''] of asked)
					if (!known[what]?.(id)) say('DROPPED', `${path}:${nth + 1}`, `there is no ${what} ${id}`);
			});
	}
}
