// A made-up game of any size, from a seed: a coast rescue service among cold islands, in mixed formats, with references
// that are known. What the benchmarks and the tests of scale and of Find are run on.

/** A small generator of numbers in [0, 1) (mulberry32, public domain). */
export function random(seed: number): () => number {
	return () => {
		seed = (seed + 0x6d2b79f5) | 0;
		let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
		t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	};
}

export interface GameSize {
	records: number;
	files: number;
	seed?: number;
}

/** One thing of the game as its makers know it. */
export interface Thing {
	kind: string;
	id: string;
	/** Shown names by language; empty where players see none. */
	names: Record<string, string>;
	values: Record<string, string | number | boolean>;
	/** Fields that name other things. */
	references: Record<string, string>;
}

export interface GameFile {
	path: string;
	text: string;
}

/** Shares of all records, and of all files that hold them. */
const SHARES = {
	vessel: 0.08,
	engine: 0.08,
	gear: 0.08,
	crew: 0.17,
	hazard: 0.17,
	call: 0.045,
	station: 0.03,
	lane: 0.105,
	text: 0.24
};
type Kind = keyof typeof SHARES;

const PREFIX: Record<Exclude<Kind, 'text'>, string> = {
	vessel: 'vs',
	engine: 'eng',
	gear: 'gr',
	crew: 'cr',
	hazard: 'hz',
	call: 'cl',
	station: 'st',
	lane: 'ln'
};

const HEADS = 'b br c d dr f fl g gr h j k kl l m n p pl r s sk sl st t tr v w'.split(' ');
const HEARTS = 'a e i o u ai ee oa ou'.split(' ');
const TAILS = 'b ck d ft g l ll m n nd ng nt p r rd rn rt s sk st t th'.split(' ');

function vocabulary(next: () => number, count: number, syllables: number): string[] {
	const pick = (list: string[]) => list[Math.floor(next() * list.length)]!;
	const words = new Set<string>();
	while (words.size < count) {
		let word = '';
		for (let nth = 0; nth < syllables; nth++) word += pick(HEADS) + pick(HEARTS);
		words.add(word + pick(TAILS));
	}
	return [...words];
}

const UMLAUT: Record<string, string> = { a: 'ä', o: 'ö', u: 'ü' };
const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);

const NOUNS: Record<Exclude<Kind, 'text'>, string[]> = {
	vessel: ['cutter', 'lifeboat', 'tug', 'launch'],
	engine: ['diesel', 'turbine', 'twin'],
	gear: ['winch', 'lantern', 'pump', 'hook'],
	crew: ['mate', 'bosun', 'medic'],
	hazard: ['shoal', 'squall', 'drift ice'],
	call: ['grounding', 'fire on deck', 'lost raft'],
	station: ['head', 'ness', 'haven'],
	lane: ['sound', 'narrows', 'reach']
};
const GERMAN: Record<string, string> = {
	cutter: 'Kutter',
	lifeboat: 'Rettungsboot',
	tug: 'Schlepper',
	launch: 'Barkasse',
	diesel: 'Diesel',
	turbine: 'Turbine',
	twin: 'Zwilling',
	winch: 'Winde',
	lantern: 'Laterne',
	pump: 'Pumpe',
	hook: 'Haken'
};

/** Everything of a game before it is written into files. */
export interface Game {
	things: Record<Exclude<Kind, 'text'>, Thing[]>;
	texts: { key: string; en: string; de: string }[];
	size: Required<GameSize>;
}

