// Scripts of a mod carried over to versions of which every changed line is known: each is as it is to be, or put to the
// modder.
import { expect, test } from 'vitest';
import { carryMod } from '$core/carry';
import { bytesOf } from '$core/change';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import { randomBy } from '../random';
import { runs } from '../runs';
import { WORDS } from './updates';

/** A function of a script: its name, and the numbers that it sets, each on a line of its own. */
interface Part {
	name: string;
	head: string[];
	lines: { name: string; value: string }[];
}
type Script = Part[];

const guide = parseGuide(`guide: 1
kinds:
  crew: { title: Crew, files: ['crew.csv'], key: id, merge: record }
`);

const textOf = (script: Script, indent: string): string =>
	script
		.map(({ name, head, lines }) =>
			[
				...head,
				`local function ${name}(hour)`,
				...lines.map(({ name: own, value }) => `${indent}local ${own} = ${value}`),
				`${indent}return hour`,
				'end',
				''
			].join('\n')
		)
		.join('\n');

function scripts(random: () => number): Script[] {
	const word = () => WORDS[Math.floor(random() * WORDS.length)]!;
	return Array.from({ length: 8 }, () =>
		Array.from({ length: 6 }, (_, nth) => ({
			name: `${word()}_${nth}`,
			head: random() < 0.4 ? [`-- How the ${word()} is kept.`] : [],
			lines: Array.from({ length: 2 + Math.floor(random() * 5) }, (__, at) => ({
				name: `${word()}_${at}`,
				value: String(Math.floor(random() * 90))
			}))
		}))
	);
}

/** The next version of scripts: lines that shift, change, come and go, and functions in another order. */
function updated(old: Script[], random: () => number): Script[] {
	const next = structuredClone(old);
	for (const script of next) {
		if (random() < 0.4)
			script[0]!.head.unshift('-- Read twice an hour.', `local calm_${Math.floor(random() * 99)} = 2`);
		for (const part of script) {
			for (const line of part.lines) if (random() < 0.06) line.value = `${line.value}.5`;
			if (random() < 0.1)
				part.lines.splice(Math.floor(random() * part.lines.length), 0, { name: 'late', value: '1' });
			if (random() < 0.05 && part.lines.length > 1)
				part.lines.splice(Math.floor(random() * part.lines.length), 1);
		}
		if (random() < 0.2) script.splice(Math.floor(random() * script.length), 1);
		if (random() < 0.3)
			script.splice(Math.floor(random() * script.length), 0, {
				name: `fresh_${Math.floor(random() * 99)}`,
				head: [],
				lines: [{ name: 'first', value: '3' }]
			});
		if (random() < 0.15) script.reverse();
	}
	return next;
}

const bytes = (list: readonly string[]) =>
	new Map([
		['crew.csv', new TextEncoder().encode('id,pay\nmate,3\n')],
		...list.map((text, nth) => [`scripts/${nth}.lua`, new TextEncoder().encode(text)] as const)
	]);
const stackOf = (base: readonly string[], mod: ReadonlyMap<string, Uint8Array>) =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: bytes(base) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: mod }
		],
		guide
	);

test('scripts with shifted, changed, new and missing lines: each of my lines is in its place, or its script is put to the modder', () => {
	const count = { right: 0, asked: 0, needless: 0, changed: 0 };
	for (let seed = 1; seed <= runs(50); seed++) {
		const random = randomBy(seed * 131);
		const old = scripts(random);
		const next = updated(old, random);
		// My changes, and the next version with each of them where it belongs; none where it has no place of its own.
		const own = structuredClone(old);
		const truth: (Script | null)[] = structuredClone(next);
		const mod = new Map<string, Uint8Array>();
		for (const [nth, script] of own.entries()) {
			for (const [at, part] of script.entries())
				for (const [line, one] of part.lines.entries()) {
					if (random() > 0.12) continue;
					const was = one.value;
					one.value = `${was}00`;
					count.changed++;
					const there = truth[nth]?.find(({ name }) => name === old[nth]![at]!.name);
					const same = there?.lines.find(({ name }) => name === part.lines[line]!.name);
					if (same?.value === was) same.value = one.value;
					else truth[nth] = null;
				}
			if (JSON.stringify(script) !== JSON.stringify(old[nth]))
				mod.set(`scripts/${nth}.lua`, new TextEncoder().encode(textOf(script, '\t')));
		}
		const texts = (list: Script[]) => list.map((script) => textOf(script, '\t'));
		const { items, files } = carryMod(stackOf(texts(old), mod), stackOf(texts(next), new Map()));
		for (const path of mod.keys()) {
			const nth = Number(/\d+/.exec(path)![0]);
			const file = files.get(path);
			const result = file ? new TextDecoder().decode(bytesOf(file)) : texts(next)[nth]!;
			const item = items.find(({ record }) => record === path);
			const isAsked = item?.what === 'undecided' || item?.what === 'homeless';
			const right = truth[nth] && textOf(truth[nth]!, '\t');
			if (result === right) count.right++;
			else if (isAsked) {
				count.asked++;
				if (right) count.needless++;
				expect(result, `${seed} ${path}`).toBe(textOf(own[nth]!, '\t'));
			} else expect(result, `${seed} ${path}: ${item?.why}`).toBe(right);
		}
	}
	expect(count.right).toBeGreaterThan(count.asked);
});
