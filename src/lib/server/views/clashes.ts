// What two or more layers change, an order in which they can be loaded, and what another order would change.
import { checkSteps } from '$core/checks';
import { fieldOf } from '$core/guide';
import { linkSteps } from '$core/links';
import {
	clashesOf,
	orderOf,
	settledValue,
	stackWith,
	valueByRule,
	valuesBetween,
	waysFor,
	type Clash,
	type LoadOrder
} from '$core/layers';
import { displayName, isEditable, type Layer, type Stack } from '$core/stack';
import type { ClashesPage, ClashView, LayersPreview, OrderView } from '$core/views';
import { inSteps } from '../breath';
import { NotThere } from '../faults';
import { layerBeside, type Model } from '../model';

/** Clashes that are sent at a time, and values of a preview. */
const MOST = 300;
const MOST_VALUES = 40;

const known = new WeakMap<Stack, Clash[]>();

/** Worked out once for the same state. */
function clashesIn(stack: Stack): Clash[] {
	let found = known.get(stack);
	if (!found) known.set(stack, (found = clashesOf(stack)));
	return found;
}

const isMine = ({ values }: Clash): boolean => values.some(({ layer }) => isEditable(layer));
/** My mod has the last word, and says more than the game does. */
const isSettled = ({ values }: Clash): boolean => isEditable(values.at(-1)!.layer) && !values.at(-1)!.copied;

function viewOf({ stack }: Model, clash: Clash, breaking: ReadonlySet<string>): ClashView {
	const { kind, record, field, base, values, wins, differs } = clash;
	const table = kind === null ? undefined : stack.tables.get(kind);
	const found = table?.byId.get(record);
	const about = kind === null || field === null ? undefined : fieldOf(stack.guide.kinds[kind], field);
	return {
		kind,
		kindTitle: table?.guide.title ?? 'File',
		record,
		name: found ? displayName(stack, found) : record,
		field,
		fieldTitle:
			about?.title ?? (field === null ? 'contents' : (stack.guide.words?.languages[field] ?? field)),
		base: kind === null ? null : base,
		values: values.map(({ layer, value, copied, path, line }) => ({
			layer: layer.id,
			value: kind === null ? (value?.slice(0, 10) ?? null) : value,
			copied,
			path,
			line
		})),
		wins: wins.id,
		differs,
		settled: isSettled(clash),
		mine: isMine(clash),
		breaks: breaking.has(`${kind}\n${record}\n${field}`),
		rule: kind === null ? null : valueByRule(clash),
		ways: (kind === null ? [] : waysFor(stack, clash)).flatMap((by) => {
			const value = settledValue(stack, clash, { by });
			return value === null ? [] : [{ by, value }];
		})
	};
}

type Only = ClashesPage['only'];
const ONLY: readonly Only[] = ['open', 'mine', 'differs', 'breaks', 'all'];

export function clashesPage(model: Model, asked: URLSearchParams): ClashesPage {
	const { stack, snags, project } = model;
	const breaking = new Set(snags.map(({ kind, record, field }) => `${kind}\n${record}\n${field}`));
	const all = clashesIn(stack);
	const passes: Record<Only, (clash: Clash) => boolean> = {
		open: (clash) => clash.differs && !isSettled(clash),
		mine: isMine,
		differs: ({ differs }) => differs,
		breaks: ({ kind, record, field }) => breaking.has(`${kind}\n${record}\n${field}`),
		all: () => true
	};
	const only = ONLY.find((one) => one === asked.get('only')) ?? 'open';
	const chosen = all.filter(passes[only]);
	const counts = Object.fromEntries(ONLY.map((one) => [one, all.filter(passes[one]).length]));
	return {
		slug: project.slug,
		layers: stack.layers.map(({ id, title, owner }) => ({ id, title, owner })),
		clashes: chosen.slice(0, MOST).map((clash) => viewOf(model, clash, breaking)),
		counts: counts as ClashesPage['counts'],
		only,
		shown: Math.min(MOST, chosen.length)
	};
}

const orders = new WeakMap<Stack, LoadOrder>();

/** Whether the layers are in an order that works, and which one would. */
export function orderView({ stack, links }: Model): OrderView {
	let found = orders.get(stack);
	if (!found) orders.set(stack, (found = orderOf(stack, links)));
	const { order, demands, impossible } = found;
	const at = new Map(stack.layers.map((layer, nth) => [layer, nth]));
	const unmet = demands.filter(({ first, then }) => at.get(first)! > at.get(then)!);
	const same = order.every((layer, nth) => layer === stack.layers[nth]);
	return {
		offered: same ? null : order.map(({ id }) => id),
		because: [...new Set(unmet.map(({ because }) => because))],
		impossible: impossible.map(({ message }) => message)
	};
}

/** What the game would see with some layers, in some order, also such as are switched off. @throws NotThere */
export async function layersPreview(model: Model, ids: readonly string[]): Promise<LayersPreview> {
	const { stack, snags } = model;
	const layers: Layer[] = [];
	for (const id of ids) {
		const found = stack.layers.find((layer) => layer.id === id) ?? (await layerBeside(model, id));
		if (!found) throw new NotThere('There is no such layer.');
		layers.push(found);
	}
	const next = await inSteps(stackWith(stack, layers));
	const values = valuesBetween(stack, next);
	const after = await inSteps(checkSteps(next, await inSteps(linkSteps(next, model.links))));
	const [old, fresh] = [new Set(snags.map(({ id }) => id)), new Set(after.map(({ id }) => id))];
	const plain = ({ id, severity, message }: (typeof after)[number]) => ({ id, severity, message });
	return {
		values: values.slice(0, MOST_VALUES),
		count: values.length,
		added: after
			.filter(({ id }) => !old.has(id))
			.slice(0, MOST_VALUES)
			.map(plain),
		removed: snags
			.filter(({ id }) => !fresh.has(id))
			.slice(0, MOST_VALUES)
			.map(plain)
	};
}
