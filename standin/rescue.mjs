// One rescue of the stand-in, played from a seed: a vessel answers a call, through sea and dark, and people are saved or not.

/** @typedef {{ fields: Record<string, string> }} Thing */

/**
 * Numbers from 0 to 1 that follow from a seed: mulberry32, a generator in the public domain.
 * @param {number} seed @returns {() => number}
 */
function drawing(seed) {
	let state = Math.imul(seed, 0x9e3779b1) >>> 0;
	return () => {
		state = (state + 0x6d2b79f5) >>> 0;
		let mixed = Math.imul(state ^ (state >>> 15), state | 1);
		mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
		return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
	};
}

/** A number of a thing. @param {Thing | undefined} thing @param {string} field @param {number} otherwise */
const number = (thing, field, otherwise) => {
	const value = Number(thing?.fields[field] || NaN);
	return Number.isFinite(value) ? value : otherwise;
};

/**
 * Plays it. All that chance says is drawn before the vessel counts, so that two vessels meet the same night.
 * @param {{ call: Thing, vessel: Thing, engine: Thing | undefined, hazard: Thing | undefined, rules: Record<string, number> }} with_
 * @param {number} seed
 */
export function rescue({ call, vessel, engine, hazard, rules }, seed) {
	const draw = drawing(seed);
	const between = (/** @type {number} */ low, /** @type {number} */ high) => low + draw() * (high - low);
	const sea = between(number(call, 'sea.from', 0), number(call, 'sea.to', 9) + 1);
	const hour = between(number(call, 'hour.from', 0), number(call, 'hour.to', 24));
	const miles = between(4, 26);
	const cold = between(-14, 8);
	const struck = draw() < number(hazard, 'chance', 0.1);
	// How long each can hold out in the water, in minutes.
	const people = Array.from({ length: 3 + Math.floor(draw() * 12) }, () => 25 - 45 * Math.log(1 - draw()));

	const starts = cold >= number(engine, 'coldest', -8) ? 0 : 12;
	const dark = hour < 6 || hour > 20 ? 1.15 : 1;
	const hull = number(vessel, 'hull', 60);
	const harm = struck ? Math.min(0.6, number(hazard, 'damage', 20) / hull) : 0;
	// A small hull is slowed by the sea, a struck one more.
	const speed = Math.max(2, number(vessel, 'speed', 12) * (1 - Math.min(0.6, (sea * 3) / hull)) * (1 - harm));
	const minutes = starts + (miles / speed) * 60 * dark;
	const alive = people.filter((held) => held > minutes).length;
	const seats = Math.max(1, Math.floor(number(vessel, 'seats', 4)));
	const saved = Math.min(alive, seats);
	return {
		seed,
		saved,
		lost: people.length - saved,
		minutes: Math.round(minutes * 10) / 10,
		fuel: Math.round(((number(engine, 'fuel', 8) * minutes * 2) / 60 + (rules.fuel_reserve ?? 0)) * 10) / 10
	};
}
