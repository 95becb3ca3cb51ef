#!/usr/bin/env node
// Gannet Sound, simulated: loads its folder and the mods in it, writes game.log, and says by its exit code whether all was taken.
// Usage: node standin/gannet.mjs GAME-FOLDER
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadGame } from './load.mjs';

const folder = process.argv[2];
if (!folder || !existsSync(join(folder, 'game.json'))) {
	console.error('usage: gannet.mjs GAME-FOLDER (a folder with game.json)');
	process.exit(2);
}
const { log, clean, mods, vessels, engines, gear, texts } = loadGame(folder);
const pieces = Object.values(gear).reduce((sum, slot) => sum + slot.size, 0);
const lines = [
	`INFO game.json:1 Gannet Sound starts with ${mods.length === 0 ? 'no mods' : mods.join(', ')}`,
	...log.map(({ level, place, message }) => `${level} ${place} ${message}`),
	`INFO game.json:1 ${vessels.size} vessels, ${engines.size} engines, ${pieces} pieces of gear, ${texts.size} languages`,
	clean ? 'INFO game.json:1 loaded cleanly' : 'INFO game.json:1 loaded with parts left out'
];
writeFileSync(join(folder, 'game.log'), lines.join('\n') + '\n');
console.log(lines.at(-1));
process.exit(clean ? 0 : 1);
