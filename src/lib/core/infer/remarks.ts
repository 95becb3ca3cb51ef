// What commentary in the game's own files tells of fields: what they do, their unit, their limits, what codes mean.
import type { FieldGuide } from '../guide';
import type { Group } from './group';
import { finding } from './sure';

/** What a remark says of a field. */
export interface Said {
	meaning?: string;
	unit?: string;
	min?: number;
	max?: number;
	codes?: Record<string, string>;
	unused?: boolean;
	/** What is there must not be raised, or not be lowered. */
	bound?: 'most' | 'least';
}

const UNITS =
	/(?:^|[\s(,])(?:in )?(kW|km|kn|dB|°C|degrees Celsius|tonnes|metres|meters|hours|minutes|seconds|ticks|crowns|litres an hour|points|percent|%|kg|mm|cm|m|t|h|s)(?=[\s),.;]|$)/;
const RANGE = /\b(?:from )?(-?\d+(?:\.\d+)?)\s*(?:to|–|\.\.\.?|-)\s*(-?\d+(?:\.\d+)?)\b/;
const MOST = /\b(?:at most|no more than|not above|up to|max(?:imum)?(?: of)?:?)\s+(-?\d+(?:\.\d+)?)/i;
const LEAST = /\b(?:at least|no less than|not below|min(?:imum)?(?: of)?:?)\s+(-?\d+(?:\.\d+)?)/i;
const CODES = /(?:^|[\s,;(])(\w+)\s*(?:=|:|means)\s*([^,;=:]+?)(?=\s*(?:[,;)]|$))/g;
const FIXED = /\b(?:cannot|can't|must not|may not|do not|don't|never) (?:be )?(raised?|lowered?)\b/i;
const UNUSED = /\b(?:unused|not used|does nothing|ignored|no effect|never read|obsolete)\b/i;

/** Reads one remark. Limits count only where it speaks of a limit: `1 to 5`, `at most 12`. */
export function readRemark(remark: string): Said {
	const text = remark.trim();
	const said: Said = {};
	if (text === '') return said;
	said.meaning = text.charAt(0).toUpperCase() + text.slice(1);
	const unit = UNITS.exec(text)?.[1];
	if (unit) said.unit = unit;
	const range = RANGE.exec(text);
	if (range && Number(range[1]) < Number(range[2]))
		[said.min, said.max] = [Number(range[1]), Number(range[2])];
	const most = MOST.exec(text);
	if (most) said.max = Number(most[1]);
	const least = LEAST.exec(text);
	if (least) said.min = Number(least[1]);
	const codes = [...text.matchAll(CODES)].filter(
		([, code]) => /^-?\d+$/.test(code!) || /^[a-z_]+$/.test(code!)
	);
	if (codes.length >= 2)
		said.codes = Object.fromEntries(codes.map(([, code, means]) => [code!, means!.trim()]));
	const fixed = FIXED.exec(text)?.[1];
	if (fixed) said.bound = /^raise/i.test(fixed) ? 'most' : 'least';
	if (UNUSED.test(text)) said.unused = true;
	return said;
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** The part of a longer commentary that speaks of a field: a line that begins with its name, or a clause that does. */
export function clauseFor(remark: string, name: string): string | null {
	const bare = name.replace(/\[\]/g, '');
	const last = bare.slice(bare.lastIndexOf('.') + 1);
	if (last.length < 2) return null;
	const line = new RegExp(`^\\W*${escaped(last)}(?:\\s{2,}|\\s*[:=–-]\\s+|\\t+)(.+)$`, 'mi').exec(remark);
	if (line) return line[1]!.trim();
	const clause = new RegExp(`(?:^|[,;.]\\s*)${escaped(last)}\\s+(in \\w+|[:=–-]\\s*[^,;.]+)`, 'i').exec(
		remark
	);
	return clause ? clause[1]!.replace(/^[:=–-]\s*/, '').trim() : null;
}

/** Remarks that are on fields, by path, and those on records and before them. */
export function remarksOf(group: Group): { onField: Map<string, Map<string, number>>; general: string[] } {
	const onField = new Map<string, Map<string, number>>();
	const general = new Set<string>();
	for (const { facts } of group.files) {
		const { pool, fieldRemarks, remarks, shapes, shape } = facts;
		for (let at = 0; at < fieldRemarks.length; at += 3) {
			const path = pool
				.at(shapes[shape[fieldRemarks[at]!]!]![fieldRemarks[at + 1]!]!)
				.replace(/\[\d+\]/g, '[]');
			const texts = onField.get(path) ?? new Map<string, number>();
			onField.set(path, texts);
			const text = pool.at(fieldRemarks[at + 2]!);
			texts.set(text, (texts.get(text) ?? 0) + 1);
		}
		// What speaks of all records is before the first.
		for (let at = 0; at < remarks.length && at < 4; at += 2) general.add(pool.at(remarks[at + 1]!));
	}
	return { onField, general: [...general] };
}

/** What the commentary of a kind says of a field; null where it says nothing. */
export function saidOf(
	path: string,
	{ onField, general }: ReturnType<typeof remarksOf>
): (Said & { found: FieldGuide['found'] }) | null {
	// A remark on a single record's field speaks of the field where all its records agree or there is but one.
	const own = onField.get(path);
	if (own?.size === 1) {
		const [text] = own.keys();
		return { ...readRemark(text!), found: finding(0.85, `The file says next to it: “${text}”.`) };
	}
	for (const remark of general) {
		const clause = clauseFor(remark, path);
		if (clause)
			return { ...readRemark(clause), found: finding(0.8, `The file says at its head: “${clause}”.`) };
	}
	return null;
}
