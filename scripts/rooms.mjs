/** The rooms of the core, each of which knows only those before it: linted, and drawn in docs/house.svg. */
export const ROOMS = [
	'wording',
	'text',
	'change',
	'patch',
	'formats',
	'facts',
	'guide',
	'scripts',
	'infer',
	'stack',
	'model',
	'links',
	'layers',
	'numbers',
	'query',
	'search',
	'edits',
	'checks',
	'options',
	'pack',
	'views'
];
