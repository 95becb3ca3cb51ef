#!/usr/bin/env node
// Gannet Sound, simulated: loads its folder and the mods in it, writes game.log, and says by its exit code whether all was taken.
// Usage: node standin/gannet.mjs GAME-FOLDER
//        node standin/gannet.mjs GAME-FOLDER raise EVENT VESSEL [NUMBER] [--times N] [--seed N]   outcomes as JSON
//        node standin/gannet.mjs GAME-FOLDER show LANGUAGE [--html]                              every text as it is drawn
//        node standin/gannet.mjs GAME-FOLDER bay BAY DAY                                        what is there on a day, as JSON
//        node standin/gannet.mjs GAME-FOLDER play CALL VESSEL [--times N] [--seed N]             a line of JSON for each rescue
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadGame } from './load.mjs';
import { rescue } from './rescue.mjs';
import { asHtml, asText, roomOf, screenOf } from './screen.mjs';
import { raise, runScripts } from './scripts.mjs';
import { valuesFor } from './words.mjs';

const [folder, what, ...more] = process.argv.slice(2);
if (!folder || !existsSync(join(folder, 'game.json'))) {
	console.error('usage: gannet.mjs GAME-FOLDER (a folder with game.json)');
	process.exit(2);
}
const { log, mods, vessels, engines, gear, texts, rules, world } = loadGame(folder);

const option = (/** @type {string} */ name, /** @type {number} */ otherwise) => {
	const at = more.indexOf(name);
	return at < 0 ? otherwise : Number(more.splice(at, 2)[1]);
};

if (what === 'play') {
	const [times, seed] = [option('--times', 1), option('--seed', 1)];
	const [callId = '', vesselId = ''] = more;
	const [call, vessel] = [world.calls.get(callId), vessels.get(vesselId)];
	if (!call || !vessel) {
		console.error(call ? `there is no vessel ${vesselId}` : `there is no call ${callId}`);
		process.exit(2);
	}
	const engine = engines.get(vessel.fields.engine ?? '');
	const hazard = world.hazards.get(call.fields.hazard ?? '');
	const lines = Array.from({ length: times }, (_, nth) =>
		JSON.stringify(rescue({ call, vessel, engine, hazard, rules: rules ?? {} }, seed + nth))
	);
	await new Promise((done) => process.stdout.write(`${lines.join('\n')}\n`, done));
	process.exit(0);
}

if (what === 'bay') {
	const [bay = '', day = ''] = more;
	const on = ((((Number(day) - 1) % 28) + 28) % 28) + 1;
	const open = (/** @type {number} */ from, /** @type {number} */ until) =>
		from <= until ? on >= from && on <= until : on >= from || on <= until;
	const place = (/** @type {{ fields: Record<string, string> }} */ { fields }) => [
		Number(fields.x),
		Number(fields.y)
	];
	const there = [
		...world.points
			.filter((point) => point.bay === bay && open(Number(point.fields.from), Number(point.fields.until)))
			.map((point) => ['point', ...place(point)]),
		...world.spawns
			.filter((spawn) => spawn.bay === bay && Number(spawn.fields.day) === on)
			.map((spawn) => ['spawn', ...place(spawn)]),
		...world.lanes.filter((lane) => lane.bay === bay).map((lane) => ['lane', ...place(lane)])
	];
	await new Promise((done) => process.stdout.write(`${JSON.stringify(there)}\n`, done));
	process.exit(0);
}

if (what === 'show') {
	const [language = '', how] = more;
	const shown = [...(texts.get(language) ?? [])].map(([key, text]) => {
		const screen = screenOf(text, roomOf(key), valuesFor(key, vessels));
		return how === '--html'
			? `<section id="${key}">${asHtml(screen)}</section>`
			: `# ${key}\n${asText(screen).replace(/^/gm, '| ')}`;
	});
	await new Promise((done) => process.stdout.write(`${shown.join('\n')}\n`, done));
	process.exit(0);
}

if (what === 'raise') {
	const [times, seed] = [option('--times', 1), option('--seed', 1)];
	const [event = '', vessel = '', number] = more;
	const boat = vessels.get(vessel);
	if (!boat) {
		console.error(`there is no vessel ${vessel}`);
		process.exit(2);
	}
	const fields = Object.entries(boat.fields).map(([name, value]) => [
		name,
		value !== '' && Number.isFinite(Number(value)) ? Number(value) : value
	]);
	const given = [
		{ ...Object.fromEntries(fields), id: vessel },
		...(number === undefined ? [] : [Number(number)])
	];
	const outcomes = await raise(folder, mods, event, given, times, seed);
	console.log(JSON.stringify({ event, times, seed, outcomes }));
	process.exit(0);
}

const scripts = await runScripts(folder, mods);
const pieces = Object.values(gear).reduce((sum, slot) => sum + slot.size, 0);
const all = [...log, ...scripts.log];
const clean = !all.some(({ level }) => level === 'DROPPED' || level === 'REFUSED');
const lines = [
	`INFO game.json:1 Gannet Sound starts with ${mods.length === 0 ? 'no mods' : mods.join(', ')}`,
	...all.map(({ level, place, message }) => `${level} ${place} ${message}`),
	...scripts.pages.map(
		({ title, text, place }, nth) => `INFO ${place} page ${nth + 1} of the logbook, ${title}: ${text}`
	),
	`INFO game.json:1 ${vessels.size} vessels, ${engines.size} engines, ${pieces} pieces of gear, ${texts.size} languages`,
	clean ? 'INFO game.json:1 loaded cleanly' : 'INFO game.json:1 loaded with parts left out'
];
writeFileSync(join(folder, 'game.log'), lines.join('\n') + '\n');
console.log(lines.at(-1));
process.exit(clean ? 0 : 1);
