// The base is never wrong: what the untouched game does is no snag, neither there nor as the same thing in a mod, and a
// rule that the game itself breaks is held less firmly.
import { fieldOf, patternOf } from '../guide';
import { linkSteps, type Links } from '../links';
import { isGame, buildStack, type Layer, type Stack } from '../stack';
import { finished, type Draft, type Rule, type Snag } from './snag';

/** Share of a kind's records that may break a rule in the base for it still to be held as it was found. */
const FEW = 0.02;

/** What the base breaks. */
interface Exceptions {
	/** The same thing in the same record, or in the same file. */
	same: Set<string>;
	/** The same value in the same field. */
	values: Set<string>;
	/** How often a rule is broken, by kind and field. */
	counts: Map<string, number>;
}

const spoken = ({ rule, kind, field, sort }: Snag) => [
	rule,
	kind,
	field === null ? '' : patternOf(field),
	sort ?? ''
];

/** The text that a snag is about; undefined where there is none. */
function valueIn(stack: Stack, { kind, record, field, value }: Snag): string | undefined {
	if (value !== undefined) return value;
	if (kind === null || record === null || field === null) return undefined;
	return stack.tables.get(kind)?.byId.get(record)?.value(field);
}

const key = (...parts: unknown[]) => JSON.stringify(parts);

const sameKey = (stack: Stack, snag: Snag): string =>
	snag.record === null
		? key(snag.rule, snag.kind, snag.file, snag.excerpt ?? '')
		: key(
				...[snag.rule, snag.kind, snag.record, snag.field, valueIn(stack, snag) ?? null],
				snag.rule === 'duplicate-id' ? snag.file : ''
			);

const valueKey = (stack: Stack, snag: Snag): string => key(...spoken(snag), valueIn(stack, snag) ?? null);

interface Scene {
	stack: Stack;
	links: Links;
}

const alone = new WeakMap<Layer['files'], Scene>();

/** The base by itself, as the guide of a stack understands it; of the last time it was asked for what did not change is kept. */
function* baseOf(scene: Scene): Generator<void, Scene | null> {
	const { layers, guide, pool } = scene.stack;
	const base = layers.find(isGame);
	if (!base) return null;
	if (layers.every((layer) => layer === base || layer.files.size === 0)) return scene;
	const older = alone.get(base.files);
	if (older?.stack.guide === guide && older.stack.pool === pool) return older;
	const usable = older?.stack.pool === pool ? older : undefined;
	const stack = buildStack([base], guide, pool, usable?.stack);
	const next = { stack, links: yield* linkSteps(stack, usable?.links) };
	alone.set(base.files, next);
	return next;
}

/** What the base breaks of one rule; worked out once for a state of the base. */
const broken = new WeakMap<Stack, Map<string, Exceptions>>();

function* brokenBy(scene: Scene, rule: Rule): Generator<void, Exceptions> {
	const known = broken.get(scene.stack) ?? new Map<string, Exceptions>();
	broken.set(scene.stack, known);
	let found = known.get(rule.id);
	if (found) return found;
	found = { same: new Set(), values: new Set(), counts: new Map() };
	for (const snag of rule.find(scene)) {
		yield;
		if (!snag) continue;
		found.same.add(sameKey(scene.stack, snag));
		if (rule.local) found.values.add(valueKey(scene.stack, snag));
		const at = key(...spoken(snag));
		found.counts.set(at, (found.counts.get(at) ?? 0) + 1);
	}
	known.set(rule.id, found);
	return found;
}

/** A snag as grave as it may be when the base breaks the same rule so often. */
function held(stack: Stack, snag: Snag, exceptions: number): Snag {
	if (exceptions === 0 || snag.severity === 'note' || snag.kind === null) return snag;
	const table = stack.tables.get(snag.kind);
	const field = table && snag.field !== null ? fieldOf(table.guide, snag.field) : undefined;
	const detected = field?.found !== undefined || table?.guide.inferred;
	if (detected) return exceptions > FEW * (table?.count ?? 0) ? { ...snag, severity: 'note' } : snag;
	return { ...snag, severity: 'warns' };
}

/**
 * The snags without those that are the base's own ways.
 * @param rules those that the snags are from
 */
export function* withoutBase(
	scene: Scene,
	snags: readonly Draft[],
	rules: readonly Rule[]
): Generator<void, Snag[]> {
	const { stack } = scene;
	const grave = new Set(snags.filter(({ severity }) => severity !== 'note').map(({ rule }) => rule));
	// The base is looked at only where somebody would be told something.
	const base = grave.size === 0 ? null : yield* baseOf(scene);
	if (!base) return snags.map(finished);
	const exceptions = new Map<string, Exceptions>();
	for (const rule of rules) if (grave.has(rule.id)) exceptions.set(rule.id, yield* brokenBy(base, rule));
	const local = new Set(rules.flatMap(({ id, local }) => (local ? [id] : [])));
	const isBase = new Set(base.stack.layers.map(({ id }) => id));
	const left: Snag[] = [];
	for (const snag of snags) {
		yield;
		const own = exceptions.get(snag.rule);
		if (!own) left.push(finished(snag));
		else if (own.same.has(sameKey(stack, snag))) {
			// That a file of the game is not read whole is worth knowing.
			if (snag.rule === 'unreadable-file' && isBase.has(snag.layer)) left.push(finished(snag));
		} else if (!local.has(snag.rule) || !own.values.has(valueKey(stack, snag)))
			left.push(held(stack, finished(snag), own.counts.get(key(...spoken(snag))) ?? 0));
	}
	return left;
}
