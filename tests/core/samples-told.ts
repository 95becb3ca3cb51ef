// Made-up files of the formats that are detected from what is in them.
import fc from 'fast-check';
import { eols, ids, lines, type Sample } from './sample-parts';

/** Words as they are in such files. */
const word = fc.stringMatching(/^[a-zäツ][a-z0-9äツ]{0,7}$/);

const numbers = fc.infiniteStream(fc.nat(99));
const words = fc.infiniteStream(word);
const shapes = fc.infiniteStream(fc.nat(5));
const some = {
	keys: ids(),
	fields: fc.infiniteStream(ids()),
	words,
	numbers,
	shapes,
	eol: eols,
	final: fc.boolean()
};

const flatSections: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, fields, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.flatMap((key) => [
		...(shape() === 0 ? ['; about the next one'] : []),
		'[tool]',
		`id   = "${key}"`,
		...fields
			.next()
			.value!.filter((field: string) => field !== 'id')
			.flatMap((field: string) => {
				switch (shape()) {
					case 0:
						return [`${field} = _("${next()} ${next()}")`];
					case 1:
						return [`${field} = "${next()}`, `${next()} ${next()}"`];
					case 2:
						return [`${field} = "${next()}", "${next()}", "${next()}"`];
					case 3:
						return [
							`${field} = { "what", "many"`,
							`          "${next()}", ${made.numbers.next().value!}`,
							`          "${next()}", ${made.numbers.next().value!} # said behind`,
							'        }'
						];
					default:
						return [`${field}=${made.numbers.next().value!} # said behind`];
				}
			}),
		''
	]);
	return {
		format: 'sections' as const,
		path: 'data/some.rules',
		text: lines(rows, eol, final),
		hints: { format: 'sections', element: 'tool' }
	};
});

/** Sections in sections, each with a tag that closes it. */
const nestedSections: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, fields, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.flatMap((key) => [
		...(shape() === 0 ? ['# about the next one'] : []),
		'[beast]',
		`    id=${key}`,
		...[...new Set<string>(fields.next().value!)]
			.filter((field) => field !== 'id')
			.map((field) => `    ${field}=${shape() === 0 ? `_ "${next()} ${next()}"` : next()}`),
		'    {GROWS 3}',
		...Array.from({ length: 1 + (shape() % 2) }, () => [
			'    [bite]',
			`        with=${next()}${shape() === 0 ? ' # said behind' : ''}`,
			...(shape() === 0 ? ['        [then]', `            call=${next()}`, '        [/then]'] : []),
			'    [/bite]'
		]).flat(),
		'[/beast]',
		''
	]);
	return {
		format: 'sections' as const,
		path: 'data/some.herd',
		text: lines(rows, eol, final),
		hints: { format: 'sections', element: 'beast', key: 'id' }
	};
});

export const sections = fc.oneof(
	{ arbitrary: flatSections, weight: 2 },
	{ arbitrary: nestedSections, weight: 1 }
);

const byLine: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.flatMap((key) => [
		...(shape() === 0 ? ['# about the next one'] : []),
		`N:${key}:${next()} ${next()}`,
		`I:${made.numbers.next().value!}:${next()}:${made.numbers.next().value!}`,
		...(shape() < 3 ? [`S:${next()}:${next()}`] : []),
		...(shape() < 3 ? [`D:${next()}: ${next()}`, `D:${next()}`] : []),
		''
	]);
	return {
		format: 'tagged' as const,
		path: 'data/some.lib',
		text: lines(['V:2.6', '', ...rows], eol, final),
		hints: {
			layout: {
				shape: 'tagged' as const,
				first: 'N',
				separator: ':',
				brackets: null,
				texts: ['D'],
				comments: ['#']
			}
		}
	};
});

const inBrackets: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.flatMap((key) => [
		...(shape() === 0 ? ['Some words about the next one.', ''] : []),
		`[BEAST:${key}]`,
		`\t[NAME:${next()}:${next()} ${next()}]${shape() < 2 ? '[FLIES]' : ''}`,
		...(shape() < 3 ? [`\t[SIZE:${made.numbers.next().value!}] in stones`] : []),
		...(shape() < 3 ? [`\t[FEEDS:${next()}][FEEDS:${next()}:${next()}]`] : []),
		`\t[LAST:${next()}]`,
		''
	]);
	return {
		format: 'tagged' as const,
		path: 'data/beasts.raw',
		text: lines(['beasts', '', '[OBJECT:BEAST]', '', ...rows], eol, final),
		hints: {
			layout: {
				shape: 'tagged' as const,
				first: 'BEAST',
				separator: ':',
				brackets: ['[', ']'] as [string, string],
				texts: [],
				comments: []
			}
		}
	};
});

