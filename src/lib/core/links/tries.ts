// A function of scripts tried on a stack: its scripts, what it is given, and the game's own functions.
import { claimsOf } from '../guide';
import { calledIn, definedIn, type Throw, type ThrowValue } from '../scripts';
import { displayName, type EffectiveRecord, type Stack } from '../stack';
import { loadingOf, type Script } from './scripts';

/** Steps that one throw may take. */
const MOST_STEPS = 5_000_000;

/** A record that an argument names is not there. */
export class NoRecord extends Error {}

/** What is given to a function that is tried. */
export interface TryAsked {
	/** The function; null where the scripts are only loaded. */
	name: string | null;
	/** Records, and values as typed. */
	args: readonly ({ kind: string; id: string } | { value: string })[];
	/** What functions of the game give back, as typed; for all others what the guide says, else nil. */
	returns: Readonly<Record<string, string>>;
	seed: number;
	times: number;
}

/** Functions of the language itself. */
const LANGUAGE = new Set(
	'assert error ipairs next pairs pcall select tonumber tostring type xpcall rawequal rawget rawset rawlen unpack setmetatable getmetatable print load loadstring require dofile loadfile collectgarbage'.split(
		' '
	)
);

/** What is typed for a value: a number, true, false, nil, or a text. */
function valueOf(typed: string): ThrowValue {
	const plain = typed.trim();
	if (plain === '' || plain === 'nil') return null;
	if (plain === 'true' || plain === 'false') return plain === 'true';
	if (Number.isFinite(Number(plain))) return Number(plain);
	return /^(["']).*\1$/s.test(plain) ? plain.slice(1, -1) : typed;
}

/** A record as a table: its id and its values by their paths, numbers as numbers. */
function tableOf(record: EffectiveRecord): ThrowValue {
	const own: Record<string, ThrowValue> = Object.create(null) as Record<string, ThrowValue>;
	own.id = record.id;
	for (const [path, { value }] of record.values) {
		const names = path.split('.');
		if (names.some((name) => /[[\]#*]/.test(name))) continue;
		let at = own;
		for (const name of names.slice(0, -1)) {
			const inner = at[name];
			at = (typeof inner === 'object' && inner !== null ? inner : (at[name] = Object.create(null))) as Record<
				string,
				ThrowValue
			>;
		}
		const plain = value.trim();
		at[names.at(-1)!] =
			plain === 'true' || plain === 'false'
				? plain === 'true'
				: plain !== '' && Number.isFinite(Number(plain))
					? Number(plain)
					: value;
	}
	return own;
}

/** Functions that scripts call and none of them defines: the game's own. */
export function gameFunctions(scripts: readonly Script[], loader: string | null): string[] {
	const defined = new Set(scripts.flatMap(({ facts }) => definedIn(facts).map(({ name }) => name)));
	const called = new Set(scripts.flatMap(({ facts }) => [...calledIn(facts)]));
	return [...called]
		.filter(
			(name) => !defined.has(name) && name !== loader && !LANGUAGE.has(name) && /^[A-Za-z_]\w*$/.test(name)
		)
		.filter((name) => !/^(?:if|while|and|or|not|return|function|elseif|until|in)$/.test(name))
		.sort();
}

/**
 * A throw on the scripts of a stack.
 * @param records where the records that are given are looked for: the first stack that has one
 * @throws NoRecord
 */
export function throwOn(stack: Stack, records: readonly Stack[], asked: TryAsked): Throw {
	const loading = loadingOf(stack);
	const sources = new Map(
		loading.scripts
			// Files of nothing but removals are no scripts to run.
			.filter(
				({ path }) => /\.lua$/i.test(path) && !claimsOf(stack.guide, path).some(({ removes }) => removes)
			)
			.map(({ path, layer }) => [path, layer.files.get(path)!.text?.text ?? ''])
	);
	const loads = new Map(
		[...loading.loads].map(([path, list]) => [
			path,
			new Map(list.flatMap((load) => (load.path === null ? [] : [[load.text, load.path] as const])))
		])
	);
	const args = asked.args.map((one) => {
		if ('value' in one) return { value: valueOf(one.value), shown: null };
		const from = records.find(({ tables }) => tables.get(one.kind)?.byId.has(one.id));
		if (!from) throw new NoRecord(`No record of the kind “${one.kind}” has the id “${one.id}”.`);
		const record = from.tables.get(one.kind)!.byId.get(one.id)!;
		return { value: tableOf(record), shown: displayName(from, record) };
	});
	const game = gameFunctions(loading.scripts, loading.call);
	return {
		name: asked.name,
		args: args.map(({ value }) => value),
		shown: args.map(({ shown }) => shown),
		sources,
		entries:
			loading.call === null ? [...sources.keys()] : loading.entries.filter((path) => sources.has(path)),
		loader: loading.call,
		loads,
		game: new Map(
			game.map((name) => [
				name,
				valueOf(
					Object.hasOwn(asked.returns, name)
						? asked.returns[name]!
						: (stack.guide.calls?.[name]?.returns ?? '')
				)
			])
		),
		seed: asked.seed,
		times: asked.times,
		steps: MOST_STEPS
	};
}