/** Makes a game up. The same size and seed give the same game. */
export function makeGame({ records, files, seed = 1 }: GameSize): Game {
	const next = random(seed);
	const upTo = (most: number) => Math.floor(next() * most);
	const pick = <T>(list: readonly T[]): T => list[upTo(list.length)]!;
	const codes = vocabulary(next, 900, 1);
	const shown = vocabulary(next, 3000, 2);
	const adjectives = vocabulary(next, 500, 1);
	const plain = vocabulary(next, 1500, 2);
	const sentence = (words: number) => {
		const list = Array.from({ length: words }, () => pick(plain));
		return `${capital(list.join(' '))}.`;
	};
	const countOf = (kind: Kind) => Math.max(2, Math.round(records * SHARES[kind]));
	const kinds = Object.keys(PREFIX) as Exclude<Kind, 'text'>[];
	const things = {} as Game['things'];
	for (const kind of kinds)
		things[kind] = Array.from({ length: countOf(kind) }, (_, nth) => ({
			kind,
			id: `${PREFIX[kind]}_${pick(codes)}_${nth}`,
			names: {},
			values: {},
			references: {}
		}));
	// A few are named by many, as in games that people made.
	const some = (kind: Exclude<Kind, 'text'>) => {
		const list = things[kind];
		return list[Math.floor(next() ** 3 * list.length)]!.id;
	};
	const nameOf = (kind: Exclude<Kind, 'text'>) => {
		const noun = pick(NOUNS[kind]);
		const proper = pick(shown);
		const adjective = pick(adjectives);
		const german = proper.replace(/[aou]/, (letter) => UMLAUT[letter]!);
		return {
			en: `${capital(adjective)} ${capital(proper)} ${capital(noun)}`,
			de: `${capital(german)}-${GERMAN[noun] ?? capital(noun)} ${capital(adjective)}`
		};
	};
	const figures = (values: Thing['values'], names: string[], most: number) => {
		for (const name of names) values[name] = upTo(most);
	};
	const texts: Game['texts'] = [];
	for (const kind of kinds)
		for (const thing of things[kind]) {
			const name = nameOf(kind);
			const { values, references } = thing;
			if (kind === 'vessel' || kind === 'engine' || kind === 'gear') {
				thing.names = name;
				texts.push({ key: `${kind}.${thing.id}.name`, ...name });
			} else {
				thing.names = { en: name.en };
				values.title = name.en;
			}
			values.about = sentence(kind === 'crew' || kind === 'hazard' ? 26 : 34);
			if (kind === 'vessel') {
				figures(values, ['grade'], 5);
				figures(values, ['hull', 'tow', 'seats', 'flags', 'cost', 'range', 'crew'], 400);
				values.draft = (next() * 9).toFixed(2);
				values.speed = (4 + next() * 36).toFixed(1);
				references.engine = some('engine');
				references.deck = some('gear');
				references.bow = some('gear');
				references.station = some('station');
				values.art = `art/${thing.id.slice(3, 6)}.svg`;
			} else if (kind === 'engine') {
				figures(values, ['power', 'weight', 'noise', 'coldest', 'cost', 'cylinders', 'life', 'service'], 900);
				for (const field of ['fuel', 'idle', 'heat', 'draw', 'spare', 'wear'])
					values[field] = (next() * 50).toFixed(1);
				references.mount = some('gear');
			} else if (kind === 'gear') {
				figures(values, ['cost', 'grade', 'size', 'hands', 'life'], 300);
				values.weight = (next() * 20).toFixed(3);
				values.slot = pick(['deck', 'bow', 'bridge', 'hull']);
				for (const effect of ['tow', 'warm', 'light'])
					figures(values, [`${effect}.add`, `${effect}.from`], 90);
				references.needs = some('gear');
			} else if (kind === 'crew') {
				figures(values, ['age', 'wage', 'skill', 'nerve', 'reach', 'days', 'sleep', 'grade'], 120);
				values.leads = next() > 0.8;
				values.swims = next() > 0.3;
				references.station = some('station');
				references.boat = some('vessel');
				for (let nth = 0; nth < 2; nth++) {
					values[`able[${nth}].id`] = pick(codes);
					values[`able[${nth}].from`] = upTo(30);
				}
			} else if (kind === 'hazard') {
				figures(
					values,
					['sea', 'from', 'to', 'depth', 'risk', 'spread', 'days', 'rank', 'cold', 'wind'],
					100
				);
				for (const field of ['chance', 'share', 'drift', 'fade']) values[field] = next().toFixed(4);
				references.lane = some('lane');
			} else if (kind === 'call') {
				figures(values, ['from', 'to', 'reward', 'people', 'days', 'grade', 'rank'], 200);
				values.urgent = next() > 0.5;
				references.hazard = some('hazard');
				references.vessel = some('vessel');
				for (let nth = 0; nth < 2; nth++) {
					values[`ends[${nth}].as`] = pick(codes);
					values[`ends[${nth}].weight`] = upTo(9);
				}
			} else if (kind === 'station') {
				figures(
					values,
					['berths', 'beds', 'fuel', 'north', 'east', 'rank', 'opened', 'stores', 'cranes', 'posts', 'slips'],
					2000
				);
				references.keeper = some('crew');
				references.next = some('station');
			} else {
				figures(
					values,
					['depth', 'length', 'width', 'tide', 'marks', 'turns', 'north', 'east', 'rank', 'days', 'lights'],
					700
				);
				references.from = some('station');
				references.to = some('station');
			}
		}
	return { things, texts, size: { records, files, seed } };
}

const all = (thing: Thing) => Object.entries({ ...thing.values, ...thing.references });
const quote = (value: string | number | boolean) =>
	typeof value === 'string' ? JSON.stringify(value) : String(value);

