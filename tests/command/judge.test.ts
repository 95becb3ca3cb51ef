// What is predicted and what the game refuses, over many mods broken at random: both ways, place by place.
import { runs } from '../runs';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { bytesOf, applySplices } from '$core/change';
import { checkStack, repairsFor } from '$core/checks';
import { recordLine } from './places';
import { planFor } from '$core/edits';
import { EditRefused, formatFor, readDocument, type TextFormat } from '$core/formats';
import { hintsFor, parseGuide, type Guide } from '$core/guide';
import { applyPlan } from '$core/change';
import { createPool } from '$core/facts';
import { buildStack, type Layer } from '$core/stack';
import { guideWith, loadLayer } from '$core/model';
import { type TextFile } from '$core/text';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const guide = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
const game = mkdtempSync(join(tmpdir(), 'kettle-judge-'));
const installed = join(game, 'mods/longline');
const pool = createPool();
let below: Layer;
let told: Guide;
let base: Map<string, Uint8Array>;
let sound: Map<string, string>;

beforeAll(async () => {
	cpSync(join(demo, 'base'), game, { recursive: true });
	writeFileSync(join(game, 'load-order.json'), '{"mods":["longline"]}');
	base = await readAll(await openFolder(join(demo, 'base')));
	const files = await readAll(await openFolder(join(demo, 'longline')));
	sound = new Map([...files].map(([path, bytes]) => [path, new TextDecoder().decode(bytes)]));
	// A mod without mistakes to begin with: they would hide what is broken on the same lines.
	sound.set(
		'data/vessels.tsv',
		sound.get('data/vessels.tsv')!.replace('triple_9', 'triple_6').replace('\tkeel_deep\t\t', '\t\t\t')
	);
	for (const language of ['en', 'de', 'ja']) {
		const path = `words/${language}/longline.properties`;
		sound.set(path, `${sound.get(path)}vessel.barge_09.name=Mudlark\n`);
	}
	// Files that are replaced whole: as the base has them, to be broken.
	for (const path of WHOLE)
		sound.set(
			path,
			path.endsWith('.lst')
				? new TextDecoder('shift_jis').decode(base.get(path)).replace(/ #.*$/gm, '')
				: new TextDecoder().decode(base.get(path))
		);
	const bottom = loadLayer({ id: 'base', title: 'Base', owner: 'game' }, base, { guide, pool });
	told = guideWith(guide, bottom);
	below = bottom;
	// More records to break, of every kind that merges by record.
	for (const slot of ['hull', 'bridge']) {
		const text = new TextDecoder().decode(base.get(`data/gear/${slot}.xml`));
		sound.set(`data/gear/${slot}.xml`, text);
	}
});
afterAll(() => rmSync(game, { recursive: true }));

/** The stack of a mod over the base, which is read once for all of them. */
function stackOf(mod: ReadonlyMap<string, string>) {
	const files = new Map([...mod].map(([path, text]) => [path, new TextEncoder().encode(text)]));
	const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, files, {
		guide: told,
		below: [below],
		pool
	});
	return buildStack([below, mine], told, pool);
}

/** Places at which the prediction blocks. */
function predicted(mod: ReadonlyMap<string, string>): Set<string> {
	const stack = stackOf(mod);
	return new Set(
		checkStack(stack)
			.filter((snag) => snag.severity === 'blocks')
			.map(
				(snag) => `${snag.layer === 'mine' ? 'mods/longline/' : ''}${snag.file}:${recordLine(stack, snag)}`
			)
	);
}

/** Places that the game drops or refuses. */
function refused(mod: ReadonlyMap<string, string>): Set<string> {
	rmSync(installed, { recursive: true, force: true });
	for (const [path, text] of mod) {
		mkdirSync(dirname(join(installed, path)), { recursive: true });
		writeFileSync(join(installed, path), text);
	}
	const { log } = loadGame(game);
	return new Set(
		log.filter(({ level }) => level === 'DROPPED' || level === 'REFUSED').map(({ place }) => place)
	);
}

