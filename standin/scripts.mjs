// The stand-in's scripts: run in a Lua machine without files, network or clock, from start.lua on; and events raised in them.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { LuaFactory } from 'wasmoon';

/** @typedef {{ level: 'INFO' | 'WARN' | 'DROPPED' | 'REFUSED', place: string, message: string }} Line */
/** @typedef {{ title: string, text: string, place: string }} Page */

const START = 'start';
/** Functions of the game that give nothing back; `seen` says that the bird was seen. */
const GAME = ['say', 'give', 'show_omen'];

// Each run of the scripts has names of its own; what they call of the game is written down.
const WORLD = `
local function world(calls, faults, pages)
	local env = {}
	for _, name in ipairs({ "assert", "error", "ipairs", "next", "pairs", "pcall", "select", "tonumber", "tostring", "type" }) do env[name] = _G[name] end
	for _, name in ipairs({ "math", "string", "table" }) do
		env[name] = {}
		for inner, value in pairs(_G[name]) do env[name][inner] = value end
	end
	for _, name in ipairs(GAME) do env[name] = function(...) calls[#calls + 1] = { name, ... } end end
	env.seen = function(...) calls[#calls + 1] = { "seen", ... } return true end
	local loaded = {}
	local function run(name, from)
		if loaded[name] then return end
		loaded[name] = true
		local script = SCRIPTS[name]
		if not script then faults[#faults + 1] = { "WARN", from, "there is no script " .. tostring(name) } return end
		local here = loaded.here
		loaded.here = script.path
		env.page = function(title, text) pages[#pages + 1] = { title, text, loaded.here, debug.getinfo(2, 'l').currentline } end
		local chunk, fault = load(script.text, "=" .. script.path, "t", env)
		local fine = chunk ~= nil
		if fine then fine, fault = pcall(chunk) end
		if not fine then faults[#faults + 1] = { "DROPPED", script.path, tostring(fault) } end
		loaded.here = here
	end
	env.load_script = function(name) run(name, loaded.here) end
	run(START, "scripts/start.lua")
	for name, script in pairs(SCRIPTS) do
		if not loaded[name] then faults[#faults + 1] = { "WARN", script.path, "no script loads it" } end
	end
	return env
end
`;

/** The scripts of the game and its mods, the last of each name. @param {string} folder @param {string[]} mods */
function scriptsIn(folder, mods) {
	/** @type {Map<string, { path: string, text: string }>} */
	const scripts = new Map();
	for (const root of ['', ...mods.map((mod) => `mods/${mod}/`)]) {
		const at = join(folder, root, 'scripts');
		if (!existsSync(at)) continue;
		for (const name of readdirSync(at).sort())
			if (name.endsWith('.lua'))
				scripts.set(name.slice(0, -4), {
					path: `${root}scripts/${name}`,
					text: readFileSync(join(at, name), 'utf8')
				});
	}
	return scripts;
}

/** A value as Lua writes it. @param {unknown} value @returns {string} */
function written(value) {
	if (typeof value === 'string')
		return `"${value.replace(/[\\"\n\r\0]/g, (char) => `\\${String(char.charCodeAt(0)).padStart(3, '0')}`)}"`;
	if (Array.isArray(value)) return `{${value.map(written).join(',')}}`;
	if (typeof value === 'object' && value !== null)
		return `{${Object.entries(value)
			.map(([name, one]) => `[${written(name)}]=${written(one)}`)
			.join(',')}}`;
	return String(value);
}

/** Runs a program that knows the scripts. @param {Map<string, unknown>} scripts @param {string} program @returns {Promise<any>} */
async function run(scripts, program) {
	const lua = await new LuaFactory().createEngine({ injectObjects: false });
	const known = `local GAME, START, SCRIPTS = ${written(GAME)}, ${written(START)}, ${written(Object.fromEntries(scripts))}`;
	try {
		return await lua.doString(`${known} ${WORLD} ${program}`);
	} finally {
		lua.global.close();
	}
}

/** `scripts/a.lua:3: what` as place and message. @param {string} path @param {string} fault */
function told(path, fault) {
	const [, at = path, line = '1', message = fault] = /^(\S+\.lua):(\d+): (.*)$/s.exec(fault) ?? [];
	return { place: `${at}:${line}`, message };
}

/**
 * Loads the scripts as the game does.
 * @param {string} folder @param {string[]} mods
 * @returns {Promise<{ log: Line[], pages: Page[] }>} the pages of the logbook as they are shown: the last of each script first
 */
export async function runScripts(folder, mods) {
	const scripts = scriptsIn(folder, mods);
	if (!scripts.has(START)) return { log: [], pages: [] };
	const found = await run(
		scripts,
		'local faults, pages = {}, {} world({}, faults, pages) return { faults = faults, pages = pages }'
	);
	const list = (/** @type {unknown} */ of) => (/** @type {string[][]} */ (Array.isArray(of) ? of : []));
	return {
		log: list(found.faults).map(([level = '', path = '', fault = '']) => ({
			level: /** @type {Line['level']} */ (level),
			...told(path, fault)
		})),
		pages: list(found.pages)
			.map(([title = '', text = '', path = '', line = '']) => ({
				title: String(title),
				text: String(text).replaceAll('**', ''),
				place: `${path}:${line}`
			}))
			.reverse()
	};
}

/**
 * Raises an event many times, each time in a world of its own, with one seed more.
 * @param {string} folder @param {string[]} mods @param {string} name @param {unknown[]} given
 * @param {number} times @param {number} seed
 * @returns {Promise<{ outcome: string, count: number }[]>} what the scripts called and returned, the most frequent first
 */
export async function raise(folder, mods, name, given, times, seed) {
	const found = await run(
		scriptsIn(folder, mods),
		`local GIVEN, EVENT = ${written(given)}, ${written(name)}
			local function said(value)
				if type(value) == "table" then return tostring(value.id) end
				return type(value) == "string" and '"' .. value .. '"' or tostring(value)
			end
			local counts = {}
			for nth = 0, ${times - 1} do
				math.randomseed(${seed} + nth)
				local calls = {}
				local env = world(calls, {}, {})
				for at = #calls, 1, -1 do calls[at] = nil end
				local event = env[EVENT]
				local parts = {}
				if event then
					local results = { pcall(event, table.unpack(GIVEN)) }
					for _, call in ipairs(calls) do
						local with = {}
						for at = 2, #call do with[#with + 1] = said(call[at]) end
						parts[#parts + 1] = call[1] .. "(" .. table.concat(with, ", ") .. ")"
					end
					for at = 2, #results do parts[#parts + 1] = (results[1] and "returns " or "stops: ") .. said(results[at]) end
				end
				local outcome = #parts == 0 and "nothing" or table.concat(parts, "; ")
				counts[outcome] = (counts[outcome] or 0) + 1
			end
			return counts`
	);
	return Object.entries(/** @type {Record<string, number>} */ (found))
		.map(([outcome, count]) => ({ outcome, count }))
		.sort((a, b) => b.count - a.count || (a.outcome < b.outcome ? -1 : 1));
}
