// Twelve layouts, each of another make: byte orders, code pages, pools, addresses, lists, bits, check sums.
import { letters, makeOf, type Make, type Row } from './packed-layouts';

type Random = () => number;

const upTo = (random: Random, most: number) => Math.floor(random() * most);
const some = (random: Random, least: number, most: number) => least + upTo(random, most - least + 1);
const rows = (random: Random, make: (nth: number) => Row): Row[] =>
	Array.from({ length: some(random, 3, 12) }, (_, nth) => make(nth));
const WORDS = ['gull', 'tern', 'auk', 'skua', 'petrel', 'eider', 'knot', 'snipe', 'dunlin'];
const word = (random: Random) => WORDS[upTo(random, WORDS.length)]!;

/** Values behind each other, with the offset of each. */
function pooled(values: readonly Buffer[], align = 1): [Buffer, number[]] {
	const parts: Buffer[] = [];
	const places: number[] = [];
	let at = 0;
	for (const value of values) {
		const gap = (align - (at % align)) % align;
		parts.push(Buffer.alloc(gap), value);
		places.push(at + gap);
		at += gap + value.length;
	}
	return [Buffer.concat(parts), places];
}
const number = (write: (bytes: Buffer) => void, size: number) => {
	const bytes = Buffer.alloc(size);
	write(bytes);
	return bytes;
};
const u16 = (value: number) => number((bytes) => bytes.writeUInt16LE(value), 2);
const f32 = (value: number) => number((bytes) => bytes.writeFloatLE(value), 4);
const before = (text: Buffer) => Buffer.concat([Buffer.from([text.length]), text]);
const ended = (text: Buffer, unit = 1) => Buffer.concat([text, Buffer.alloc(unit)]);

