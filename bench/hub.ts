// A game in which one thing is named in 10,000 places of 400 files, in four formats.

/** Its files by path, its guide in YAML, and the id that all name. */
export function hubGame(): { files: Map<string, string>; guide: string; kind: string; id: string } {
	const files = new Map<string, string>();
	files.set('hubs.tsv', `id\tsize\n${['hub_1', 'hub_2', 'hub_3'].map((id) => `${id}\t4`).join('\n')}\n`);
	for (let file = 0; file < 400; file++) {
		const ids = Array.from({ length: 25 }, (_, nth) => `x_${file}_${nth}`);
		const text = [
			() => `id\thub\tpower\n${ids.map((id, nth) => `${id}\thub_1\t${nth}`).join('\n')}\n`,
			() => `id,hub,power\n${ids.map((id, nth) => `${id},hub_1,${nth}`).join('\n')}\n`,
			() => ids.map((id, nth) => `[${id}]\nhub = hub_1\npower = ${nth}\n`).join('\n'),
			() =>
				`[\n${ids.map((id, nth) => `\t{ "id": "${id}", "hub": "hub_1", "power": ${nth} }`).join(',\n')}\n]\n`
		][file % 4]!();
		files.set(`${['a', 'b', 'c', 'd'][file % 4]}/${file}.${['tsv', 'csv', 'ini', 'json'][file % 4]}`, text);
	}
	const kind = (name: string, glob: string) =>
		`  ${name}: { title: ${name}, files: ['${glob}'], key: id, merge: record, fields: { hub: { type: reference, reference: { kinds: [hub] } } } }\n`;
	const guide = `guide: 1\nkinds:\n  hub: { title: Hub, files: [hubs.tsv], key: id, merge: record }\n${kind('a', 'a/*.tsv')}${kind('b', 'b/*.csv')}${kind('c', 'c/*.ini').replace('key: id, ', '')}${kind('d', 'd/*.json')}`;
	return { files, guide, kind: 'hub', id: 'hub_1' };
}
