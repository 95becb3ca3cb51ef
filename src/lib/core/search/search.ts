import { CLOSE, lineHits, recordHits } from './close';
import { namedHits } from './named';
import { narrowed } from './narrow';
import { unitsOf, wantedOf } from './query';
import { clear, scoreUnit, settle } from './score';
import type { Found, HitGroup, SearchIndex, SearchOptions } from './types';

/**
 * Finds what answers all words, in any order: records by id, by the names and texts they wear in any language, by
 * values (numbers as numbers), remarks and meanings; lines of scripts and read-mes; kinds, fields, files, notes.
 * Best first: what is called so, then what begins so, then parts, then slips of the finger. First all texts are scored
 * by the lexicon, then the best records are looked at value by value.
 */
export function search(index: SearchIndex, query: string, options: SearchOptions = {}): Found {
	const wanted = wantedOf(query.slice(0, 400), options);
	const units = unitsOf(wanted).slice(0, 12);
	const { room, lineRoom } = index;
	clear(room);
	clear(lineRoom);
	// Long words first: they leave the fewest.
	units.sort((a, b) => (b.part?.length ?? 99) - (a.part?.length ?? 99));
	let places: number[] = [];
	let lines: number[] = [];
	let open = false;
	units.forEach((unit, nth) => {
		open ||= nth > 0 && places.length + lines.length <= CLOSE && !wanted.pattern;
		if (open) return;
		const touched = scoreUnit(index, unit, nth, units.length === 1, wanted, options);
		places = settle(room, touched.places, nth);
		lines = settle(lineRoom, touched.lines, nth);
		if (nth > 0) return;
		// Later words count only where the first does.
		room.used = places;
		lineRoom.used = lines;
	});
	let { places: left, ...counted } = narrowed(index, places, options);
	const only = (group: HitGroup) => !options.group || options.group === group;
	const records = recordHits(index, left, wanted, options);
	if ((open || left.length <= CLOSE) && records.length < left.length) {
		// Only now, value by value, is known which of the few really have all words.
		left = records.map(
			(hit) => index.links.starts.get(hit.kind!)! + index.stack.tables.get(hit.kind!)!.rowOf(hit.record!)
		);
		counted = narrowed(index, left, options);
	}
	const anywhere = !options.kind && !options.format && !options.language && units.length > 0;
	const others = [
		...(wanted.phrase === '' || options.kind || options.language ? [] : namedHits(index, wanted, options)),
		...(anywhere && only('line') ? lineHits(index, lines, wanted, options) : [])
	];
	const hits = [
		...records.filter((hit) => only(hit.group)).slice(0, options.most ?? 200),
		...others.filter((hit) => only(hit.group))
	];
	return { hits, ...counted };
}
