// A script tried without its game: the program that runs it in a Lua machine, as a text, and what came of it. The program
// reaches nothing but itself: scripts get copies of harmless libraries, and the game's functions only write down their calls.

/** A value that a script gets: plain, or a table by names. */
export type ThrowValue = string | number | boolean | null | { [name: string]: ThrowValue };

/** What is tried. */
export interface Throw {
	/** The function that the game would call; null where the scripts are only loaded. */
	name: string | null;
	args: readonly ThrowValue[];
	/** How an argument is called where it is shown: the name of a record; null for its value. */
	shown?: readonly (string | null)[];
	/** Scripts by path. */
	sources: ReadonlyMap<string, string>;
	/** Scripts that are run at the start, in order; they load the others by `loader`. */
	entries: readonly string[];
	loader: string | null;
	/** By script: the path that each text given to the loader means. */
	loads: ReadonlyMap<string, ReadonlyMap<string, string>>;
	/** Functions of the game, with what they give back. */
	game: ReadonlyMap<string, ThrowValue>;
	seed: number;
	/** How often it is thrown; each time in a world of its own, with the next seed. */
	times: number;
	/** Steps (instructions of the machine) that one throw may take. */
	steps: number;
}

/** What came of one throw. */
export interface Outcome {
	/** What stopped it, in the words of the machine; null where nothing did. */
	fault: string | null;
	/** What each script said while it was loaded, where it could not be. */
	unloaded: { path: string; fault: string }[];
	returned: string[];
	printed: string[];
	/** The game's functions that were called, in order: `give(boat, "cook", 1)`. */
	calls: string[];
	/** Globals that it changed, with what they were and are. */
	changed: { name: string; before: string; after: string }[];
}

/** What came of all throws. */
export interface Thrown {
	first: Outcome;
	/** Different outcomes of many throws (calls and results), the most frequent first, and how often each came. */
	shares: { outcome: string; count: number }[];
	/** What was returned, and what of the game was called, over all throws. */
	returns: { value: string; count: number }[];
	calls: { call: string; count: number }[];
	/** What stopped the first throw that was stopped; null where none was. */
	stopped: string | null;
	times: number;
}

const NAME = /^[A-Za-z_]\w*$/;

/** A text as a literal of Lua, byte for byte as UTF-8. */
const quotedText = (text: string): string =>
	`"${text.replace(/[\\"\n\r\0]/g, (char) => `\\${String(char.charCodeAt(0)).padStart(3, '0')}`)}"`;

/** A value as a literal of Lua. */
function literal(value: ThrowValue): string {
	if (value === null) return 'nil';
	if (typeof value === 'string') return quotedText(value);
	if (typeof value === 'number')
		return Number.isFinite(value)
			? String(value)
			: value > 0
				? 'math.huge'
				: value < 0
					? '-math.huge'
					: '(0/0)';
	if (typeof value === 'boolean') return String(value);
	return `{${Object.entries(value)
		.map(([name, one]) => `[${quotedText(name)}]=${literal(one)}`)
		.join(',')}}`;
}

const table = (entries: Iterable<readonly [string, string]>): string =>
	`{${[...entries].map(([name, value]) => `[${quotedText(name)}]=${value}`).join(',')}}`;
const list = (values: Iterable<string>): string => `{${[...values].join(',')}}`;

