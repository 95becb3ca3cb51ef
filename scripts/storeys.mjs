// What each storey and each room may not reach: imports only go down, from the routes by interface and server to the
// core. Both linters hold the code to it, the one for modules and the one for components.
import { ROOMS } from './rooms.mjs';

/**
 * @typedef {{ group: string[], message: string } | { regex: string, message: string }} Pattern
 * @typedef {{ name: string, importNames: string[], message: string }} Path
 * @typedef {{ files: string[], rules: { 'no-restricted-imports': ['error', { patterns: Pattern[], paths: Path[] }] | 'off' } }} Storey
 */

/** @param {string[]} files @param {Pattern[]} patterns @param {Path[]} paths @returns {Storey} */
const limit = (files, patterns, paths) => ({
	files,
	rules: { 'no-restricted-imports': ['error', { patterns, paths }] }
});

/** @param {string} files @param {string} message @param {string[]} groups @param {Path[]} [paths] */
const storey = (files, message, groups, paths = []) =>
	limit(
		[files],
		groups.map((group) => ({ group: [group], message })),
		paths
	);

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

/** A room with what it may not reach: the storeys above, and the rooms behind it in the order. @param {string} name */
function room(name) {
	const behind = ROOMS.slice(ROOMS.indexOf(name) + 1);
	const above = {
		group: NOT_IN_CORE,
		message: 'The core is pure: no Node, no Svelte, no SQL, no storey above it.'
	};
	const later = {
		regex: `^(?:\\.\\./|\\$core/)+(?:${behind.join('|')})(?:/|$)`,
		message: `The room ${name} knows only the rooms before it (see scripts/rooms.mjs).`
	};
	return limit([`src/lib/core/${name}/**`], behind.length === 0 ? [above] : [above, later], []);
}

/** @type {Storey[]} */
export const STOREYS = [
	...ROOMS.map(room),
	storey(
		'src/lib/ui/**',
		'The interface knows the core, never the server or SQL.',
		['node:*', '$lib/server*', '**/server/**', '**/routes/**', 'pg'],
		ONE_WAY_TO_REFRESH
	),
	storey('src/routes/**', 'What is shown is loaded again in one way.', [], ONE_WAY_TO_REFRESH),
	{ files: ['src/lib/ui/frame/refresh.ts'], rules: { 'no-restricted-imports': 'off' } },
	storey('src/lib/files/**', 'The file system storey stands on the core alone.', [
		'svelte*',
		'$lib/server*',
		'**/server/**',
		'**/ui/**',
		'pg'
	]),
	storey('src/lib/server/**', 'The server storey knows no interface.', [
		'svelte',
		'$ui/*',
		'$lib/ui*',
		'**/routes/**'
	]),
	storey('cli/**', 'The command is core and file system only.', [
		'$lib/server*',
		'**/lib/server/**',
		'**/ui/**',
		'pg'
	]),
	storey('standin/**', 'The stand-in shares no code with the rest.', ['**/src/**', '$lib/*', '$core/*'])
];