export const MAKES: readonly [string, (random: Random) => Promise<Make>][] = [
	[
		'bytes in a fixed number of rows',
		(random) =>
			makeOf(
				'plain',
				{
					shape: 'packed',
					tables: [{ name: 'marks', rows: 5, fields: [{ name: 'a' }, { name: 'b', as: 'i8' }, {}] }]
				},
				{ marks: Array.from({ length: 5 }, () => ({ a: upTo(random, 256), b: some(random, -128, 127) })) }
			)
	],
	[
		'high bytes first, counted in the head',
		(random) =>
			makeOf(
				'counted',
				{
					shape: 'packed',
					order: 'big',
					head: [{ name: 'n', as: 'u32', counts: 'boats' }],
					tables: [
						{
							name: 'boats',
							grows: true,
							fields: [
								{ name: 'speed', as: 'u16' },
								{ name: 'tow', as: 'i16' },
								{ name: 'worth', as: 'i32' },
								{ name: 'low', as: 'u32', order: 'little' }
							]
						}
					]
				},
				{
					boats: rows(random, () => ({
						speed: upTo(random, 65536),
						tow: some(random, -32768, 32767),
						worth: some(random, -(2 ** 31), 2 ** 31 - 1),
						low: upTo(random, 2 ** 32)
					}))
				}
			)
	],
	[
		'names in the rows, up to the end of the file',
		(random) =>
			makeOf(
				'named',
				{
					shape: 'packed',
					tables: [
						{
							name: 'boats',
							grows: true,
							key: 'name',
							fields: [{ name: 'name', as: 'text', length: 12 }, { name: 'seats' }]
						}
					]
				},
				{
					boats: rows(random, (nth) => ({ name: letters(`${word(random)}${nth}`), seats: upTo(random, 256) }))
				}
			)
	],
	[
		'texts with spaces, floating numbers, a mark and the size of the file',
		(random) =>
			makeOf(
				'spaced',
				{
					shape: 'packed',
					order: 'big',
					encoding: 'windows-1252',
					head: [
						{ name: 'mark', as: 'text', length: 4, is: 'KDIT' },
						{ name: 'size', as: 'u32', measures: 'file' },
						{ name: 'n', as: 'u8', counts: 'bays' }
					],
					tables: [
						{
							name: 'bays',
							grows: true,
							fields: [
								{ name: 'title', as: 'text', length: 10, pad: 'space' },
								{ name: 'x', as: 'f32' },
								{ name: 'y', as: 'f64' }
							]
						}
					]
				},
				{
					bays: rows(random, () => ({
						title: letters(`é${word(random)}`, 'windows-1252'),
						x: some(random, -4000, 4000) / 8,
						y: random()
					}))
				}
			)
	],
	[
		'Shift_JIS and bits',
		(random) =>
			makeOf(
				'bits',
				{
					shape: 'packed',
					encoding: 'shift_jis',
					head: [{ name: 'n', as: 'u16', counts: 'crew' }],
					tables: [
						{
							name: 'crew',
							grows: true,
							fields: [
								{ name: 'call', as: 'text', length: 8 },
								{ name: 'can', as: 'u8', bits: { swim: 0, dive: 1, rank: [3, 5] } },
								{ name: 'wide', as: 'u16', bits: { low: [0, 11], top: 15 } }
							]
						}
					]
				},
				{
					crew: rows(random, () => ({
						call: letters('カモメ', 'shift_jis'),
						can: upTo(random, 256),
						wide: upTo(random, 65536)
					}))
				}
			)
	],
	[
		'numbers that rows share, in a file of one size',
		(random) => {
			const [pool, places] = pooled([120, 300, 450, 900].map(u16));
			return makeOf(
				'shared',
				{
					shape: 'packed',
					head: [{ name: 'n', as: 'u8', counts: 'keys' }],
					tables: [
						{
							name: 'keys',
							fields: [
								{ name: 'key', as: 'text', length: 1 },
								{ name: 'pad' },
								{ name: 'delay', as: 'u16', to: 'delays' }
							]
						}
					],
					pools: [{ name: 'delays', as: 'u16' }]
				},
				{
					keys: rows(random, (nth) => ({
						key: Buffer.from([65 + nth]),
						pad: upTo(random, 13),
						delay: places[upTo(random, 4)]!
					}))
				},
				{ delays: pool }
			);
		}
	],
	[
		'texts that end with zero, in a pool that grows',
		(random) => {
			const [pool, places] = pooled(WORDS.map((one) => ended(letters(one))));
			return makeOf(
				'texts',
				{
					shape: 'packed',
					head: [
						{ name: 'sum', as: 'u32' },
						{ name: 'n', as: 'u16', counts: 'things' },
						{ name: 'things_at', as: 'u32', starts: 'things' },
						{ name: 'names_at', as: 'u32', starts: 'names' },
						{ name: 'names_size', as: 'u32', measures: 'names' }
					],
					tables: [
						{
							name: 'things',
							grows: true,
							fields: [
								{ name: 'name', as: 'u32', to: 'names', from: 'target' },
								{ name: 'weight', as: 'u16' }
							]
						}
					],
					pools: [{ name: 'names', grows: true }],
					sums: [{ in: 'sum' }]
				},
				{
					things: rows(random, () => ({
						name: places[upTo(random, places.length)]!,
						weight: upTo(random, 65536)
					}))
				},
				{ names: pool }
			);
		}
	],
	[
		'texts behind their length, with a check sum at the end',
		(random) => {
			const [pool, places] = pooled(WORDS.map((one) => before(letters(one, 'windows-1252'))));
			return makeOf(
				'measured',
				{
					shape: 'packed',
					order: 'big',
					encoding: 'windows-1252',
					head: [{ name: 'n', as: 'u16', counts: 'calls' }],
					tables: [
						{
							name: 'calls',
							fields: [
								{ name: 'text', as: 'u16', to: 'texts' },
								{ name: 'odds', as: 'u8' }
							]
						}
					],
					pools: [{ name: 'texts', length: 'u8', size: pool.length }],
					sums: [{ as: 'crc16', of: 'before' }]
				},
				{
					calls: rows(random, () => ({ text: places[upTo(random, places.length)]!, odds: upTo(random, 101) }))
				},
				{ texts: pool }
			);
		}
	],
	[
		'texts of one length, and a sum with zeros in its place',
		(random) => {
			const [pool, places] = pooled(
				WORDS.map((one) => Buffer.concat([letters(one), Buffer.alloc(8 - one.length)]))
			);
			return makeOf(
				'even',
				{
					shape: 'packed',
					head: [
						{ name: 'sum', as: 'u16' },
						{ name: 'n', as: 'u8', counts: 'omens' }
					],
					tables: [{ name: 'omens', grows: true, fields: [{ name: 'word', as: 'u16', to: 'words' }] }],
					pools: [{ name: 'words', length: 8, align: 1, grows: true }],
					sums: [{ as: 'sum16', in: 'sum', of: 'zeroed' }]
				},
				{ omens: rows(random, () => ({ word: places[upTo(random, places.length)]! })) },
				{ words: pool }
			);
		}
	],
	[
		'two tables of which one points at the other',
		(random) => {
			const engines = rows(random, (nth) => ({ id: letters(`e${nth}`), power: upTo(random, 1000) }));
			return makeOf(
				'tables',
				{
					shape: 'packed',
					head: [
						{ name: 'sum', as: 'u8' },
						{ name: 'engines_n', as: 'u8', counts: 'engines' },
						{ name: 'engines_at', as: 'u16', starts: 'engines' },
						{ name: 'boats_n', as: 'u8', counts: 'boats' },
						{ name: 'boats_at', as: 'u16', starts: 'boats' }
					],
					tables: [
						{
							name: 'engines',
							grows: true,
							key: 'id',
							length: 8,
							fields: [
								{ name: 'id', as: 'text', length: 6 },
								{ name: 'power', as: 'u16' }
							]
						},
						{
							name: 'boats',
							grows: true,
							key: 'id',
							length: 8,
							fields: [
								{ name: 'id', as: 'text', length: 6 },
								{ name: 'engine', as: 'u16', to: 'engines', none: 0 }
							]
						}
					],
					sums: [{ as: 'xor8', in: 'sum', of: 'others' }]
				},
				{
					engines,
					boats: rows(random, (nth) => ({
						id: letters(`b${nth}`),
						engine: random() < 0.2 ? 0 : 8 * upTo(random, engines.length)
					}))
				}
			);
		}
	],
	[
		'lists, gaps, wide numbers and bytes',
		(random) =>
			makeOf(
				'wide',
				{
					shape: 'packed',
					head: [{ name: 'n', as: 'u32', counts: 'rows' }],
					tables: [
						{
							name: 'rows',
							grows: true,
							length: 48,
							fields: [
								{ name: 'slots', as: 'u16', times: 3 },
								{ as: 'bytes', length: 2 },
								{ name: 'far', as: 'i64' },
								{ name: 'big', as: 'u64', order: 'big' },
								{ name: 'raw', as: 'bytes', length: 4 },
								{ name: 'fix', as: 'u16', is: 513 },
								{ name: 'tags', as: 'text', length: 3, times: 2 }
							]
						}
					]
				},
				{
					rows: rows(random, () => ({
						'slots[0]': upTo(random, 9),
						'slots[1]': upTo(random, 9),
						'slots[2]': upTo(random, 9),
						'': Buffer.from([1, 2]),
						far: upTo(random, 2 ** 40),
						big: upTo(random, 2 ** 50),
						raw: Buffer.from([1, 2, 3, upTo(random, 256)]),
						'tags[0]': letters('ab'),
						'tags[1]': letters('c')
					}))
				}
			)
	],
	[
		'UTF-16, floating numbers in a pool, and addresses of the other byte order',
		(random) => {
			const [texts, places] = pooled(
				WORDS.map((one) => ended(letters(one, 'utf-16le'), 2)),
				2
			);
			const [numbers, spots] = pooled([0.25, 1.5, -2, 0.1].map(f32), 4);
			return makeOf(
				'far',
				{
					shape: 'packed',
					encoding: 'utf-16le',
					head: [
						{ name: 'n', as: 'u16', counts: 'texts' },
						{ name: 'words_at', as: 'u16', starts: 'words' },
						{ name: 'odds_at', as: 'u16', starts: 'odds' },
						{ as: 'bytes', length: 2 }
					],
					tables: [
						{
							name: 'texts',
							fields: [
								{ name: 'text', as: 'u32', order: 'big', to: 'words' },
								{ name: 'chance', as: 'u16', order: 'big', to: 'odds', from: 'target' },
								{ as: 'bytes', length: 2 }
							]
						}
					],
					pools: [
						{ name: 'odds', as: 'f32', align: 4, size: 16 },
						{ name: 'words', align: 2, grows: true }
					]
				},
				{
					texts: rows(random, () => ({
						text: places[upTo(random, places.length)]!,
						chance: spots[upTo(random, 4)]!
					}))
				},
				{ odds: numbers, words: texts }
			);
		}
	]
];
