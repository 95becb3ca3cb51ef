// Rules for modules, those that need types among them; for components see eslint.config.js.
import { STOREYS } from './scripts/storeys.mjs';

/** What is plainly wrong, or could be said more plainly. */
const RULES = [
	'constructor-super',
	'for-direction',
	'getter-return',
	'no-array-constructor',
	'no-async-promise-executor',
	'no-case-declarations',
	'no-class-assign',
	'no-compare-neg-zero',
	'no-cond-assign',
	'no-const-assign',
	'no-constant-binary-expression',
	'no-constant-condition',
	'no-debugger',
	'no-delete-var',
	'no-dupe-class-members',
	'no-dupe-else-if',
	'no-dupe-keys',
	'no-duplicate-case',
	'no-empty',
	'no-empty-character-class',
	'no-empty-pattern',
	'no-empty-static-block',
	'no-ex-assign',
	'no-extra-boolean-cast',
	'no-fallthrough',
	'no-func-assign',
	'no-global-assign',
	'no-import-assign',
	'no-invalid-regexp',
	'no-irregular-whitespace',
	'no-loss-of-precision',
	'no-misleading-character-class',
	'no-new-native-nonconstructor',
	'no-nonoctal-decimal-escape',
	'no-obj-calls',
	'no-prototype-builtins',
	'no-redeclare',
	'no-regex-spaces',
	'no-self-assign',
	'no-setter-return',
	'no-shadow-restricted-names',
	'no-sparse-arrays',
	'no-this-before-super',
	'no-unassigned-vars',
	'no-unexpected-multiline',
	'no-unreachable',
	'no-unsafe-finally',
	'no-unsafe-negation',
	'no-unsafe-optional-chaining',
	'no-unused-expressions',
	'no-unused-labels',
	'no-unused-private-class-members',
	'no-useless-assignment',
	'no-useless-backreference',
	'no-useless-catch',
	'no-useless-constructor',
	'no-useless-escape',
	'no-var',
	'no-with',
	'prefer-const',
	'prefer-rest-params',
	'prefer-spread',
	'preserve-caught-error',
	'require-yield',
	'typescript/ban-ts-comment',
	'typescript/no-duplicate-enum-values',
	'typescript/no-empty-object-type',
	'typescript/no-explicit-any',
	'typescript/no-extra-non-null-assertion',
	'typescript/no-extraneous-class',
	'typescript/no-invalid-void-type',
	'typescript/no-misused-new',
	'typescript/no-namespace',
	'typescript/no-non-null-asserted-nullish-coalescing',
	'typescript/no-non-null-asserted-optional-chain',
	'typescript/no-require-imports',
	'typescript/no-this-alias',
	'typescript/no-unnecessary-type-constraint',
	'typescript/no-unsafe-declaration-merging',
	'typescript/no-unsafe-function-type',
	'typescript/no-wrapper-object-types',
	'typescript/prefer-as-const',
	'typescript/prefer-literal-enum-member',
	'typescript/prefer-namespace-keyword',
	'typescript/triple-slash-reference',
	'typescript/unified-signatures',
	'use-isnan',
	'valid-typeof'
];

/** Of a promise that nobody waits for, and of one where none is expected. */
const PROMISES = ['typescript/no-floating-promises', 'typescript/no-misused-promises'];

/** @param {string[]} names @param {'error' | 'off'} level */
const all = (names, level) => Object.fromEntries(names.map((name) => [name, level]));

export default {
	plugins: ['typescript'],
	// Only what is named here.
	categories: { correctness: 'off' },
	ignorePatterns: ['build/', '.svelte-kit/', '.kettle/', 'demo/', 'cli/kettle.mjs', '**/*.svelte'],
	options: { typeAware: true },
	rules: {
		...all(RULES, 'error'),
		// What is taken off an object by name, to leave the rest.
		'no-unused-vars': ['error', { ignoreRestSiblings: true }]
	},
	overrides: [
		{ files: ['src/**/*.ts', 'cli/**/*.ts', 'tests/**/*.ts'], rules: all(PROMISES, 'error') },
		...STOREYS
	]
};
