import js from '@eslint/js';
import ts from 'typescript-eslint';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
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

export default ts.config(
	{ ignores: ['build/', '.svelte-kit/', '.kettle/', 'node_modules/', 'demo/'] },
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
			'no-control-regex': 'off'
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
		rules: { 'svelte/no-navigation-without-resolve': 'off' }
	},
	{
		files: ['src/**/*.ts', 'cli/**/*.ts', 'tests/**/*.ts'],
		ignores: ['**/*.svelte.ts'],
		languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
		rules: {
			'@typescript-eslint/no-floating-promises': 'error',
			'@typescript-eslint/no-misused-promises': 'error'
		}
	},
	storey(['src/lib/core/**'], 'The core is pure: no Node, no Svelte, no SQL, no storey above it.', [
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
		'pg-boss',
		'piscina'
	]),
	storey(['src/lib/ui/**'], 'The interface knows the core, never the server or SQL.', [
		'node:*',
		'$lib/server*',
		'**/server/**',
		'**/routes/**',
		'pg',
		'pg-boss'
	]),
	storey(['src/lib/files/**'], 'The file system storey stands on the core alone.', [
		'svelte*',
		'$lib/server*',
		'**/server/**',
		'**/ui/**',
		'pg',
		'pg-boss'
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