function columns(things: Thing[], separator: string): string {
	const names = Object.keys({ ...things[0]!.values, ...things[0]!.references }).filter(
		(name) => name !== 'about'
	);
	const head = ['id', ...names, 'about'].join(separator);
	const rows = things.map((thing) => {
		const cells = { ...thing.values, ...thing.references };
		return [
			thing.id,
			...names.map((name) => cells[name]),
			separator === ',' ? `"${String(cells.about)}, ${String(cells.about)}"` : cells.about
		].join(separator);
	});
	return `${[head, ...rows].join('\n')}\n`;
}

/** `able[0].id` and the like as a list of maps. */
function nested(thing: Thing): {
	flat: [string, string | number | boolean][];
	lists: Map<string, Record<string, string | number | boolean>[]>;
} {
	const flat: [string, string | number | boolean][] = [];
	const lists = new Map<string, Record<string, string | number | boolean>[]>();
	for (const [name, value] of all(thing)) {
		const match = /^(\w+)\[(\d+)\]\.(\w+)$/.exec(name);
		if (!match) {
			flat.push([name, value]);
			continue;
		}
		const list = lists.get(match[1]!) ?? [];
		lists.set(match[1]!, list);
		(list[Number(match[2])] ??= {})[match[3]!] = value;
	}
	return { flat, lists };
}

const inline = (map: Record<string, string | number | boolean>, mark: string) =>
	Object.entries(map)
		.map(
			([name, value]) =>
				`${mark === '"' ? JSON.stringify(name) : name}${mark === '=' ? ' =' : ':'} ${quote(value)}`
		)
		.join(', ');

const WRITERS: Record<Exclude<Kind, 'text'>, { ending: string; write: (things: Thing[]) => string }> = {
	vessel: { ending: 'tsv', write: (things) => columns(things, '\t') },
	hazard: { ending: 'csv', write: (things) => columns(things, ',') },
	engine: {
		ending: 'ini',
		write: (things) =>
			things
				.map(
					(thing) =>
						`; ${String(thing.values.about)}\n[${thing.id}]\n${all(thing)
							.map(([name, value]) => `${name} = ${value}`)
							.join('\n')}\n`
				)
				.join('\n')
	},
	gear: {
		ending: 'xml',
		write: (things) =>
			`<?xml version="1.0" encoding="UTF-8"?>\n<gear>\n${things
				.map((thing) => {
					const { values, references } = thing;
					const effects = ['tow', 'warm', 'light'].map(
						(effect) =>
							`\t\t<${effect} add="${values[`${effect}.add`]}" from="${values[`${effect}.from`]}" />\n`
					);
					return `\t<piece id="${thing.id}" cost="${values.cost}" grade="${values.grade}" size="${values.size}" hands="${values.hands}" life="${values.life}" slot="${values.slot}" needs="${references.needs}">\n\t\t<weight>${values.weight}</weight>\n${effects.join('')}\t\t<about>${values.about} &amp; ${values.about}</about>\n\t</piece>\n`;
				})
				.join('')}</gear>\n`
	},
	crew: {
		ending: 'json',
		write: (things) =>
			`[\n${things
				.map((thing) => {
					const { flat, lists } = nested(thing);
					const rows = [['id', thing.id] as const, ...flat].map(
						([name, value]) => `\t\t${JSON.stringify(name)}: ${quote(value)}`
					);
					for (const [name, list] of lists)
						rows.push(
							`\t\t${JSON.stringify(name)}: [${list.map((item) => `{ ${inline(item, '"')} }`).join(', ')}]`
						);
					return `\t{\n${rows.join(',\n')}\n\t}`;
				})
				.join(',\n')}\n]\n`
	},
	call: {
		ending: 'yaml',
		write: (things) =>
			things
				.map((thing) => {
					const { flat, lists } = nested(thing);
					const rows = flat.map(([name, value]) => `  ${name}: ${quote(value)}\n`).join('');
					const ends = [...lists].map(
						([name, list]) => `  ${name}:\n${list.map((item) => `    - { ${inline(item, ':')} }\n`).join('')}`
					);
					return `- id: ${thing.id}\n${rows}${ends.join('')}`;
				})
				.join('')
	},
	station: {
		ending: 'toml',
		write: (things) =>
			things
				.map(
					(thing) =>
						`[[station]]\nid = "${thing.id}"\n${all(thing)
							.map(([name, value]) => `${name} = ${quote(value)}\n`)
							.join('')}\n`
				)
				.join('')
	},
	lane: {
		ending: 'lua',
		write: (things) =>
			`return {\n${things
				.map(
					(thing) =>
						`\t${thing.id} = {\n${all(thing)
							.map(([name, value]) => `\t\t${name} = ${quote(value)},\n`)
							.join('')}\t},\n`
				)
				.join('')}}\n`
	}
};