const PROGRAM = `
local type, pairs, ipairs, next, tostring, pcall, error, load, select, rawget = type, pairs, ipairs, next, tostring, pcall, error, load, select, rawget
local setmetatable, getmetatable = setmetatable, getmetatable
local format, concat, sort, hook, randomseed, unpack = string.format, table.concat, table.sort, debug.sethook, math.randomseed, table.unpack
local function copied(from, but) local to = {} for name, value in pairs(from) do if not (but and but[name]) then to[name] = value end end return to end
local LIBRARIES = { math = copied(math), string = copied(string, { dump = true }), table = copied(table), utf8 = copied(utf8), coroutine = copied(coroutine) }
local PLAIN = { assert = assert, error = error, ipairs = ipairs, next = next, pairs = pairs, pcall = pcall, select = select, tonumber = tonumber, tostring = tostring, type = type, xpcall = xpcall, rawequal = rawequal, rawget = rawget, rawset = rawset, rawlen = rawlen, unpack = unpack, _VERSION = _VERSION,
	setmetatable = setmetatable, getmetatable = function(of) if type(of) == "table" then return getmetatable(of) end return nil end }

local NAMES = setmetatable({}, { __mode = "k" })

-- A value in words: tables to the third level, names in order.
local function said(value, depth)
	local sort_of = type(value)
	if sort_of == "string" then return format("%q", #value > 200 and value:sub(1, 200) .. "…" or value) end
	if sort_of ~= "table" then return (sort_of == "function" and "function") or tostring(value) end
	if NAMES[value] then return NAMES[value] end
	if depth == 0 then return "{…}" end
	local parts, count = {}, 0
	for name, one in next, value do
		count = count + 1
		if count > 20 then break end
		parts[#parts + 1] = tostring(name) .. " = " .. said(one, depth - 1)
	end
	sort(parts)
	if count > 20 then parts[#parts + 1] = "…" end
	return "{ " .. concat(parts, ", ") .. " }"
end

local function world(calls, printed, unloaded)
	local env = copied(PLAIN)
	for name, library in pairs(LIBRARIES) do env[name] = copied(library) end
	env._G = env
	env.print = function(...)
		local parts = {}
		for at = 1, select("#", ...) do parts[at] = tostring((select(at, ...))) end
		if #printed < 200 then printed[#printed + 1] = concat(parts, "  "):sub(1, 500) end
	end
	env.load = function(text, name, mode, own) if type(text) ~= "string" then return nil, "only texts can be loaded" end return load(text, name or "=load", "t", own or env) end
	env.loadstring = env.load
	for name, gives in pairs(GAME) do
		env[name] = function(...)
			local parts = {}
			for at = 1, select("#", ...) do parts[at] = said((select(at, ...)), 2) end
			if #calls < 500 then calls[#calls + 1] = name .. "(" .. concat(parts, ", ") .. ")" end
			return gives.value
		end
	end
	local ran, here = {}, nil
	local function run(path)
		if ran[path] then return end
		ran[path] = true
		local before = here
		here = path
		local chunk, fault = load(SOURCES[path], "=" .. path, "t", env)
		local fine = chunk ~= nil
		if fine then fine, fault = pcall(chunk) end
		if not fine then unloaded[#unloaded + 1] = { path, tostring(fault) } end
		here = before
	end
	if LOADER then
		env[LOADER] = function(text)
			local to = LOADS[here or ""] and LOADS[here or ""][text]
			if to then return run(to) end
			error("there is no script " .. tostring(text), 2)
		end
	end
	for _, path in ipairs(ENTRIES) do run(path) end
	return env
end

local function globals(env)
	local found = {}
	for name, value in next, env do
		if type(name) == "string" and type(value) ~= "function" and not LIBRARIES[name] and name ~= "_G" then found[name] = said(value, 3) end
	end
	return found
end

local function throw(seed)
	local out = { calls = {}, printed = {}, unloaded = {}, returned = {}, changed = {} }
	hook(function() error("it takes more than " .. STEPS .. " steps", 0) end, "", STEPS)
	randomseed(seed)
	local env = world(out.calls, out.printed, out.unloaded)
	if not EVENT then hook() return out end
	-- What loading called is not what the event called.
	for at = #out.calls, 1, -1 do out.calls[at] = nil end
	for at = #out.printed, 1, -1 do out.printed[at] = nil end
	local event = env[EVENT]
	if type(event) ~= "function" then
		hook()
		out.fault = "no script defines " .. EVENT
		return out
	end
	local before = globals(env)
	local given = ARGUMENTS()
	for at, name in pairs(SHOWN) do if name and type(given[at]) == "table" then NAMES[given[at]] = name end end
	local results = { pcall(event, unpack(given, 1, COUNT)) }
	hook()
	if results[1] then for at = 2, #results do out.returned[at - 1] = said(results[at], 3) end
	else out.fault = tostring(results[2]) end
	local after = globals(env)
	for name, value in pairs(after) do if before[name] ~= value then out.changed[#out.changed + 1] = { name, before[name] or "nil", value } end end
	for name, value in pairs(before) do if after[name] == nil then out.changed[#out.changed + 1] = { name, value, "nil" } end end
	sort(out.changed, function(a, b) return a[1] < b[1] end)
	return out
end

local function json(value)
	if type(value) == "string" then
		return '"' .. value:gsub('[%c"\\\\]', function(char) return format("\\\\u%04x", char:byte()) end) .. '"'
	end
	if type(value) == "number" then return format("%d", value) end
	if value == nil then return "null" end
	local parts = {}
	if value[1] ~= nil or next(value) == nil then
		for at, one in ipairs(value) do parts[at] = json(one) end
		return "[" .. concat(parts, ",") .. "]"
	end
	for name, one in pairs(value) do parts[#parts + 1] = json(name) .. ":" .. json(one) end
	return "{" .. concat(parts, ",") .. "}"
end

local first = throw(SEED)
local function counter() return { counts = {}, order = {} } end
local function count(of, key)
	if not of.counts[key] then of.order[#of.order + 1] = key end
	of.counts[key] = (of.counts[key] or 0) + 1
end
local function counted(of)
	local all = {}
	for at, key in ipairs(of.order) do if at <= 200 then all[at] = { key, of.counts[key] } end end
	return all
end
local outcomes, returns, calls = counter(), counter(), counter()
local stopped
for nth = 1, TIMES do
	local one = nth == 1 and first or throw(SEED + nth - 1)
	local parts = {}
	for _, call in ipairs(one.calls) do parts[#parts + 1] = call end
	if #one.returned > 0 then parts[#parts + 1] = "returns " .. concat(one.returned, ", ") end
	if one.fault then parts[#parts + 1] = "stops: " .. one.fault end
	count(outcomes, #parts == 0 and "nothing" or concat(parts, "; "))
	for _, call in ipairs(one.calls) do count(calls, call) end
	if one.fault then stopped = stopped or one.fault else count(returns, #one.returned == 0 and "nothing" or concat(one.returned, ", ")) end
end
return json({ first = first, shares = counted(outcomes), returns = counted(returns), calls = counted(calls), stopped = stopped })
`;

