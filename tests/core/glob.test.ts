// Globs of a guide say what the usual library says, and take no longer than their length allows.
import fc from 'fast-check';
import picomatch from 'picomatch';
import { expect, test } from 'vitest';
import { globFault, globMatcher } from '../../src/lib/core/guide/glob';
import { claimsOf, parseGuide } from '$core/guide';
import { compilePattern, patternFault } from '$core/text';

const name = fc.stringMatching(/^[ab.]{1,4}$/).filter((text) => !/^\.+$/.test(text));
const part = fc.oneof(
	fc.stringMatching(/^[ab*?]{1,5}$/).filter((text) => !text.includes('**')),
	fc.constantFrom('**', '*', '*.a', '{a,b}', 'a{b,ab}*', '[ab]b', '[^a]*', '[a-b].b')
);

test('a glob matches the paths that the usual library matches', () => {
	fc.assert(
		fc.property(
			fc.array(part, { minLength: 1, maxLength: 4 }),
			fc.array(name, { minLength: 1, maxLength: 4 }),
			(parts, names) => {
				// `**` twice in a row says nothing that once does not.
				fc.pre(!parts.some((one, at) => one === '**' && parts[at + 1] === '**'));
				// Whether a folder is among all that is below it, the library says in two ways; below it is told here.
				fc.pre(parts.at(-1) !== '**');
				const [glob, path] = [parts.join('/'), names.join('/')];
				const wanted = picomatch(glob, { dot: true, noextglob: true })(path);
				expect({ glob, path, is: globMatcher(glob)(path) }).toEqual({ glob, path, is: wanted });
			}
		),
		{ numRuns: 3000 }
	);
});

test('kinds claim the files that their globs match, and the first of the guide comes first', () => {
	const globs = fc.uniqueArray(
		fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => parts.join('/')),
		{ minLength: 1, maxLength: 5 }
	);
	const paths = fc.array(
		fc.array(name, { minLength: 1, maxLength: 3 }).map((names) => names.join('/')),
		{ minLength: 1, maxLength: 8 }
	);
	fc.assert(
		fc.property(fc.array(globs, { minLength: 1, maxLength: 4 }), paths, (kinds, files) => {
			const guide = parseGuide(
				JSON.stringify({
					guide: 1,
					kinds: Object.fromEntries(
						// Each at a place of its own: none stands in the way of another.
						kinds.map((own, nth) => [
							`kind_${nth}`,
							{ title: `Kind ${nth}`, files: own, at: `place_${nth}`, key: 'id', fields: {} }
						])
					)
				})
			);
			for (const path of files) {
				const wanted = kinds.flatMap((own, nth) =>
					own.some((glob) => globMatcher(glob)(path)) ? [`kind_${nth}`] : []
				);
				expect(claimsOf(guide, path).map(({ kind }) => kind)).toEqual(wanted);
			}
		}),
		{ numRuns: 1000 }
	);
});

test('two stars at the end stand for all that is below', () => {
	expect(globMatcher('data/**')('data/a/b.tsv')).toBe(true);
	expect(globMatcher('data/*/**')('data/a/b/c.tsv')).toBe(true);
	expect(globMatcher('data/**')('date/a')).toBe(false);
	expect(globMatcher('**')('a/b')).toBe(true);
});

test('what would take a matcher that tries all ways for ever is answered', () => {
	const path = `${'a'.repeat(200)}/${'a'.repeat(50)}c`;
	expect(globMatcher(`${'*a'.repeat(60)}b/*`)(path)).toBe(false);
	expect(globMatcher(`${'**/a*'.repeat(1)}${'/**/*a'.repeat(20)}b`)(path)).toBe(false);
	expect(globMatcher(`{${'a,'.repeat(2000)}b}`.repeat(3))('aab')).toBe(true);
	expect(globFault('{a,b}{c,d}/*.tsv')).toBeNull();
	expect(globFault('{a,b,c,d,e,f,g,h,i,j}'.repeat(6))).toContain('1000');
	const pattern = compilePattern('^(?<word>(a+)+)$');
	expect(pattern.test(`${'a'.repeat(5000)}b`)).toBe(false);
	expect([...pattern.groups('aaa')!]).toEqual([['word', [0, 3]]]);
	expect(patternFault('(?=a)b')).toContain('can be used here');
	expect(patternFault('(a{0,1000}){0,1000}')).toContain('too large');
	expect(patternFault('^(?<name>\\p{L}+)$')).toBeNull();
});
