// A small made-up game in memory, with one of everything that the rules look at.
import { parseGuide } from '$core/guide';
import { type EffectiveValue, type Stack } from '$core/stack';
import { assembleStack, type LayerBytes } from '$core/model';

export const GUIDE = `
guide: 1
game: { title: Mill, version: { file: about.json, field: version } }
identity: mod.json
words: { kind: text, main: en, languages: { en: English, fr: Français } }
kinds:
  cart:
    title: Cart
    plural: Carts
    files: [carts.tsv]
    key: id
    merge: record
    fault: skips
    limits: { rows: 4, id: 8 }
    texts:
      - { label: Name, key: 'cart.{id}', required: true, name: true }
    fields:
      load: { title: Load, type: whole, required: true, min: 0, max: 90, unit: kg }
      wheel: { title: Wheel, type: reference, required: true, reference: { kinds: [wheel] } }
      brake: { title: Brake, type: reference, reference: { kinds: [brake] } }
      next: { title: Next, type: reference, reference: { kinds: [cart] } }
      mark: { title: Mark, type: flags, codes: { '0': old, '2': loud } }
      key: { title: Key, type: textKey, derive: 'cart.{id}' }
  wheel: { title: Wheel, files: [wheels.ini], merge: record }
  brake: { title: Brake, files: [brakes.xml], key: id, merge: record }
  text:
    title: Text
    plural: Texts
    files: ['words/{language}/*.properties']
    write: 'words/{language}/{mod}.properties'
  about: { title: About, files: [about.json] }
  mod: { title: Mod, files: [mod.json] }
`;

export const BASE: Record<string, string> = {
	'carts.tsv':
		'id\tload\twheel\tbrake\tnext\tmark\tkey\nhand\t20\toak_2\tshoe\tpony\t0\tcart.hand\npony\t60\toak_4\t\t\t5\tcart.pony\n',
	'wheels.ini': '; all of wood\n\n[oak_2]\nsize = 2\n\n; the strong one\n[oak_4]\nsize = 4\n',
	'brakes.xml': '<brakes>\n\t<brake id="shoe" grip="3" />\n\t<brake id="drum" grip="8" />\n</brakes>\n',
	'words/en/carts.properties': 'cart.hand=Hand cart\ncart.pony=Pony cart\n',
	'words/fr/carts.properties': 'cart.hand=Charrette à bras\ncart.pony=Charrette à poney\n',
	'about.json': '{ "title": "Mill", "version": "2.1" }\n',
	'plain.txt': 'nothing to read here\n'
};

const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));

/** The game with changed base files and a mod of mine over it. */
export function stackOf(
	mine: Record<string, string> = {},
	base: Record<string, string> = {},
	guide = GUIDE
): Stack {
	const layers: LayerBytes[] = [
		{ id: 'base', title: 'Base', owner: 'game', files: bytes({ ...BASE, ...base }) },
		{ id: 'mine', title: 'My mod', owner: 'me', files: bytes(mine) }
	];
	return assembleStack(layers, parseGuide(guide));
}

export const HEAD = 'id\tload\twheel\tbrake\tnext\tmark\tkey\n';

/** All that is said of a value: what it is, where it stands, and what it stands for. */
export const saidOf = (value: EffectiveValue | undefined) =>
	value && {
		value: value.value,
		remark: value.remark,
		at: [value.presence.layer.id, value.presence.path, value.presence.nth, value.presence.language],
		overrode: value.overrode.map((below) => [below.layer.id, below.value])
	};