const VALUES = [
	'',
	'-',
	'0',
	'1',
	'5',
	'-3',
	'999',
	'10000',
	'2.5',
	'7.',
	'+4',
	'1e2',
	'much',
	'boom_long',
	'triple_6',
	'triple_66',
	'keel_deep',
	'lamp_arc',
	'tug_01',
	'vessel.tug_01',
	'gear.bow_ram',
	'Triple_6',
	'mate',
	'nobody',
	'0.5',
	'1999-02-30',
	'1925-06-11',
	'true',
	'212',
	'bay:knot',
	'deck',
	'TUG_01',
	'white_gull',
	'cook:2|nobody:1'
];
/** Files of the game that a mod replaces whole. */
const WHOLE = [
	'data/crew.json',
	'data/abilities.json',
	'data/hazards.csv',
	'data/salvage.csv',
	'data/calls.yaml',
	'data/ambience.yaml',
	'data/omens.xml',
	'data/stations/tern_rock.toml',
	'data/bays/knot/layout.json',
	'data/bays/knot/lanes.json',
	'data/bays/knot/spawns/01-14.lst',
	'scripts/freeplay.lua',
	'data/tints.json',
	'data/controls.json',
	'client/modes.json'
];
const FILES = [
	...WHOLE,
	'data/vessels.tsv',
	'data/engines.ini',
	'data/gear/deck.xml',
	'data/gear/hull.xml',
	'data/gear/bridge.xml'
];

/** The mod with one field of one record set to something, or taken out; as it was where the format cannot do that. */
function broken(
	mod: ReadonlyMap<string, string>,
	file: string,
	r: number,
	f: number,
	value: string | null
): Map<string, string> {
	const text = mod.get(file)!;
	const hints = hintsFor(told, file);
	const doc = readDocument(file, text, hints)!;
	const format = formatFor(file, hints) as TextFormat;
	const record = doc.records[r % doc.records.length]!;
	// Effects have no limits in the guide, and the ids of records are broken by another test.
	const fields = record.fields.filter(({ path }) => !path.startsWith('effect') && path !== doc.key);
	const field = fields[f % fields.length]!;
	try {
		const splices =
			value === null ? format.unset(doc, record, field.path) : format.set(doc, record, field.path, value);
		return new Map(mod).set(file, applySplices(text, splices));
	} catch (error) {
		if (error instanceof EditRefused) return new Map(mod);
		throw error;
	}
}

const breaks = fc.array(
	fc.tuple(
		fc.constantFrom(...FILES),
		fc.nat(200),
		fc.nat(200),
		fc.option(fc.constantFrom(...VALUES), { nil: null, freq: 8 })
	),
	{ minLength: 1, maxLength: 3 }
);

test('the sound mod: nothing is predicted, nothing refused', () => {
	expect([...predicted(sound)]).toEqual([]);
	expect([...refused(sound)]).toEqual([]);
});

test('over 300 mods broken at random, predicted and refused places are the same', () => {
	let faulty = 0;
	fc.assert(
		fc.property(breaks, (list) => {
			const mod = list.reduce((now, [file, r, f, value]) => broken(now, file, r, f, value), new Map(sound));
			const seen = refused(mod);
			if (seen.size > 0) faulty++;
			expect([...predicted(mod)].sort()).toEqual([...seen].sort());
		}),
		{ numRuns: runs(300) }
	);
	// The test would say nothing if hardly any of them were broken.
	expect(faulty).toBeGreaterThan(runs(100));
});

test('repairing what can be repaired, first repair first, leaves nothing that the game refuses there', () => {
	fc.assert(
		fc.property(breaks, (list) => {
			let mod = list.reduce((now, [file, r, f, value]) => broken(now, file, r, f, value), new Map(sound));
			for (let round = 0; round < 12; round++) {
				const stack = stackOf(mod);
				const snag = checkStack(stack).find(
					(candidate) => candidate.severity === 'blocks' && repairsFor(stack, candidate).length > 0
				);
				if (!snag) break;
				const files = new Map<string, TextFile>();
				for (const [path, { text }] of stack.mine!.files) if (text) files.set(path, text);
				const after = applyPlan(files, planFor(stack, repairsFor(stack, snag)[0]!.intention, 'longline'));
				mod = new Map([...after].map(([path, file]) => [path, new TextDecoder().decode(bytesOf(file))]));
			}
			const left = predicted(mod);
			expect([...refused(mod)].sort()).toEqual([...left].sort());
		}),
		{ numRuns: runs(60) }
	);
});