/** The whole program for a throw, in Lua 5.4; it gives back a text that `thrownFrom` reads. */
export function programFor(asked: Throw): string {
	const given = [
		['EVENT', asked.name === null ? 'nil' : quotedText(asked.name)],
		['COUNT', String(asked.args.length)],
		['SEED', String(Math.trunc(asked.seed))],
		['TIMES', String(asked.times)],
		['STEPS', String(asked.steps)],
		['LOADER', asked.loader === null ? 'nil' : quotedText(asked.loader)],
		['SHOWN', list((asked.shown ?? []).map((one) => (one === null ? 'false' : quotedText(one))))],
		['ENTRIES', list(asked.entries.map(quotedText))],
		['SOURCES', table([...asked.sources].map(([path, text]) => [path, quotedText(text)]))],
		[
			'LOADS',
			table(
				[...asked.loads].map(([path, by]) => [
					path,
					table([...by].map(([text, to]) => [text, quotedText(to)]))
				])
			)
		],
		[
			'GAME',
			table(
				[...asked.game]
					.filter(([name]) => NAME.test(name))
					.map(([name, value]) => [name, `{value=${literal(value)}}`])
			)
		],
		['ARGUMENTS', `function() return ${list(asked.args.map(literal))} end`]
	];
	return `${given.map(([name, value]) => `local ${name} = ${value}`).join('\n')}\n${PROGRAM}`;
}

/** What came of a throw, from the text that its program gave back. */
export function thrownFrom(text: string, times: number): Thrown {
	const { first, shares, returns, calls, stopped } = JSON.parse(text) as {
		first: Record<string, unknown> & { fault?: string };
		shares: [string, number][];
		returns: [string, number][];
		calls: [string, number][];
		stopped?: string;
	};
	const texts = (value: unknown) => (Array.isArray(value) ? (value as string[]) : []);
	return {
		first: {
			fault: first.fault ?? null,
			unloaded: (first.unloaded as [string, string][]).map(([path, fault]) => ({ path, fault })),
			returned: texts(first.returned),
			printed: texts(first.printed),
			calls: texts(first.calls),
			changed: (first.changed as [string, string, string][]).map(([name, before, after]) => ({
				name,
				before,
				after
			}))
		},
		shares: shares
			.map(([outcome, count]) => ({ outcome, count }))
			.sort((a, b) => b.count - a.count || (a.outcome < b.outcome ? -1 : 1)),
		returns: returns.map(([value, count]) => ({ value, count })).sort((a, b) => b.count - a.count),
		calls: calls.map(([call, count]) => ({ call, count })),
		stopped: stopped ?? null,
		times
	};
}
