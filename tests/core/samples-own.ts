// Made-up files of pages, messages, and the formats that only a field guide knows.
import fc from 'fast-check';
import { layoutSchema, type BlockLayout, type PositionalLayout } from '$core/formats';
import { eols, escapeXml, ids, lines, pick, value, type Sample } from './sample-parts';

export const html: fc.Arbitrary<Sample> = fc
	.tuple(ids(), fc.infiniteStream(value), fc.infiniteStream(fc.nat(4)), eols, fc.boolean())
	.map(([keys, values, shapes, eol, final]) => {
		const rows = keys.flatMap((key) => {
			const text = escapeXml(values.next().value!).replaceAll('>', '&gt;') || 'x';
			const shape = shapes.next().value!;
			const lead = shape === 1 ? ['\t\t<!-- about the next -->'] : [];
			if (shape === 0) return [...lead, `\t\t<option value=${key}>${text}`];
			if (shape === 2) return [...lead, `\t\t<OPTION selected value='${key}'>${text}</OPTION>`];
			return [
				...lead,
				`\t\t<option value="${key}" title="${escapeXml(values.next().value!)}">${text}</option>`
			];
		});
		const head = [
			'<!doctype html>',
			'<title>a < b</title>',
			'<script>if (a < b) "<option>";</script>',
			'<p>One<br>two',
			'\t<select id=coast>'
		];
		return {
			format: 'html' as const,
			path: 'ui/page.html',
			text: lines([...head, ...rows, '\t</select>', '</p>'], eol, final)
		};
	});

const quoted = (text: string) => `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"')}"`;

export const po: fc.Arbitrary<Sample> = fc
	.tuple(ids(), fc.infiniteStream(value), fc.infiniteStream(fc.nat(5)), eols, fc.boolean())
	.map(([keys, values, shapes, eol, final]) => {
		const text = () => quoted(values.next().value!);
		const entries = keys.map((key) => {
			const shape = shapes.next().value!;
			const body = [`msgid "${key}"`, `msgstr ${text()}`];
			if (shape === 0) return ['# said by hand', '#: a.lua:3', '#, c-format, fuzzy', ...body];
			if (shape === 1) return ['msgctxt "bay"', `msgid "${key}"`, 'msgstr ""', text(), text()];
			if (shape === 2)
				return [
					'#, no-wrap',
					`msgid "${key}"`,
					`msgid_plural ${text()}`,
					`msgstr[0] ${text()}`,
					`msgstr[1] ${text()}`
				];
			if (shape === 3) return body.map((line) => `#~ ${line}`);
			return body;
		});
		const head = ['msgid ""', 'msgstr ""', '"Content-Type: text/plain; charset=UTF-8\\n"'];
		const all = [head, ...entries].flatMap((entry, at) => (at > 0 ? ['', ...entry] : entry));
		return { format: 'po' as const, path: 'words/de/some.po', text: lines(all, eol, final) };
	});

const block = (parts: Partial<BlockLayout>) =>
	layoutSchema.parse({ shape: 'block', comments: ['#'], ...parts }) as BlockLayout;

/** Six ways to write block text. */
export const BLOCKS: BlockLayout[] = [
	block({ listOpen: '[', listClose: ']', listSeparator: ',', blockComment: ['/*', '*/'] }),
	block({
		open: '<<',
		close: '>>',
		assign: ':',
		end: ';',
		listOpen: '(',
		listClose: ')',
		quotes: "'",
		escape: '',
		comments: ['//']
	}),
	block({ open: 'begin', close: 'end', assign: '', openAfter: ':', escape: '"', comments: ['--'] }),
	block({ assign: '', comments: [';'], quotes: '"', end: '' }),
	block({ openBefore: 'begin', open: 'begin', close: 'end', assign: '' }),
	block({ heads: ['vessel', 'effect'], open: 'end', close: 'end', assign: '=' })
];

const blockWord = fc.stringMatching(/^[a-z0-9äß漢.]{1,6}$/).filter((text) => !/begin|end/.test(text));

