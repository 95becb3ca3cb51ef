// Patches: what they make of the file that they were made from, of other versions of it, and of what only looks like it.
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { applyPatch, filePatch, PatchFault, printPatch, readPatch, type Patch } from '$core/patch';
import type { FileContent } from '$core/change';
import { textLike } from '$core/text';
import { randomBy } from '../random';

const text = (content: string): FileContent => textLike(content, { encoding: 'utf-8', bom: false });

/** A patch that was printed and read again. */
const patchOf = (
	before: FileContent | undefined,
	after: FileContent | undefined,
	path = 'scripts/tide.lua'
): Patch => {
	const one = filePatch(path, before, after);
	return one ? readPatch(printPatch({ files: [one] })) : { files: [] };
};

function applied(patch: Patch, on: FileContent | undefined): FileContent | null | 'refused' {
	const result = applyPatch(patch, () => on);
	return result.applied ? (result.files[0]?.after ?? null) : 'refused';
}

const said = (file: FileContent | null | 'refused'): unknown =>
	file === 'refused' || file === null ? file : file instanceof Uint8Array ? [...file] : file.text;

const line = fc.oneof(
	fc.constantFrom(
		'end',
		'',
		'\treturn',
		'local a = 1',
		'-- x',
		'--- x',
		'+++ y',
		'@@ -1 +1 @@',
		'Index: a',
		'\\ No newline'
	),
	fc.string({ maxLength: 12 })
);
const anyText = fc
	.tuple(fc.array(fc.tuple(line, fc.constantFrom('\n', '\n', '\n', '\r\n', '\r'))), line)
	.map(([lines, last]) => lines.map((one) => one.join('')).join('') + last);

test('a patch made from two texts leads from the one to the other, also printed and read again', () => {
	fc.assert(
		fc.property(anyText, anyText, (a, b) => {
			const patch = patchOf(text(a), text(b));
			if (a !== b) expect(said(applied(patch, text(a)))).toBe(b);
			else expect(patch.files).toEqual([]);
		}),
		{ numRuns: 500 }
	);
});

test('new and removed files, texts in their encoding, and bytes', () => {
	fc.assert(
		fc.property(anyText, (a) => {
			expect(said(applied(patchOf(undefined, text(a)), undefined))).toBe(a);
			expect(said(applied(patchOf(text(a), undefined), text(a)))).toBe(null);
		}),
		{ numRuns: 200 }
	);
	const marked = textLike('a\r\n', { encoding: 'utf-16le', bom: true });
	expect(applied(patchOf(undefined, marked), undefined)).toMatchObject({
		text: 'a\r\n',
		encoding: 'utf-16le',
		bom: true
	});
	fc.assert(
		fc.property(
			fc.uint8Array({ minLength: 1, maxLength: 400 }),
			fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 6 }),
			(a, edits) => {
				const b = Uint8Array.from(a);
				for (const [at, byte] of edits) b[at % b.length] = byte;
				if (edits.every(([at]) => a[at % a.length] === b[at % a.length])) return;
				expect(said(applied(patchOf(a, b, 'data/a.bin'), a))).toEqual([...b]);
			}
		),
		{ numRuns: 300 }
	);
});

/** A line of a file that is changed by others too: what it was, and what my patch makes of it. */
interface Item {
	old: string | null;
	mine: string | null;
	/** It was copied to another place. If it then went, the copy would be the same moved. */
	copied?: true;
}

const oldOf = (items: readonly Item[]) =>
	items.flatMap(({ old }) => (old === null ? [] : [`${old}\n`])).join('');
const mineOf = (items: readonly Item[]) =>
	items.flatMap(({ mine }) => (mine === null ? [] : [`${mine}\n`])).join('');
const touched = ({ old, mine }: Item) => old !== mine;

const names = ['tide', 'ebb', 'fog', 'watch', 'lamp', 'rope', 'hail', 'dock', 'pilot', 'drift'];
const body = (random: () => number): string[] => {
	const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
	const lines: string[] = [];
	for (let nth = 3 + Math.floor(random() * 6); nth > 0; nth--)
		lines.push(
			pick([
				`\tif sea > ${Math.floor(random() * 4)} then`,
				`\tgive(boat, "${pick(['cook', 'medic', 'pilot'])}", ${Math.floor(random() * 3)})`,
				`\tlocal speed = ${Math.floor(random() * 5)}`,
				'\tend',
				'',
				`\tsay("${pick(['calm', 'rough', 'ice'])}")`,
				'\treturn speed'
			])
		);
	return lines;
};

/** Functions that are much alike. */
function functions(random: () => number): string[] {
	return Array.from({ length: 4 + Math.floor(random() * 6) }, (_, nth) => [
		`function on_${names[nth % names.length]!}(boat, sea)`,
		...body(random),
		'end',
		''
	]).flat();
}

