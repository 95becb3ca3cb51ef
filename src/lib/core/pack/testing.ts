// A mod of its own that shows a language for testing in the place of one of the game's.
import { applyPlan, bytesOf } from '../change';
import { planFor, type TextWrite } from '../edits';
import type { Links } from '../links';
import { buildStack, isEditable, type Identity, type Layer, type Stack } from '../stack';
import { drawnPlaces, pseudoText, textTable } from '../words';
import { packOf, type Pack } from './pack';

/** For each row of a table of texts the letters that the game has room for, where it leaves out what is longer. */
function roomOf(links: Links, stack: Stack): ReadonlyMap<number, number> {
	const rooms = new Map<number, number>();
	for (const { about, rows } of drawnPlaces(links, textTable(stack)!)) {
		if (about.longest === undefined) continue;
		for (const row of rows.keys()) rooms.set(row, Math.min(rooms.get(row) ?? Infinity, about.longest));
	}
	return rooms;
}

/** All texts as the language for testing has them, from the main language. */
function testingTexts(stack: Stack, links: Links, language: string): TextWrite[] {
	const [words, table] = [stack.guide.words!, textTable(stack)!];
	const [sources, there] = [table.column(words.main), table.column(language)];
	const rooms = roomOf(links, stack);
	const codes = [...Object.keys(words.samples ?? {}), ...(words.sections ? [words.sections.between] : [])];
	const texts: TextWrite[] = [];
	for (let row = 0; row < table.count; row++) {
		if (!(sources[row]! > 0)) continue;
		const text = pseudoText(table.pool.at(sources[row]!), {
			markup: stack.guide.markup,
			codes,
			longest: rooms.get(row)
		});
		if (there[row]! > 0 && table.pool.at(there[row]!) === text) continue;
		texts.push({ key: table.pool.at(table.rows.ids[row]!), language, text });
	}
	return texts;
}

/**
 * A mod that is loaded after all others and has every text of the game and of my mod longer, with accents and with marks
 * around it. Nothing of it gets into my mod.
 * @param language the one in whose place it is seen
 * @param identity that of my mod
 */
export function testingPack(
	stack: Stack,
	links: Links,
	language: string,
	identity: Identity
): { pack: Pack; texts: number; name: string } {
	const name = `${identity.name}_testing`;
	const empty: Layer = { id: 'testing', title: name, owner: 'me', files: new Map() };
	const below = stack.layers.map((layer): Layer =>
		isEditable(layer) ? { ...layer, owner: 'others' } : layer
	);
	const over = buildStack([...below, empty], stack.guide, stack.pool);
	const texts = testingTexts(stack, links, language);
	const made =
		texts.length === 0 ? new Map() : applyPlan(new Map(), planFor(over, { do: 'write', texts }, name));
	const files = new Map([...made].map(([path, file]) => [path, bytesOf(file)] as const));
	const belowPaths = new Set(below.flatMap((layer) => [...layer.files.keys()]));
	const pack = packOf(files, belowPaths, stack.guide, {
		...identity,
		name,
		title: `${identity.title}: language for testing`,
		description: '',
		after: stack.mine && stack.mine.files.size > 0 ? [...identity.after, identity.name] : identity.after
	});
	return { pack, texts: texts.length, name };
}
