// Made-up files of every format and any size, from a seed: what the readers are measured on.
import { layoutSchema, type FormatId, type ReadHints } from '$core/formats';
import { random } from './game';

export interface Generated {
	path: string;
	text: string;
	hints: ReadHints;
	/** Id of a record in the middle and a field of it, for the measurement of one edit. */
	record: string;
	field: string;
	value: string;
}

const WORDS =
	'gannet skerry dunlin kittiwake harbour tide winch lantern cleat hawser bollard fender slip keel shoal buoy'.split(
		' '
	);

interface Thing {
	id: string;
	grade: number;
	hull: number;
	speed: string;
	engine: string;
	words: string;
	about: string;
	flag: boolean;
}

function things(count: number): Thing[] {
	const next = random(7);
	const word = () => WORDS[Math.floor(next() * WORDS.length)]!;
	return Array.from({ length: count }, (_, nth) => ({
		id: `${word()}_${nth}`,
		grade: 1 + Math.floor(next() * 5),
		hull: Math.floor(next() * 400),
		speed: (next() * 40).toFixed(2),
		engine: `${word()}_${Math.floor(next() * 9)}`,
		words: `vessel.${word()}`,
		about: `${word()} ${word()} ${word()} ${word()}`,
		flag: next() > 0.5
	}));
}

type Writer = {
	path: string;
	head?: string;
	foot?: string;
	one: (thing: Thing, nth: number) => string;
	hints?: ReadHints;
	field?: string;
	id?: (id: string) => string;
	value?: string;
};

const BLOCK: ReadHints = { layout: layoutSchema.parse({ shape: 'block', comments: ['#'] }) };

