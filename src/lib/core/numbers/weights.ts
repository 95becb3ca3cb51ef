// Lists in one value, such as `pilot|cook`, or with weights, `pilot:2|cook:3`. Read with shares; edited in place, all else
// as it was written.

/** What is between the parts, and between a part and its weight. */
export interface WeightRule {
	list?: string | undefined;
	weight?: string | undefined;
}

/** One part: what it names, its weight, its share of all from 0 to 1. */
export interface Part {
	id: string;
	weight: number;
	share: number;
}

interface Cut {
	id: string;
	weight: number;
	/** Where the part begins and ends in the text, and where the digits of its weight do; -1 where it has none. */
	from: number;
	to: number;
	digits: [number, number];
}

function cut(value: string, { list, weight }: WeightRule): Cut[] {
	const cuts: Cut[] = [];
	for (let from = 0; from <= value.length;) {
		const found = list === undefined ? -1 : value.indexOf(list, from);
		const to = found < 0 ? value.length : found;
		const part = value.slice(from, to);
		const at = weight === undefined ? -1 : part.indexOf(weight);
		const id = (at < 0 ? part : part.slice(0, at)).trim();
		if (id !== '') {
			const behind = at < 0 ? '' : part.slice(at + weight!.length);
			const number = /[-+]?\d+(?:\.\d+)?/.exec(behind);
			const start = at < 0 ? -1 : from + at + weight!.length + (number?.index ?? 0);
			cuts.push({
				id,
				weight: at < 0 ? 1 : Number(number?.[0] ?? 0),
				from,
				to,
				digits: start < 0 ? [-1, -1] : [start, start + (number?.[0].length ?? 0)]
			});
		}
		from = found < 0 ? value.length + 1 : found + list!.length;
	}
	return cuts;
}

/** The parts of a weighted list. */
export function sharesOf(value: string, rule: WeightRule): Part[] {
	const parts = cut(value, rule);
	const sum = parts.reduce((total, part) => total + part.weight, 0);
	return parts.map(({ id, weight }) => ({ id, weight, share: sum > 0 ? weight / sum : 0 }));
}

/** The list with another weight for its n-th part, from 0. */
export function withWeight(value: string, rule: WeightRule, nth: number, weight: string): string {
	const part = cut(value, rule)[nth];
	if (!part) return value;
	const [from, to] = part.digits;
	if (from >= 0) return value.slice(0, from) + weight + value.slice(to);
	const end = part.from + value.slice(part.from, part.to).trimEnd().length;
	return value.slice(0, end) + (rule.weight ?? ':') + weight + value.slice(end);
}

/** The list without its n-th part. */
export function withoutPart(value: string, rule: WeightRule, nth: number): string {
	const parts = cut(value, rule);
	const part = parts[nth];
	if (!part) return value;
	const next = parts[nth + 1];
	const before = parts[nth - 1];
	if (next) return value.slice(0, part.from) + value.slice(next.from);
	return before ? value.slice(0, before.to) + value.slice(part.to) : '';
}

/** The list with a part more at its end, written as the others are. */
export function withPart(value: string, rule: WeightRule, id: string, weight: string): string {
	const last = cut(value, rule).at(-1);
	const own = rule.weight === undefined ? id : `${id}${rule.weight}${weight}`;
	if (!last) return own;
	const space = /^\s*/.exec(value.slice(last.from, last.to))![0];
	return `${value.slice(0, last.to)}${rule.list ?? ''}${space}${own}${value.slice(last.to)}`;
}

/** The list with another text for what its n-th part names; its weight and the space around it stay. */
export function withPartText(value: string, rule: WeightRule, nth: number, text: string): string {
	const part = cut(value, rule)[nth];
	if (!part) return value;
	const from = value.indexOf(part.id, part.from);
	return value.slice(0, from) + text + value.slice(from + part.id.length);
}

/** The list with its n-th part at another place among the parts; the space around each place stays. */
export function withPartMoved(value: string, rule: WeightRule, nth: number, to: number): string {
	const places = cut(value, rule).map(({ from, to: end }) => {
		const text = value.slice(from, end);
		const start = from + (text.length - text.trimStart().length);
		return [start, start + text.trim().length] as const;
	});
	if (!places[nth] || !places[to]) return value;
	const texts = places.map(([from, end]) => value.slice(from, end));
	texts.splice(to, 0, ...texts.splice(nth, 1));
	let moved = '';
	let at = 0;
	for (const [place, [from, end]] of places.entries()) {
		moved += value.slice(at, from) + texts[place]!;
		at = end;
	}
	return moved + value.slice(at);
}
