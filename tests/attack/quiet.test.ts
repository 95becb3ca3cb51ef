// Games that load cleanly as they are: nothing blocks or warns while a mod is empty, or holds one harmless change.
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { makeGuided } from '../../bench/guided';
import { checkStack } from '$core/checks';
import { bytesOf, applyPlan } from '$core/change';
import { myFiles, NotPossible, planFor } from '$core/edits';
import { EditRefused } from '$core/formats';
import { EMPTY_GUIDE, fieldOf } from '$core/guide';
import { type Stack } from '$core/stack';
import { assembleStack } from '$core/model';
import {} from '$core/text';
import { randomFrom, times } from './helpers';

type Files = Map<string, Uint8Array>;

function filesBelow(folder: string): Files {
	const files: Files = new Map();
	for (const path of readdirSync(folder, { recursive: true }).map(String))
		if (statSync(join(folder, path)).isFile()) files.set(path, readFileSync(join(folder, path)));
	return files;
}

const stackOf = (base: Files, mine: Files): Stack =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: base },
			{ id: 'mine', title: 'Mine', owner: 'me', files: mine }
		],
		EMPTY_GUIDE
	);
const told = (stack: Stack) =>
	checkStack(stack)
		.filter(({ severity }) => severity !== 'note')
		.map(({ rule, message }) => `${rule}: ${message}`);

/** A change that does no harm: a number of a record becomes one that another record of the kind has there. */
function harmless(
	stack: Stack,
	random: () => number
): { plan: ReturnType<typeof planFor>; said: string } | null {
	const tables = [...stack.tables.values()].filter((table) => table.count >= 4);
	for (let tries = 0; tries < 60 && tables.length > 0; tries++) {
		const table = tables[Math.floor(random() * tables.length)]!;
		const field = table.columns[Math.floor(random() * table.columns.length)]!;
		const about = fieldOf(table.guide, field);
		if (
			about?.reference ||
			about?.counts !== undefined ||
			about?.notBefore !== undefined ||
			field === table.guide.key
		)
			continue;
		if (
			(table.guide.covers ?? []).some(({ axes }) => axes.some(({ from, to }) => [from, to].includes(field)))
		)
			continue;
		const [one, other] = [0, 1].map(() => table.records[Math.floor(random() * table.count)]!);
		const value = other!.value(field);
		if (
			value === undefined ||
			value === '' ||
			!/^-?\d+(\.\d+)?$/.test(value) ||
			one!.value(field) === undefined
		)
			continue;
		// Values that are there once are not to be there twice.
		const all = table.records.map((record) => record.value(field));
		if (new Set(all).size === all.length) continue;
		try {
			const plan = planFor(
				stack,
				{ do: 'set', kind: table.kind, id: one!.id, field, value, including: ['twin', 'derived'] },
				'mod'
			);
			return { plan, said: plan.title };
		} catch (fault) {
			if (!(fault instanceof NotPossible || fault instanceof EditRefused)) throw fault;
		}
	}
	return null;
}

const GAMES: [string, () => Files][] = [
	['the demo without its guide', () => filesBelow('demo/base')],
	...Array.from({ length: 10 }, (_, nth): [string, () => Files] => [
		`made-up game ${nth + 1}`,
		() => new Map(makeGuided(nth + 1).files.map(({ path, text }) => [path, new TextEncoder().encode(text)]))
	])
];

test.each(GAMES)('%s is told nothing, nor is a harmless change to it', (name, open) => {
	const base = open();
	const stack = stackOf(base, new Map());
	expect(told(stack)).toEqual([]);
	const random = randomFrom(name.length * 77 + name.charCodeAt(name.length - 1));
	for (let change = 0; change < times(2, 40); change++) {
		const found = harmless(stack, random);
		if (!found) continue;
		const files = applyPlan(myFiles(stack), found.plan);
		const mine: Files = new Map([...files].map(([path, file]) => [path, bytesOf(file)]));
		expect({ [found.said]: told(stackOf(base, mine)) }).toEqual({ [found.said]: [] });
	}
});