function script(game: Game, nth: number): string {
	const next = random(game.size.seed * 7919 + nth);
	const of = (kind: Exclude<Kind, 'text'>) => {
		const list = game.things[kind];
		return list[Math.floor(next() * list.length)]!;
	};
	const parts = [`-- Ashore and afloat, part ${nth}.`];
	for (let times = 0; times < 8; times++)
		parts.push(
			`function on_alarm_${nth}_${times}(boat, sea)`,
			`\tif sea > ${Math.floor(next() * 9)} and boat.id == "${of('vessel').id}" then`,
			`\t\tsay("The ${of('station').values.title} answers: hold on.")`,
			`\t\traise_call("${of('call').id}", ${Math.floor(next() * 30)})`,
			'\tend',
			'end',
			''
		);
	return parts.join('\n');
}

/** How many files of each sort a game of so many has. */
function filesFor(total: number): Record<Kind | 'script' | 'art' | 'doc', number> {
	const scripts = Math.max(1, Math.round(total * 0.04));
	const art = Math.max(1, Math.round(total * 0.02));
	const data = Math.max(9, total - scripts - art - 2);
	const share = (kind: Kind) =>
		Math.max(1, Math.round(data * SHARES[kind] * (kind === 'text' ? 0.5 : 1.136)));
	return {
		...(Object.fromEntries((Object.keys(SHARES) as Kind[]).map((kind) => [kind, share(kind)])) as Record<
			Kind,
			number
		>),
		script: scripts,
		art,
		doc: 1
	};
}

function* cut<T>(list: T[], files: number): Generator<T[]> {
	const count = Math.min(files, list.length);
	for (let nth = 0; nth < count; nth++)
		yield list.slice(Math.floor((nth * list.length) / count), Math.floor(((nth + 1) * list.length) / count));
}

const number = (nth: number) => String(nth).padStart(4, '0');

/** The files of a game, one after another. */
export function* gameFiles(game: Game): Generator<GameFile> {
	const files = filesFor(game.size.files);
	yield { path: 'game.json', text: '{\n\t"title": "Skerry Watch",\n\t"version": "1.0"\n}\n' };
	yield { path: 'read-me.md', text: '# Skerry Watch\n\nA made-up game for measurements.\n' };
	for (const [kind, { ending, write }] of Object.entries(WRITERS)) {
		let nth = 0;
		for (const things of cut(game.things[kind as Exclude<Kind, 'text'>], files[kind as Kind]))
			yield { path: `data/${kind}/${number(nth++)}.${ending}`, text: write(things) };
	}
	for (const language of ['en', 'de'] as const) {
		let nth = 0;
		for (const texts of cut(game.texts, files.text))
			yield {
				path: `words/${language}/${number(nth++)}.properties`,
				text: texts.map((text) => `${text.key}=${text[language]}\n`).join('')
			};
	}
	for (let nth = 0; nth < files.script; nth++)
		yield { path: `scripts/${number(nth)}.lua`, text: script(game, nth) };
	for (let nth = 0; nth < files.art; nth++)
		yield {
			path: `art/${number(nth)}.svg`,
			text: `<svg xmlns="http://www.w3.org/2000/svg"><circle r="${nth + 1}"/></svg>\n`
		};
}

const REFERENCES: Record<string, Record<string, string>> = {
	vessel: { engine: 'engine', deck: 'gear', bow: 'gear', station: 'station' },
	engine: { mount: 'gear' },
	gear: { needs: 'gear' },
	crew: { station: 'station', boat: 'vessel' },
	hazard: { lane: 'lane' },
	call: { hazard: 'hazard', vessel: 'vessel' },
	station: { keeper: 'crew', next: 'station' },
	lane: { from: 'station', to: 'station' }
};

/** The field guide of the made-up games: kinds, references, texts. */
export function gameGuide(): string {
	const kinds = Object.entries(WRITERS).map(([kind, { ending }]) => {
		const fields = Object.entries(REFERENCES[kind]!).map(
			([field, target]) => `      ${field}: { type: reference, reference: { kinds: [${target}] } }\n`
		);
		const worn = ['vessel', 'engine', 'gear'].includes(kind);
		const key = ['engine', 'lane'].includes(kind) ? '' : '    key: id\n';
		const name = worn
			? `    texts:\n      - { label: Name, key: '${kind}.{id}.name', required: true, name: true }\n`
			: '';
		return `  ${kind}:\n    title: ${capital(kind)}\n    files: ['data/${kind}/*.${ending}']\n${key}    merge: record\n${name}    fields:\n${fields.join('')}`;
	});
	return `guide: 1
game: { title: Skerry Watch, version: { file: game.json, field: version } }
words: { kind: text, main: en, languages: { en: English, de: Deutsch } }
kinds:
${kinds.join('')}  text:
    title: Text
    plural: Texts
    merge: record
    files: ['words/{language}/*.properties']
    write: 'words/{language}/{mod}.properties'
`;
}