/** Records in a list that are much alike. */
function records(random: () => number): string[] {
	const list = Array.from({ length: 4 + Math.floor(random() * 8) }, (_, nth) => [
		'\t\t{',
		`\t\t\t"path": "words/${names[nth % names.length]!}.po",`,
		'\t\t\t"role": "data",',
		'\t\t\t"kinds": [',
		`\t\t\t\t"${random() < 0.5 ? 'menu' : 'kitchen'}"`,
		'\t\t\t]',
		'\t\t},'
	]);
	return ['{', '\t"files": [', ...list.flat(), '\t]', '}'];
}

/** A file in which some lines are changed, added or taken out by me. */
function script(random: () => number, lines: (random: () => number) => string[] = functions): Item[] {
	const items = lines(random).map((old): Item => ({ old, mine: old }));
	for (let nth = 1 + Math.floor(random() * 3); nth > 0; nth--) {
		const at = Math.floor(random() * items.length);
		const how = random();
		if (items[at]!.old === null) continue;
		if (how < 0.4) items[at]!.mine = `\t${['haul', 'reef', 'bail'][nth % 3]}(${nth})`;
		else if (how < 0.6) items[at]!.mine = null;
		else items.splice(at, 0, { old: null, mine: `\tring("bell", ${nth})` });
	}
	return items;
}

/** Whether something may be done between two lines: neither is changed, nor next to one that is. */
const apart = (items: readonly Item[], at: number): boolean =>
	[-2, -1, 0, 1].every((by) => !items[at + by] || !touched(items[at + by]!));

/** Whether a line may be taken away: it opens no function and no list and names no record, for without it nothing below is what it was. */
const loose = (items: readonly Item[], at: number): boolean =>
	apart(items, at) &&
	apart(items, at + 1) &&
	!/^function |"path"|"files"/.test(items[at]?.old ?? 'function ');

/** Lines elsewhere put in, taken out or moved by others. */
function unrelated(items: readonly Item[], random: () => number): Item[] {
	const next = [...items];
	for (let nth = 1 + Math.floor(random() * 5); nth > 0; nth--) {
		const at = Math.floor(random() * next.length);
		if (!apart(next, at)) continue;
		const how = random();
		// Not everybody indents.
		const fresh = `${random() < 0.6 ? '\t' : ''}new_${Math.floor(random() * 1000)}(sea)`;
		if (how < 0.5) next.splice(at, 0, { old: fresh, mine: fresh });
		else if (how < 0.75 && loose(next, at)) next.splice(at, 1);
		else if (loose(next, at)) {
			const [moved] = next.splice(at, 1);
			const to = Math.floor(random() * next.length);
			next.splice(apart(next, to) ? to : at, 0, moved!);
		}
	}
	return next;
}