/** Names with one word each, lists of words, and blocks, all in braces behind an equals sign. */
export const BRACES = block({
	openAfter: '=',
	words: true,
	listOpen: '{',
	listClose: '}',
	compares: ['>=', '<=', '>', '<']
});

const inBraces: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(blockWord),
		fc.infiniteStream(fc.nat(6)),
		eols,
		fc.boolean()
	)
	.map(([keys, fields, values, shapes, eol, final]) => {
		const word = () => values.next().value!;
		const pair = (field: string): string => {
			const shape = shapes.next().value!;
			if (shape === 0) return `\t${field} = "${word()} ${word()}"`;
			if (shape === 1) return `\t${field} = { ${word()} "${word()}" ${word()} }`;
			if (shape === 2) return `\t${field} = ${word()} # said behind`;
			if (shape === 3) return `\t${field} >= ${word()}`;
			if (shape === 4) return `\t${field} = { deep = ${word()} wide < ${word()} inner = { ${word()} } }`;
			if (shape === 5) return `\t${field} = rgb { 1 ${word()} 3 }`;
			return `\t${field}=${word()}`;
		};
		const rows = [...new Set(keys)].flatMap((key) => [
			...(shapes.next().value! === 0 ? ['# about the next one'] : []),
			`${key} = {`,
			...[...new Set<string>(fields.next().value!)].map(pair),
			'\tlast = yes',
			'}'
		]);
		return {
			format: 'block' as const,
			path: 'data/some.def',
			text: lines(['@limit = 3', ...rows], eol, final),
			hints: { layout: BRACES }
		};
	});

const markedBlocks: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(blockWord),
		fc.infiniteStream(fc.nat(4)),
		fc.nat(BLOCKS.length - 1),
		eols,
		fc.boolean()
	)
	.map(([keys, fields, values, shapes, which, eol, final]) => {
		const layout = BLOCKS[which]!;
		const word = () => values.next().value!;
		const { quotes, end } = layout;
		const assign = layout.assign === '' ? ' ' : ` ${layout.assign} `;
		const safe = (name: string) => (/begin|end|^id$|^effect$|^vessel$/.test(name) ? `n${name.length}` : name);
		const led = layout.openBefore !== '' || layout.heads.length > 0;
		const lead = layout.openBefore === '' ? '' : `${layout.openBefore} `;
		const open = led
			? ''
			: layout.openAfter === ''
				? ` ${layout.open}`
				: `${layout.openAfter} ${layout.open}`;
		const pair = (field: string): string => {
			const shape = shapes.next().value!;
			if (shape === 0) return `\t${field}${assign}${quotes}${word()} ${word()}${quotes}${end}`;
			if (shape === 1 && layout.listOpen) {
				const items = [word(), word(), word()].join(layout.listSeparator ? `${layout.listSeparator} ` : ' ');
				return `\t${field}${assign}${layout.listOpen}${items}${layout.listClose}${end}`;
			}
			if (shape === 2) return `\t${field}${assign}${word()}${end} ${layout.comments[0]} said behind`;
			return `\t${field}${assign}${word()}${end}`;
		};
		const rows = [...new Set(keys.map(safe))].flatMap((key) => [
			...(shapes.next().value! === 0 ? [`${layout.comments[0]} about the next one`] : []),
			`${lead}vessel ${key}${open}`,
			...([...new Set(fields.next().value!.map(safe))] as string[]).map(pair),
			`\t${lead}effect ${word()}${open}`,
			`\t\tadd${assign}3${end}`,
			`\t${layout.close}`,
			layout.close
		]);
		return {
			format: 'block' as const,
			path: 'data/some.def',
			text: lines(rows, eol, final),
			hints: { layout }
		};
	});

/** Texts in quotes behind their keys, each with a mark at its end. */
export const ENTRIES = block({
	end: ';',
	letters: true,
	comments: ['//'],
	blockComment: ['/*', '*/']
});

