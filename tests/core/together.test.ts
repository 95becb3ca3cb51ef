// Many small files gone through as one: every record has the cells that it has in its file.
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { createPool, fieldsAt, settleFacts, type Facts } from '$core/facts';
import type { DataFile } from '$core/infer/group';
import { placesOf, sketchOf, sketchOfAll } from '$core/infer/sketch';
import { isKept, letRunsGo, runsOf } from '$core/infer/together';
import { readFacts } from '$core/stack';

const record = fc.dictionary(
	fc.constantFrom('name', 'hands', 'crew', 'by'),
	fc.oneof(
		fc.constantFrom('gull', 'tern', ''),
		fc.nat(3),
		fc.array(fc.constantFrom('a', 'b'), { maxLength: 3 })
	)
);
const small = fc.array(record, { minLength: 1, maxLength: 4 });
const large = fc.array(record, { minLength: 32, maxLength: 34 });
const game = fc.array(fc.oneof({ weight: 4, arbitrary: small }, { weight: 1, arbitrary: large }), {
	minLength: 1,
	maxLength: 9
});

function filesOf(records: readonly object[][]): DataFile[] {
	const pool = createPool();
	return records.map((list, nth) => {
		const path = `data/${nth}.json`;
		const bytes = new TextEncoder().encode(
			JSON.stringify(list.map((one, at) => ({ id: `${nth}_${at}`, ...one })))
		);
		return { path, facts: settleFacts(readFacts(path, bytes, { hints: { whole: true, key: 'id' } })!, pool) };
	});
}

/** The fields of every record, by its file and number, as they are in the runs. */
function inRuns(files: readonly DataFile[]): [string, number, [string, string, number][]][] {
	return runsOf(files).flatMap(({ files: own, begins, cells }) => {
		const { pool, shapes, shape, firsts, values, types, count } = cells;
		return Array.from({ length: count }, (_, nth): [string, number, [string, string, number][]] => {
			const of = begins.findLastIndex((begin) => begin <= nth);
			const fields = Array.from(shapes[shape[nth]!]!, (path, at): [string, string, number] => {
				const cell = firsts[nth]! + at;
				return [pool.at(path), pool.at(values[cell]!), types[cell]!];
			});
			return [own[of]!.path, nth - begins[of]!, fields];
		});
	});
}

const inFiles = (files: readonly DataFile[]) =>
	files.flatMap(({ path, facts }) =>
		Array.from({ length: facts.count }, (_, nth) => [
			path,
			nth,
			fieldsAt(facts, nth).map(({ path: field, value, type }) => [field, value, type])
		])
	);

/** How often each value is in each column of some files, added up file by file. */
function counted(all: readonly Facts[]): Map<string, Map<number, number>> {
	const found = new Map<string, Map<number, number>>();
	for (const facts of all)
		for (const [path, { values, counts }] of sketchOf(facts).columns) {
			const own = found.get(path) ?? new Map<number, number>();
			found.set(path, own);
			values.forEach((value, at) => own.set(value, (own.get(value) ?? 0) + counts[at]!));
		}
	return found;
}

test('law: runs have the records of their files, and large files stay by themselves', () => {
	fc.assert(
		fc.property(game, (records) => {
			const files = filesOf(records);
			letRunsGo();
			expect(inRuns(files)).toEqual(inFiles(files));
			const runs = runsOf(files);
			expect(runsOf(files)).toBe(runs);
			expect(runs.flatMap((run) => run.files)).toEqual(files);
			for (const { files: own, cells } of runs)
				if (own.some(({ facts }) => isKept(facts))) expect(cells).toBe(own[0]!.facts);
			// Two small ones that follow each other are always together.
			for (const [at, { files: own }] of runs.entries())
				if (at > 0) expect(isKept(own[0]!.facts) || isKept(runs[at - 1]!.files.at(-1)!.facts)).toBe(true);
		}),
		{ numRuns: 150 }
	);
});

test('law: the columns of many files are those of each, added up', () => {
	fc.assert(
		fc.property(game, (records) => {
			const files = filesOf(records);
			const sum = sketchOfAll(files);
			const all = files.map(({ facts }) => facts);
			const own = new Map(
				[...sum.columns].map(([path, { values, counts }]) => [
					path,
					new Map(Array.from(values, (value, at) => [value, counts[at]!]))
				])
			);
			expect(own).toEqual(counted(all));
			expect(sum.count).toBe(all.reduce((count, facts) => count + facts.count, 0));
			for (const { cells } of runsOf(files)) expect(placesOf(cells)).toHaveLength(cells.shapes.length);
		}),
		{ numRuns: 150 }
	);
});