/** A function or record of the file: `[from, to)` of its lines; an empty range where I change something at its edge. */
function someFunction(items: readonly Item[], random: () => number): [number, number] {
	const heads = items.flatMap(({ old }, nth) => (/^function |^\t\t\{$/.test(old ?? '') ? [nth] : []));
	const nth = Math.floor(random() * heads.length);
	const [from, to] = [heads[nth] ?? 0, heads[nth + 1] ?? items.length];
	return apart(items, from) && apart(items, to) ? [from, to] : [from, from];
}

/** Copies of lines of others. */
const copiesOf = (items: readonly Item[]): Item[] =>
	items.flatMap((item): Item[] => {
		if (item.old === null) return [];
		item.copied = true;
		return [{ old: item.old, mine: item.old }];
	});

const isMine = (items: readonly Item[], [from, to]: readonly [number, number]): boolean =>
	items.slice(from, to).some(touched);

/** What others do that a patch may fall for. `clash`: there is no right place any more. */
const HOSTILE: Record<string, (items: Item[], random: () => number) => 'clash' | undefined> = {
	'changes a line of mine'(items) {
		// Where the same line stands beside it, it is anybody's which of them was changed.
		const one = items.find(
			(item, nth) =>
				touched(item) &&
				item.old !== null &&
				![items[nth - 1], items[nth + 1]].some((beside) => beside?.old === item.old)
		);
		if (!one) return undefined;
		one.old = '\tchanged(by, others)';
		return 'clash';
	},
	'puts a line where mine goes'(items) {
		const at = items.findIndex(
			(item, nth) =>
				item.old === null && [nth - 1, nth + 1].every((beside) => !items[beside] || !touched(items[beside]))
		);
		if (at < 0) return undefined;
		items.splice(at, 0, { old: '\tput(in, here)', mine: '\tput(in, here)' });
		return 'clash';
	},
	'takes out what stands around a line of mine'(items, random) {
		const at = items.findIndex((item) => touched(item) && item.old !== null && !item.copied);
		if (at < 0) return undefined;
		items.splice(Math.max(0, at - 1 - Math.floor(random() * 8)), 10 + Math.floor(random() * 6));
		return 'clash';
	},
	'removes a function that I change'(items, random) {
		const range = someFunction(items, random);
		if (!isMine(items, range) || items[range[0]]?.copied) return undefined;
		items.splice(range[0], range[1] - range[0]);
		return 'clash';
	},
	'copies a function under another name'(items, random) {
		const [from, to] = someFunction(items, random);
		const copy = copiesOf(items.slice(from, to));
		const name = ['gale', 'mist', 'swell'][Math.floor(random() * 3)]!;
		for (const item of copy) {
			const old = item.old!.replace(/^function on_\w+/, `function on_${name}`);
			item.old = item.mine = old.replace(/words\/\w+\.po/, `words/${name}.po`);
		}
		items.splice(random() < 0.5 ? from : to, 0, ...copy);
		return undefined;
	},
	'copies the body of a function to the end'(items, random) {
		const [from, to] = someFunction(items, random);
		items.push(...copiesOf(items.slice(from, to)));
		return undefined;
	},
	'moves a function'(items, random) {
		const [from, to] = someFunction(items, random);
		const [start] = someFunction(items, random);
		if (start > from && start < to) return undefined;
		const moved = items.splice(from, to - from);
		items.splice(start > from ? start - moved.length : start, 0, ...moved);
		return undefined;
	},
	'changes lines beside mine'(items, random) {
		const at = items.findIndex(touched);
		const beside = items[at + (random() < 0.5 ? -1 : 1)];
		if (beside && !touched(beside)) beside.old = beside.mine = '\tother(line)';
		return undefined;
	},
	'gives a function another argument'(items, random) {
		const [from] = someFunction(items, random);
		const head = items[from];
		if (head?.old && !touched(head)) head.old = head.mine = head.old.replace('sea)', 'sea, hour)');
		return undefined;
	},
	'changes lines elsewhere'(items, random) {
		items.splice(0, items.length, ...unrelated(items, random));
		return undefined;
	}
};

test('what was done elsewhere in the file is kept, and the patch still finds its place', () => {
	let [right, refused] = [0, 0];
	for (let seed = 1; seed <= 400; seed++) {
		const random = randomBy(seed);
		const items = script(random, seed % 4 === 0 ? records : functions);
		const patch = patchOf(text(oldOf(items)), text(mineOf(items)));
		if (patch.files.length === 0) continue;
		const target = unrelated(items, random);
		const result = applied(patch, text(oldOf(target)));
		if (result === 'refused') refused++;
		else {
			right++;
			expect(said(result), `seed ${seed}`).toBe(mineOf(target));
		}
	}
	// The functions are alike on purpose: a few places are not certain, and then nothing is done.
	expect(refused / (right + refused)).toBeLessThan(0.05);
});

test('on files that others changed on purpose it is right or refused, never wrong', () => {
	let [right, refused] = [0, 0];
	for (let seed = 1; seed <= 1000; seed++) {
		const random = randomBy(seed + 10_000);
		const items = script(random, seed % 3 === 0 ? records : functions);
		const patch = patchOf(text(oldOf(items)), text(mineOf(items)));
		if (patch.files.length === 0) continue;
		const target = items.map((item) => ({ ...item }));
		let clash = false;
		const done: string[] = [];
		for (let nth = 1 + Math.floor(random() * 3); nth > 0; nth--) {
			const names = Object.keys(HOSTILE);
			const name = names[Math.floor(random() * names.length)]!;
			done.push(name);
			if (HOSTILE[name]!(target, random) === 'clash') clash = true;
		}
		const result = applied(patch, text(oldOf(target)));
		if (result === 'refused') refused++;
		else {
			right++;
			expect(clash, `seed ${seed}: ${done.join('; ')}`).toBe(false);
			expect(said(result), `seed ${seed}: ${done.join('; ')}`).toBe(mineOf(target));
		}
	}
	// Both come often, or this would show nothing.
	expect(right).toBeGreaterThan(100);
	expect(refused).toBeGreaterThan(100);
});

const TIDE = `-- The tide.
function tide(hour)
	return base + 1.6 * math.sin(hour)
end

function ebb(hour)
	return base - 1.6 * math.sin(hour)
end
`;

test('any unified diff is taken: of other programs, several files at once, by all or nothing', () => {
	const foreign = `diff --git a/scripts/tide.lua b/scripts/tide.lua
--- a/scripts/tide.lua
+++ b/scripts/tide.lua
@@ -1,4 +1,4 @@
 -- The tide.
 function tide(hour)
-	return base + 1.6 * math.sin(hour)
+	return base + 2 * math.sin(hour)
 end
`;
	const patch = readPatch(foreign);
	expect(patch.files.map(({ path }) => path)).toEqual(['scripts/tide.lua']);
	const moved = text(`local base = 2\n${TIDE}`);
	expect(said(applied(patch, moved))).toBe(`local base = 2\n${TIDE.replace('+ 1.6', '+ 2')}`);
	// Line ends are those of the file.
	expect(said(applied(patch, text(TIDE.replaceAll('\n', '\r\n'))))).toBe(
		TIDE.replace('+ 1.6', '+ 2').replaceAll('\n', '\r\n')
	);
	const both = readPatch(`${foreign}--- data/none.txt\n+++ data/none.txt\n@@ -1 +1 @@\n-a\n+b\n`);
	const result = applyPatch(both, (path) => (path === 'data/none.txt' ? undefined : text(TIDE)));
	expect(result.applied).toBe(false);
	expect(result.files.every(({ after }) => after === undefined)).toBe(true);
	expect(result.files[1]!.reason).toBe('There is no file data/none.txt.');
});

test('what is there already, what is for another file, and where people want it', () => {
	const after = TIDE.replace('+ 1.6', '+ 2');
	const patch = patchOf(text(TIDE), text(after));
	expect(applyPatch(patch, () => text(after)).files[0]).toMatchObject({ applied: false, already: true });
	const later = `-- Version 2\n${after}`;
	expect(applyPatch(patch, () => text(later)).files[0]).toMatchObject({
		applied: false,
		already: true,
		parts: [{ reason: 'It is already there.', line: 4 }]
	});
	const other = applyPatch(patch, () => text('speed = 3\nhull = 2\n'));
	expect(other.files[0]!.parts[0]).toMatchObject({
		applied: false,
		line: null,
		reason: 'Nothing in the file is like the lines around it.',
		candidates: []
	});
	// The game changed the very number: the likeliest place is named, and taken if somebody says so.
	const changed = TIDE.replace('+ 1.6', '+ 1.7');
	const refused = applyPatch(patch, () => text(changed)).files[0]!.parts[0]!;
	expect(refused).toMatchObject({
		applied: false,
		reason: 'The lines that it changes are not as they were.'
	});
	expect(refused.candidates[0]).toMatchObject({ line: 3 });
	const chosen = new Map([['scripts/tide.lua', new Map([[1, 3]])]]);
	expect(said(applyPatch(patch, () => text(changed), chosen).files[0]!.after!)).toBe(after);
	const beyond = new Map([['scripts/tide.lua', new Map([[1, 300]])]]);
	expect(applyPatch(patch, () => text(changed), beyond).applied).toBe(false);
});

test('bytes: found by what stands around them, gaps allowed, once only, the length kept', () => {
	const game = Uint8Array.from({ length: 300 }, (_, at) => (at * 37) % 251);
	const mine = Uint8Array.from(game);
	mine[100] = 7;
	const patch = patchOf(game, mine, 'packed/a.bin');
	const newer = Uint8Array.from([1, 2, 3, ...game]);
	expect(said(applied(patch, newer))).toEqual([1, 2, 3, ...mine]);
	expect(applyPatch(patch, () => Uint8Array.from([...game, ...game])).files[0]!.parts[0]).toMatchObject({
		reason: 'These bytes are there more than once.',
		candidates: [{ line: 101 }, { line: 401 }]
	});
	expect(applyPatch(patch, () => Uint8Array.from([9, ...mine])).files[0]).toMatchObject({ already: true });
	const gap = printPatch(patch).replace(/^ ([0-9a-f]{2})$/m, ' ??');
	const different = Uint8Array.from(newer);
	different[100 - 8 + 3] = 255;
	expect(applied(patch, different)).toBe('refused');
	expect(said(applied(readPatch(gap), different))).toEqual([
		...different.slice(0, 103),
		7,
		...different.slice(104)
	]);
	expect(() => filePatch('a.bin', game, game.slice(1))).toThrow(/keeps the length/);
	expect(() => applyPatch(readPatch(printPatch(patch).replace(/^\+07$/m, '+zz')), () => newer)).toThrow(
		PatchFault
	);
});

test('what is no patch is refused in plain words', () => {
	expect(() => readPatch('hello')).toThrow(/This is not a patch/);
	expect(() => readPatch('--- a\n+++ b\n@@ -1,9 +1,9 @@\n a\n')).toThrow(/cannot be read/);
	expect(() => readPatch('--- a\n+++ a\n@@ -1 +1 @@\n-a\n+b\n--- a\n+++ a\n@@ -1 +1 @@\n-a\n+b\n')).toThrow(
		/twice/
	);
	const latin = textLike('a\nb\nc\n', { encoding: 'windows-1252', bom: false });
	const result = applyPatch(patchOf(text('a\nb\nc\n'), text('a\n石\nc\n')), () => latin);
	expect(result.files[0]!.reason).toMatch(/windows-1252, which cannot write/);
});