const entries: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(fc.oneof(value, fc.constantFrom('two\nlines', 'a\ttab', 'back\\now'))),
		fc.infiniteStream(fc.nat(4)),
		eols,
		fc.boolean()
	)
	.map(([keys, values, shapes, eol, final]) => {
		const text = () =>
			values
				.next()
				.value!.replaceAll('\\', '\\\\')
				.replaceAll('"', '\\"')
				.replaceAll('\n', '\\n')
				.replaceAll('\t', '\\t');
		const rows = keys.flatMap((key) => [
			...(shapes.next().value! === 0 ? ['/* about the next one */'] : []),
			`${shapes.next().value! === 0 ? key : `"${key}"`} = "${text()}";${shapes.next().value! === 0 ? ' // said behind' : ''}`
		]);
		return {
			format: 'block' as const,
			path: 'words/en.texts',
			text: lines(['// all of them', ...rows], eol, final),
			hints: { layout: ENTRIES, at: '' }
		};
	});

export const blockText = fc.oneof(
	{ arbitrary: markedBlocks, weight: 6 },
	{ arbitrary: inBraces, weight: 2 },
	{ arbitrary: entries, weight: 1 }
);

const POSITIONS: PositionalLayout[] = [
	{
		shape: 'positional',
		separator: '',
		comments: ['#'],
		titled: false,
		head: [['version', 'count']],
		record: [['id', 'day', 'x', 'y']],
		count: 'count'
	},
	{
		shape: 'positional',
		separator: ',',
		comments: ['//'],
		titled: false,
		head: [['count']],
		record: [['id'], ['x', 'y']],
		count: 'count'
	},
	{
		shape: 'positional',
		separator: '|',
		comments: [';'],
		titled: false,
		head: [],
		record: [['id', 'days', 'note']],
		count: null
	},
	{
		shape: 'positional',
		separator: '',
		comments: ['%%'],
		titled: true,
		head: [],
		record: [['id', 'cost', 'of']],
		count: null
	}
];

export const positional: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(fc.stringMatching(/^[a-z0-9.äツ-]{1,6}$/)),
		fc.infiniteStream(fc.nat(4)),
		fc.nat(POSITIONS.length - 1),
		eols,
		fc.boolean()
	)
	.map(([keys, values, shapes, which, eol, final]) => {
		const layout = POSITIONS[which]!;
		const mark = layout.comments[0]!;
		const join = layout.separator === '' ? ' ' : layout.separator;
		const next = () => values.next().value!;
		const behind = () => (shapes.next().value! === 0 ? ` ${mark} said` : '');
		const heads = [
			[`3 ${String(keys.length).padStart(3, '0')} ${mark} version, how many`],
			[`${keys.length}`],
			[],
			['%% what there is', 'id   cost  of', '%%------------']
		];
		const rows = keys.flatMap((key) => [
			...(shapes.next().value! === 0 ? [`${mark} about the next one`] : []),
			...layout.record.map(
				(names) => names.map((field) => (field === 'id' ? key : next())).join(join) + behind()
			)
		]);
		return {
			format: 'positional' as const,
			path: 'data/some.lst',
			text: lines([...pick(heads, which), ...rows], eol, final),
			hints: { layout }
		};
	});

export const textLines: fc.Arbitrary<Sample> = fc
	.tuple(ids(), fc.infiniteStream(fc.stringMatching(/^[a-z0-9äツ]{1,6}$/)), fc.boolean(), eols, fc.boolean())
	.map(([keys, values, patterned, eol, final]) => {
		const next = () => values.next().value!;
		const rows = keys.map((key) => (patterned ? `${key} -> ${next()} @ ${next()}` : `${key} ${next()}`));
		const pattern = patterned ? '^(?<id>\\w+) -> (?<to>\\S+) @ (?<at>\\S+)$' : null;
		return {
			format: 'lines' as const,
			path: 'data/some.txt',
			text: lines(['# of all', ...rows], eol, final),
			hints: { layout: { shape: 'lines' as const, pattern, comments: ['#'] } }
		};
	});

/** A value that a word of block text can be. */
export const blockValue = blockWord;
