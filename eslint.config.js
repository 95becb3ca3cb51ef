import js from '@eslint/js';
import ts from 'typescript-eslint';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import { ROOMS } from './scripts/rooms.mjs';
import svelteConfig from './svelte.config.js';

/** Imports only go down: routes > ui / server > core. What each storey may not reach. */
const storey = (files, message, patterns, paths = []) => ({
	files,
	rules: {
		'no-restricted-imports': [
			'error',
			{ patterns: patterns.map((group) => ({ group: [group], message })), paths }
		]
	}
});

/** Loading again cuts a navigation short that is on its way; `refresh` waits for it. */
const ONE_WAY_TO_REFRESH = [
	{ name: '$app/navigation', importNames: ['invalidateAll'], message: 'Use refresh (ui/frame/refresh.ts).' }
];

/** What the core never reaches, whatever the room. */
const NOT_IN_CORE = [
	'node:*',
	'svelte*',
	'$app/*',
	'$lib/server*',
	'$lib/ui*',
	'$ui/*',
	'**/server/**',
	'**/ui/**',
	'**/routes/**',
	'pg',
	'piscina'
];

/** A room with what it may not reach: the storeys above, and the rooms behind it in the order. */
const room = (name, at) => ({
	files: [`src/lib/core/${name}/**`],
	rules: {
		'no-restricted-imports': [
			'error',
			{
				patterns: [
					{
						group: NOT_IN_CORE,
						message: 'The core is pure: no Node, no Svelte, no SQL, no storey above it.'
					},
					...(at === ROOMS.length - 1
						? []
						: [
								{
									regex: `^(?:\\.\\./|\\$core/)+(?:${ROOMS.slice(at + 1).join('|')})(?:/|$)`,
									message: `The room ${name} knows only the rooms before it (see scripts/rooms.mjs).`
								}
							])
				]
			}
		]
	}
});

export default ts.config(
	{ ignores: ['build/', '.svelte-kit/', '.kettle/', 'node_modules/', 'demo/', 'cli/kettle.mjs'] },
	js.configs.recommended,
	...ts.configs.strict,
	...svelte.configs.recommended,
	{
		languageOptions: { globals: { ...globals.node, ...globals.browser } },
		rules: {
			'no-undef': 'off',
			'@typescript-eslint/no-non-null-assertion': 'off',
			'@typescript-eslint/no-explicit-any': 'error',
			'@typescript-eslint/no-dynamic-delete': 'off',
			'no-control-regex': 'off',
			// What is taken off an object by name, to leave the rest.
			'@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }]
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
		rules: { 'svelte/no-navigation-without-resolve': 'off' }
	},
	{
		// The core knows no promises; there is nothing to forget there.
		files: ['src/**/*.ts', 'cli/**/*.ts', 'tests/**/*.ts'],
		ignores: ['**/*.svelte.ts', 'src/lib/core/**', 'tests/core/**'],
		languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
		rules: {
			'@typescript-eslint/no-floating-promises': 'error',
			'@typescript-eslint/no-misused-promises': 'error'
		}
	},
	...ROOMS.map(room),
	storey(
		['src/lib/ui/**'],
		'The interface knows the core, never the server or SQL.',
		['node:*', '$lib/server*', '**/server/**', '**/routes/**', 'pg'],
		ONE_WAY_TO_REFRESH
	),
	storey(['src/routes/**'], 'What is shown is loaded again in one way.', [], ONE_WAY_TO_REFRESH),
	{ files: ['src/lib/ui/frame/refresh.ts'], rules: { 'no-restricted-imports': 'off' } },
	storey(['src/lib/files/**'], 'The file system storey stands on the core alone.', [
		'svelte*',
		'$lib/server*',
		'**/server/**',
		'**/ui/**',
		'pg'
	]),
	storey(['src/lib/server/**'], 'The server storey knows no interface.', [
		'svelte',
		'$ui/*',
		'$lib/ui*',
		'**/routes/**'
	]),
	storey(['cli/**'], 'The command is core and file system only.', [
		'$lib/server*',
		'**/lib/server/**',
		'**/ui/**',
		'pg'
	]),
	storey(['standin/**'], 'The stand-in shares no code with the rest.', ['**/src/**', '$lib/*', '$core/*'])
);
