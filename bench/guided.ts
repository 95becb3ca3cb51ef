// Small made-up games of which it is known how everything belongs together, with traps: numbers that coincide, names that
// are nearly ids, references that are mostly empty, letters in any case, a few that name nothing. From a seed.
import { random, type GameFile } from './game';

/** Who names whom, as the makers know it; kinds are named by one of their files. */
export interface Truth {
	rule: string;
	from: string;
	field: string;
	to: string;
}

export interface GuidedGame {
	files: GameFile[];
	truths: Truth[];
}

const SYLLABLES =
	'ba be bo da du fa fe ga go ha ka ko la le lo ma me mo na ne no pa pe ra re ro sa se so ta te to va'.split(
		' '
	);

/** Makes one up. */
export function makeGuided(seed: number): GuidedGame {
	const next = random(seed * 7349 + 11);
	const upTo = (most: number) => Math.floor(next() * most);
	const pick = <T>(list: readonly T[]): T => list[upTo(list.length)]!;
	const word = (length = 3) => Array.from({ length }, () => pick(SYLLABLES)).join('');
	const used = new Set<string>();
	const id = (stem = '') => {
		for (;;) {
			const made = stem === '' ? word() : `${stem}_${word(2)}`;
			if (used.has(made)) continue;
			used.add(made);
			return made;
		}
	};
	const many = (low: number, spread: number, stem = '') =>
		Array.from({ length: low + upTo(spread) }, () => id(stem));
	/** Two in a hundred name nothing, as in games that people made. */
	const named = (list: readonly string[]) => (next() < 0.02 ? `${word()}_lost` : pick(list));
	const anyCase = (text: string) =>
		[...text].map((letter) => (next() < 0.3 ? letter.toUpperCase() : letter)).join('');
	const shown = () => {
		const text = word(2 + upTo(2));
		return text.charAt(0).toUpperCase() + text.slice(1);
	};

	const boats = many(50, 70, 'boat');
	const engines = many(14, 20);
	const winches = many(16, 14);
	const lamps = many(16, 14);
	const roles = many(18, 12, 'role');
	const stations = many(8, 6);
	const bays = many(6, 4);
	const omens = many(18, 12);
	const starts = many(6, 6);
	const hazards = 30 + upTo(25);
	const goods = 12 + upTo(10);
	const files: GameFile[] = [];
	const truths: Truth[] = [];
	const add = (path: string, text: string) => files.push({ path, text });
	const truth = (rule: string, from: string, field: string, to: string) =>
		truths.push({ rule, from, field, to });
	const FILE = {
		boat: 'data/boats.tsv',
		engine: 'data/engines.ini',
		winch: 'data/gear/winches.xml',
		lamp: 'data/gear/lamps.xml',
		role: 'data/roles.json',
		hazard: 'data/hazards.csv',
		good: 'data/goods.csv',
		call: 'data/calls.yaml',
		drift: 'data/drift.csv',
		station: `data/stations/${stations[0]}.toml`,
		bay: `data/bays/${bays[0]}/layout.json`,
		lane: `data/bays/${bays[0]}/lanes.json`,
		omen: 'data/omens.xml',
		page: 'ui/starts.html',
		start: 'data/starts.lua',
		text: 'words/en/boats.properties'
	};

	const columns = [
		'id',
		'grade',
		'rank',
		'cost',
		'engine',
		'winch',
		'lamp',
		'keeper',
		'crew',
		'next',
		'words',
		'class',
		'note',
		'art'
	];
	const rows = boats.map((boat) => [
		boat,
		1 + upTo(5),
		// A trap: as many small numbers as there are hazards.
		1 + upTo(hazards),
		// Another: they lie where numbers with an offset would.
		190 + upTo(80),
		named(engines),
		next() < 0.3 ? '' : named(winches),
		next() < 0.3 ? '-' : named(lamps),
		anyCase(pick(roles)),
		Array.from({ length: 1 + upTo(3) }, () => `${named(roles)}:${1 + upTo(9)}`).join(';'),
		next() < 0.5 ? '' : named(boats),
		`boat.${boat}`,
		// A trap: nearly the ids of engines, and a third of them really are.
		next() < 0.33 ? pick(engines) : `${pick(engines)}${pick(['a', 'x', '_2'])}`,
		pick(['good', 'fair', 'old', pick(engines)]),
		`art/${boat}.svg`
	]);
	add(FILE.boat, `${[columns, ...rows].map((row) => row.join('\t')).join('\n')}\n`);
	truth('plain', FILE.boat, 'engine', FILE.engine);
	truth('plain', FILE.boat, 'winch', FILE.winch);
	truth('plain', FILE.boat, 'lamp', FILE.lamp);
	truth('case', FILE.boat, 'keeper', FILE.role);
	truth('weighted', FILE.boat, 'crew', FILE.role);
	truth('plain', FILE.boat, 'next', FILE.boat);
	truth('file', FILE.boat, 'art', 'art/{id}.svg');
	for (const boat of boats) add(`art/${boat}.svg`, '<svg xmlns="http://www.w3.org/2000/svg"/>\n');

	add(
		FILE.engine,
		engines.map((engine) => `[${engine}]\npower = ${20 + upTo(900)}\nnoise = ${30 + upTo(60)}\n`).join('\n')
	);
	const piece = (list: string[]) =>
		`<gear>\n${list
			.map(
				(one) =>
					`\t<piece id="${one}" weight="${(next() * 3).toFixed(2)}" cost="${40 + upTo(400)}" maker="${pick(stations)}"/>\n`
			)
			.join('')}</gear>\n`;
	add(FILE.winch, piece(winches));
	add(FILE.lamp, piece(lamps));
	truth('plain', FILE.winch, 'maker', FILE.station);
	truth('plain', FILE.lamp, 'maker', FILE.station);

	const KIND = { winch: winches, lamp: lamps, motor: engines } as const;
	add(
		FILE.role,
		`${JSON.stringify(
			roles.map((role) => {
				const type = pick(Object.keys(KIND) as (keyof typeof KIND)[]);
				return {
					id: role,
					pay: upTo(90),
					boats: Array.from({ length: 1 + upTo(3) }, () => named(boats)),
					gift: { type, id: named(KIND[type]) },
					home: `station:${pick(stations)}`
				};
			}),
			null,
			1
		)}\n`
	);
	truth('list', FILE.role, 'boats[]', FILE.boat);
	truth('decided', FILE.role, 'gift.id', FILE.winch);
	truth('decided', FILE.role, 'gift.id', FILE.lamp);
	truth('decided', FILE.role, 'gift.id', FILE.engine);
	truth('affix', FILE.role, 'home', FILE.station);
	for (const role of roles) add(`sound/${role}.ogg`, 'OggS');
	truth('file', FILE.role, '#id', 'sound/{id}.ogg');

	const numbered = (count: number) =>
		`id,depth,chance,tags\n${Array.from({ length: count }, (_, nth) => `${nth + 1},${upTo(60)},${next().toFixed(2)},${pick(roles)}|${pick(roles)}`).join('\n')}\n`;
	add(FILE.hazard, numbered(hazards));
	add(FILE.good, numbered(goods));
	truth('list', FILE.hazard, 'tags', FILE.role);
	truth('list', FILE.good, 'tags', FILE.role);
	const [plusHazard, plusGood] = [pick([200, 300]), pick([600, 1000])];
	add(
		FILE.drift,
		`id,day,what,share\n${Array.from({ length: 60 + upTo(40) }, (_, nth) => `d${nth + 1},${1 + upTo(28)},${next() < 0.6 ? plusHazard + 1 + upTo(hazards) : plusGood + 1 + upTo(goods)},${next().toFixed(3)}`).join('\n')}\n`
	);
	truth('offset', FILE.drift, 'what', FILE.hazard);
	truth('offset', FILE.drift, 'what', FILE.good);

	add(
		FILE.call,
		Array.from({ length: 30 + upTo(20) }, (_, nth) => {
			const wanted = [...new Set(Array.from({ length: 2 + upTo(3) }, () => pick(roles)))];
			return `- id: call_${nth}\n  hazard: ${1 + upTo(hazards)}\n  people: ${1 + upTo(30)}\n  from: ${upTo(5)}\n  wants:\n${wanted.map((role) => `    ${role}: ${1 + upTo(5)}\n`).join('')}`;
		}).join('')
	);
	truth('plain', FILE.call, 'hazard', FILE.hazard);
	truth('names', FILE.call, 'wants.*', FILE.role);

	for (const station of stations)
		add(
			`data/stations/${station}.toml`,
			`berths = ${1 + upTo(9)}\nopened = 19${10 + upTo(80)}-0${1 + upTo(9)}-1${upTo(9)}\nkeeper = "${named(roles)}"\n`
		);
	truth('plain', FILE.station, 'keeper', FILE.role);
	for (const bay of bays) {
		add(
			`data/bays/${bay}/layout.json`,
			`{ "depth": ${10 + upTo(40)}, "station": "${pick(stations)}", "wide": ${next() > 0.5} }\n`
		);
		add(
			`data/bays/${bay}/lanes.json`,
			`${JSON.stringify(Array.from({ length: 3 + upTo(4) }, (_, nth) => ({ id: `${bay}_${nth}`, depth: upTo(20), light: named(lamps) })))}\n`
		);
	}
	truth('plain', FILE.bay, 'station', FILE.station);
	truth('plain', FILE.lane, 'light', FILE.lamp);
	truth('folder', FILE.lane, '#folder', FILE.bay);

	add(
		FILE.omen,
		`<omens>\n${omens.map((omen, nth) => `\t<omen id="${omen}" bit="${nth}" chance="${next().toFixed(2)}"/>\n`).join('')}</omens>\n`
	);
	add(
		'scripts/omens.lua',
		`-- What the birds mean.\n${Array.from({ length: 8 }, (_, nth) => `function night_${nth}(boat)\n\tif sees(boat, "${pick(omens)}") then\n\t\tsay("Something stirs: ${word()}.")\n\tend\n\tif boat.id == "${pick(boats)}" then raise("${pick(omens)}", ${upTo(9)}) end\nend\n`).join('\n')}`
	);
	truth('script', 'sees', '2', FILE.omen);
	truth('script', 'raise', '1', FILE.omen);
	truth('script', 'boat.id', '0', FILE.boat);

	add(
		FILE.page,
		`<!doctype html>\n<select>\n${starts.map((start) => `\t<option value="${start}">${shown()}</option>\n`).join('')}</select>\n`
	);
	add(
		FILE.start,
		`return {\n${starts.map((start) => `\t${start} = { x = ${upTo(900)}, y = ${upTo(900)}, clock = ${upTo(24)} },\n`).join('')}}\n`
	);
	truth('pair', FILE.page, '#id', FILE.start);

	for (const language of ['en', 'de'])
		add(
			`words/${language}/boats.properties`,
			[
				...boats.flatMap((boat) => [
					`boat.${boat}.name=${shown()}`,
					`boat.${boat}.about=${shown()} ${word()} ${word()}.`
				]),
				...stations.map((station) => `${station}_name=${shown()}`)
			].join('\n') + '\n'
		);
	truth('text', FILE.boat, 'boat.{id}.name', FILE.text);
	truth('text', FILE.boat, 'boat.{id}.about', FILE.text);
	truth('text', FILE.station, '{id}_name', FILE.text);
	return { files, truths };
}
