// Made-up games and their next versions, of which every change is known.

export interface Thing {
	id: string;
	file: number;
	fields: Record<string, string>;
}
export const WORDS =
	'amber barge cinder dusk ember fathom gale harbour inlet jetty keel lamp mast net oar pier'.split(' ');

export function game(random: () => number) {
	const word = () => WORDS[Math.floor(random() * WORDS.length)]!;
	const number = (most: number) => String(Math.floor(random() * most));
	const make = (stem: string, fields: () => Record<string, string>): Thing[] =>
		Array.from({ length: 60 }, (_, nth) => ({
			id: `${stem}_${word()}_${nth}`,
			file: nth % 3,
			fields: fields()
		}));
	return {
		boat: make('boat', () => ({
			hull: number(200),
			speed: number(40),
			tow: number(30),
			engine: `${word()}_${number(6)}`,
			harbour: word(),
			draft: `1.${number(99)}`,
			deep: number(2)
		})),
		crew: make('crew', () => ({
			pay: number(90),
			nerve: number(60),
			station: word(),
			boat: `boat_${number(60)}`,
			watch: number(4)
		}))
	};
}
export type Game = ReturnType<typeof game>;

export function filesOf({ boat, crew }: Game, spaces: number): Record<string, string> {
	const files: Record<string, string> = {};
	for (let nth = 0; nth < 3; nth++) {
		const boats = boat.filter(({ file }) => file === nth).map(({ id, fields }) => ({ id, ...fields }));
		files[`data/boats/${nth}.json`] = JSON.stringify(boats, null, spaces);
		const people = crew.filter(({ file }) => file === nth);
		const columns = Object.keys(crew[0]!.fields);
		files[`data/crew/${nth}.csv`] = [
			['id', ...columns].join(','),
			...people.map(({ id, fields }) => [id, ...columns.map((column) => fields[column])].join(','))
		].join('\n');
	}
	return files;
}

/** The next version, with what was done to it. */
export function update(old: Game, random: () => number) {
	const next: Game = structuredClone(old);
	const truth = {
		fields: new Map<string, string>(),
		renamed: new Map<string, string>(),
		gone: new Set<string>(),
		added: new Set<string>(),
		moved: new Set<string>()
	};
	const prefix = random() < 0.3 ? 'core_' : null;
	for (const kind of ['boat', 'crew'] as const) {
		const list = next[kind];
		for (const thing of [...list]) {
			const dice = random();
			const was = thing.id;
			if (dice < 0.05) {
				list.splice(list.indexOf(thing), 1);
				truth.gone.add(`${kind} ${was}`);
				continue;
			}
			if (dice < 0.15 || prefix) {
				thing.id = prefix
					? prefix + was
					: `${kind}_${WORDS[Math.floor(random() * WORDS.length)]}_x${Math.floor(random() * 1e6)}`;
				truth.renamed.set(`${kind} ${was}`, thing.id);
			} else if (dice < 0.22) {
				thing.file = (thing.file + 1) % 3;
				truth.moved.add(`${kind} ${was}`);
			}
			for (const field of Object.keys(thing.fields))
				if (random() < 0.08) thing.fields[field] = String(Math.floor(random() * 300));
		}
		for (let nth = 0; nth < 4; nth++) {
			const model = list[Math.floor(random() * list.length)]!;
			const id = `${kind}_new_${nth}_${Math.floor(random() * 1e6)}`;
			// Made after another one, with most of it changed, as makers do.
			const fields = Object.fromEntries(
				Object.entries(model.fields).map(([field, value]) => [
					field,
					random() < 0.7 ? String(Math.floor(random() * 400)) : value
				])
			);
			list.push({ id, file: 0, fields });
			truth.added.add(`${kind} ${id}`);
		}
		if (random() < 0.7) {
			const names = Object.keys(list[0]!.fields);
			const from = names[Math.floor(random() * names.length)]!;
			truth.fields.set(`${kind} ${from}`, `${from}_v2`);
			for (const thing of list)
				thing.fields = Object.fromEntries(
					Object.entries(thing.fields).map(([name, value]) => [name === from ? `${from}_v2` : name, value])
				);
		}
		list.sort(() => random() - 0.5);
	}
	return { next, truth };
}