const WRITERS: Record<FormatId, Writer> = {
	csv: {
		path: 'a.csv',
		head: 'id,grade,hull,speed,engine,words,about\n',
		one: (t, nth) =>
			`${t.id},${t.grade},${t.hull},${t.speed},${t.engine},${t.words},${nth % 8 === 0 ? `"${t.about}, ${t.about}"` : t.about}\n`
	},
	tsv: {
		path: 'a.tsv',
		head: 'id\tgrade\thull\tspeed\tengine\twords\tabout\n',
		one: (t) => `${t.id}\t${t.grade}\t${t.hull}\t${t.speed}\t${t.engine}\t${t.words}\t${t.about}\n`
	},
	json: {
		path: 'a.json',
		head: '[\n',
		foot: '\n]\n',
		one: (t, nth) =>
			`${nth > 0 ? ',\n' : ''}\t{\n\t\t"id": "${t.id}",\n\t\t"grade": ${t.grade},\n\t\t"hull": ${t.hull},\n\t\t"speed": ${t.speed},\n\t\t"engine": "${t.engine}",\n\t\t"about": "${t.about}",\n\t\t"gear": [{ "id": "deck", "add": ${t.grade} }, { "id": "bow", "add": 0 }],\n\t\t"flag": ${t.flag}\n\t}`
	},
	xml: {
		path: 'a.xml',
		head: '<?xml version="1.0" encoding="UTF-8"?>\n<vessels>\n',
		foot: '</vessels>\n',
		one: (t) =>
			`\t<vessel id="${t.id}" grade="${t.grade}" hull="${t.hull}">\n\t\t<speed unit="kn">${t.speed}</speed>\n\t\t<engine>${t.engine}</engine>\n\t\t<about>${t.about} &amp; ${t.words}</about>\n\t</vessel>\n`,
		field: 'hull'
	},
	html: {
		path: 'a.html',
		head: '<!doctype html>\n<html><body><select id="all">\n',
		foot: '</select></body></html>\n',
		one: (t) => `\t<option value="${t.id}" title="${t.words}">${t.about} &amp; more</option>\n`,
		field: '#text'
	},
	yaml: {
		path: 'a.yaml',
		one: (t) =>
			`- id: ${t.id}\n  grade: ${t.grade}\n  hull: ${t.hull} # points\n  speed: ${t.speed}\n  engine: ${t.engine}\n  about: "${t.about}"\n  gear:\n    - id: deck\n      add: ${t.grade}\n    - { id: bow, add: 0 }\n  flag: ${t.flag}\n`
	},
	toml: {
		path: 'a.toml',
		one: (t) =>
			`[[vessel]]\nid = "${t.id}"\ngrade = ${t.grade}\nhull = ${t.hull} # points\nspeed = ${t.speed}\nengine = '${t.engine}'\nabout = "${t.about}"\ngear = [{ id = "deck", add = ${t.grade} }, { id = "bow", add = 0 }]\nflag = ${t.flag}\n\n`
	},
	ini: {
		path: 'a.ini',
		one: (t) =>
			`; ${t.about}\n[${t.id}]\ngrade = ${t.grade}\nhull = ${t.hull}\nspeed = ${t.speed}\nengine = ${t.engine}\nwords = ${t.words}\n\n`
	},
	properties: {
		path: 'a.properties',
		one: (t) => `# ${t.words}\n${t.id}.name=${t.about}\n${t.id}.about = ${t.about} \\\n    ${t.about}\n`,
		field: 'text',
		id: (id) => `${id}.name`,
		value: 'another text'
	},
	po: {
		path: 'a.po',
		head: 'msgid ""\nmsgstr ""\n"Content-Type: text/plain; charset=UTF-8\\n"\n\n',
		one: (t) => `#: ${t.words}:12\nmsgid "${t.id}"\nmsgstr "${t.about}\\n"\n"${t.about}"\n\n`,
		field: 'text',
		value: 'another text'
	},
	lua: {
		path: 'a.lua',
		head: 'return {\n',
		foot: '}\n',
		one: (t) =>
			`\t${t.id} = {\n\t\tgrade = ${t.grade}, -- from 1 to 5\n\t\thull = ${t.hull},\n\t\tspeed = ${t.speed},\n\t\tengine = "${t.engine}",\n\t\tabout = '${t.about}',\n\t\tgear = { { id = "deck", add = ${t.grade} }, { id = "bow", add = 0 } },\n\t\tflag = ${t.flag},\n\t},\n`
	},
	block: {
		path: 'a.def',
		hints: BLOCK,
		one: (t) =>
			`vessel ${t.id} {\n\tgrade = ${t.grade}\n\thull = ${t.hull} # points\n\tspeed = ${t.speed}\n\tengine = "${t.engine}"\n\tabout = ${t.about}\n\tgear deck {\n\t\tadd = ${t.grade}\n\t}\n}\n`
	},
	positional: {
		path: 'a.lst',
		hints: {
			layout: {
				shape: 'positional',
				titled: false,
				separator: '',
				comments: ['#'],
				head: [],
				record: [['id', 'grade', 'hull', 'speed']],
				count: null
			}
		},
		one: (t) => `${t.id} ${t.grade} ${t.hull} ${t.speed} # ${t.about}\n`
	},
	jsonl: {
		path: 'a.jsonl',
		one: (t) =>
			`${JSON.stringify({ id: t.id, grade: t.grade, hull: t.hull, speed: Number(t.speed), engine: t.engine, about: t.about, flag: t.flag })}\n`
	},
	json5: {
		path: 'a.json5',
		head: '[\n',
		foot: ']\n',
		one: (t) =>
			`\t{ id: '${t.id}', grade: ${t.grade}, hull: ${t.hull}, speed: ${t.speed}, engine: "${t.engine}", about: '${t.about}' }, // afloat\n`
	},
	js: {
		path: 'a.js',
		hints: { format: 'js' },
		head: 'export default [\n',
		foot: '];\n',
		one: (t) =>
			`\t{ id: '${t.id}', grade: ${t.grade}, hull: ${t.hull}, speed: ${t.speed}, engine: "${t.engine}", about: '${t.about}' },\n`
	},
	stanzas: {
		path: 'a.stanzas',
		one: (t) =>
			`id: ${t.id}\ngrade: ${t.grade}\nhull: ${t.hull}\nspeed: ${t.speed}\nengine: ${t.engine}\nabout: ${t.about}\n\n`
	},
	sections: {
		path: 'a.rules',
		hints: { format: 'sections', element: 'vessel', key: 'id' },
		one: (t) =>
			`[vessel]\nid = "${t.id}"\ngrade = ${t.grade}\nhull = ${t.hull} ; points\nspeed = ${t.speed}\nengine = "${t.engine}"\nabout = _("${t.about}")\n\n`
	},
	tagged: {
		path: 'a.lib',
		hints: {
			layout: {
				shape: 'tagged',
				first: 'N',
				separator: ':',
				brackets: null,
				texts: ['D'],
				comments: ['#']
			}
		},
		field: 'D',
		value: 'aboard',
		one: (t) => `N:${t.id}:${t.about}\nG:${t.grade}:${t.hull}:${t.speed}\nD:${t.about}\n\n`
	},
	indented: {
		path: 'a.herd',
		hints: { format: 'indented', element: 'vessel' },
		one: (t) =>
			`vessel ${t.id}\n\tgrade ${t.grade}\n\thull ${t.hull}\n\tspeed ${t.speed}\n\tengine "${t.engine}"\n\tabout "${t.about}"\n\n`
	},
	outline: {
		path: 'a.outline',
		hints: { format: 'outline', at: '' },
		one: (t) =>
			`${t.id}:\n\tgrade: ${t.grade}\n\thull: ${t.hull} # points\n\tspeed: ${t.speed}\n\tengine: ${t.engine}\n\tabout: ${t.about}\n\n`
	},
	parens: {
		path: 'a.forms',
		hints: { format: 'parens', element: 'vessel' },
		one: (t) =>
			`(vessel ${t.id}\n\t(grade ${t.grade})\n\t(hull ${t.hull}) ; points\n\t(speed ${t.speed})\n\t(engine "${t.engine}")\n\t(about "${t.about}"))\n\n`
	},
	groups: {
		path: 'a.pairs',
		hints: { layout: { shape: 'groups', names: ['source', 'text'] } },
		field: 'text',
		value: 'aboard',
		one: (t) => `${t.id}\n${t.about}\n`
	},
	lines: {
		path: 'a.txt',
		hints: { layout: { shape: 'lines', pattern: '^(?<id>\\S+) -> (?<hull>\\S+)$', comments: ['#'] } },
		one: (t) => `${t.id} -> ${t.hull}\n`
	}
};

/** A file of a format with about so many bytes (all ASCII: bytes are characters). */
export function generate(id: FormatId, bytes: number): Generated {
	const writer = WRITERS[id]!;
	const all = things(2000);
	const parts = [writer.head ?? ''];
	let size = parts[0]!.length;
	let nth = 0;
	const ids: string[] = [];
	while (size < bytes) {
		const thing = { ...all[nth % all.length]! };
		thing.id = `${thing.id}x${nth}`;
		const part = writer.one(thing, nth++);
		ids.push(thing.id);
		parts.push(part);
		size += part.length;
	}
	const text = Buffer.from(parts.join('') + (writer.foot ?? ''), 'latin1').toString('latin1');
	const middle = ids[ids.length >> 1]!;
	return {
		path: writer.path,
		text,
		hints: writer.hints ?? {},
		record: writer.id?.(middle) ?? middle,
		field: writer.field ?? 'hull',
		value: writer.value ?? '77'
	};
}
