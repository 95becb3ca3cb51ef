// How the product speaks: numbers and plurals as English has them, and no wording that was put aside for a better one.
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { counted, either, listed, numbered } from '$core/wording';
import { strings } from '../../scripts/strings.mjs';

/** Wordings that have a better one, each with it. */
const PUT_ASIDE: [RegExp, string][] = [
	[/^Leave it$/, 'Cancel'],
	[/Nothing is done yet/, 'Nothing has changed yet.'],
	[/Follows by itself/, 'Also changes'],
	[/\bWhy not\b/, 'Reason for leaving it out'],
	[/Working the plan out/, 'Preparing the preview…'],
	[/\b(Settles|Brings about)\b/, 'Fixes, New snags'],
	[/\b(Base says|I say|said by me)\b/, 'Base, Mine, set by you'],
	[/Give .*back to the base/, 'Revert to base'],
	[/\bTake (it )?into my mod\b/, 'Add to my mod'],
	[/\btake[ns]? (it |[^ ]+ )?out\b/i, 'remove'],
	[/\bmend\b/i, 'fix'],
	[/what hangs on it/i, 'connections'],
	[/\bthat pass\b/, 'matching'],
	[/\b(brought|bring(ing)?|bring it) in\b/i, 'import'],
	[/\btaken? back\b/i, 'undo'],
	[/\b(done|do) again\b/i, 'redo'],
	[/\bforgotten\b/, 'deleted'],
	[/is like this\b/, 'No rows match.'],
	[/\banswers? (this|“)/, 'Nothing found for'],
	[/\b(nobody|somebody)\b/i, 'passive, or name who'],
	[/What is known of/, 'Field guide'],
	[/Give out what/, 'Export'],
	[/\bare unsure; go through\b/, 'need review'],
	[/\bits ids stand in\b/i, 'Key: …'],
	[/\btaken into memory\b/, 'Loading'],
	[/has no room|Says nothing new|Unlike all others|Spends more than/, 'short titles of snags'],
	[/Names something (that|of)/, 'Missing reference, Wrong kind of reference'],
	[/are not alike/, 'differ'],
	[/The game would\b/, 'The game skips, ignores, refuses…'],
	[/\bto note\b/i, 'notes'],
	[/\bis none\b|\bis no (number|share|date|colour|position|span)\b/, 'must be …'],
	[/(?<!there )\bis no (address|field|folder|language|part|patch|path|pointer|table|YAML)\b/i, 'is not a …'],
	[/\bmended\b/i, 'fixed'],
	[/\bits like\b/, 'similar records'],
	[/\b(is|are) to become\b|\bit is to (lead|stand)\b/, 'should …'],
	[/\bHere stands\b|\bstands behind\b|\bmissing behind\b/, 'there is … after'],
	[/as it stands there/, 'as is'],
	[/parts players/, 'requires the same mod for all players'],
	[/but for one\b/, 'all others but one lie between'],
	[/\bLetters read as\b|\bas told\b/, 'Encoding, detected'],
	[/\bYAML wants|\bwants? \{…\}/, 'needs']
];

describe('all that the product says', () => {
	const all = strings(join(import.meta.dirname, '../..'));

	test('is found: pages, messages, snags, the command', () => {
		expect(all.length).toBeGreaterThan(1500);
		const said = new Set(all.map(({ text }) => text));
		for (const text of ['Preview changes', 'Missing reference', 'Undo', 'Import', 'Snags'])
			expect(
				[...said].some((other) => other.includes(text)),
				text
			).toBe(true);
	});

	test('has none of the wordings that were put aside', () => {
		const wrong = all.flatMap(({ path, line, text }) =>
			PUT_ASIDE.filter(([pattern]) => pattern.test(text)).map(
				([, better]) => `${path}:${line} “${text}”: ${better}`
			)
		);
		expect(wrong).toEqual([]);
	});
});

test('counts have the word that goes with them, and lists their last “and”', () => {
	expect([0, 1, 2, 1204].map((count) => counted(count, 'file'))).toEqual([
		'0 files',
		'1 file',
		'2 files',
		'1,204 files'
	]);
	expect(counted(1, 'file differs', 'files differ')).toBe('1 file differs');
	expect(counted(3, 'entry', 'entries')).toBe('3 entries');
	expect(either(21, 'is', 'are')).toBe('are');
	expect(numbered(1_000_000)).toBe('1,000,000');
	expect(listed(['a', 'b', 'c'])).toBe('a, b, and c');
	expect(listed(['a', 'b'], 'or')).toBe('a or b');
});