export const tagged = fc.oneof({ arbitrary: byLine, weight: 3 }, { arbitrary: inBrackets, weight: 1 });

export const indented: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, fields, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.flatMap((key) => [
		...(shape() === 0 ? ['# about the next one'] : []),
		shape() === 0 ? `beast "${key}"` : `beast ${key}`,
		...fields.next().value!.flatMap((field: string) => {
			switch (shape()) {
				case 0:
					return [`\t${field} "${next()} ${next()}"`];
				case 1:
					return [`\t${field} ${next()} ${made.numbers.next().value!} "${next()}"`];
				case 2:
					return [`\t${field}`, `\t\tpitch ${made.numbers.next().value!}`, `\t\tevery ${next()}`];
				case 3:
					return [`\t${field} \`${next()}\` # said behind`];
				default:
					return [`\t${field} ${next()}`];
			}
		}),
		''
	]);
	return {
		format: 'indented' as const,
		path: 'data/some.herd',
		text: lines(rows, eol, final),
		hints: { format: 'indented', element: 'beast' }
	};
});

export const outline: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, fields, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.flatMap((key) => [
		...(shape() === 0 ? ['# about the next one'] : []),
		shape() === 0 ? `${key}: # a beast` : `${key}:`,
		...[...new Set<string>(fields.next().value!)].flatMap((field: string) => {
			switch (shape()) {
				case 0:
					return [`\t${field}: ${next()} ${next()}`];
				case 1:
					return [`\t${field}@two:`, `\t\tpitch: ${made.numbers.next().value!}`, `\t\tevery: ${next()}`];
				case 2:
					return [`\t${field}: ${next()}`, `\t\tdeep: ${next()}:${next()}`];
				case 3:
					return [`\t${field}: ${next()} # said behind`];
				default:
					return [`\t${field}:${next().length % 2 ? '  ' : ' '}${next()}`];
			}
		}),
		'\tlast: yes',
		''
	]);
	return {
		format: 'outline' as const,
		path: 'data/some.beasts',
		text: lines(rows, eol, final),
		hints: { format: 'outline', at: '' }
	};
});

/** Lists in parentheses: each thing called by the word behind what it is. */
const calledLists: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, fields, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.flatMap((key) => [
		...(shape() === 0 ? [';; about the next one'] : []),
		shape() === 0 ? `(beast "${key}"` : `(beast ${key}`,
		...[...new Set<string>(fields.next().value!)].flatMap((field: string) => {
			switch (shape()) {
				case 0:
					return [`\t(${field} "${next()} \\"${next()}\\"")`];
				case 1:
					return [`\t(${field}@two ${next()} ${made.numbers.next().value!} "${next()}") ; said behind`];
				case 2:
					return [`\t(${field}@deep (pitch ${made.numbers.next().value!})`, `\t\t(every (_ "${next()}")))`];
				case 3:
					return [`\t( ${field} . ${next()} ) #| said ( behind |#`];
				default:
					return [`\t(${field}`, `\t\t${next()})`];
			}
		}),
		`\t(last yes))`,
		''
	]);
	return {
		format: 'parens' as const,
		path: 'data/some.herd',
		text: lines(rows, eol, final),
		hints: { format: 'parens', element: 'beast' }
	};
});

/** Lists in one list, with words that say what is behind them; the id is one of these. */
const keyedLists: fc.Arbitrary<Sample> = fc.record(some).map((made) => {
	const { keys, fields, eol, final } = made;
	const next = () => made.words.next().value!;
	const shape = () => made.shapes.next().value!;
	const rows = keys.map((key) => {
		const said = [...new Set<string>(fields.next().value!)]
			.filter((field) => field !== 'id')
			.map((field: string) => {
				if (shape() === 0) return `:${field} (${next()} ${next()} ${made.numbers.next().value!})`;
				return shape() === 1 ? `:${field} "${next()} ${next()}"` : `:${field} ${next()}`;
			});
		return `  (:id ${key} ${said.join(' ')}${said.length > 0 ? ' ' : ''}:last yes)`;
	});
	return {
		format: 'parens' as const,
		path: 'data/some.flock',
		text: lines(["'(", ...rows, ')'], eol, final),
		hints: { format: 'parens', key: 'id' }
	};
});

export const parens = fc.oneof({ arbitrary: calledLists, weight: 3 }, { arbitrary: keyedLists, weight: 1 });

export const groups: fc.Arbitrary<Sample> = fc.record(some).map((made) => ({
	format: 'groups' as const,
	path: 'words/de.pairs',
	text: lines(
		made.keys.flatMap((key) => [key, `${made.words.next().value!} ${made.words.next().value!}`]),
		made.eol,
		made.final
	),
	hints: { layout: { shape: 'groups' as const, names: ['source', 'text'] } }
}));

/** A value that a field of each of them can hold. */
export const toldValue = word;
