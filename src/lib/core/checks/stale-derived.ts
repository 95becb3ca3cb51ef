import { derivedFiles } from '../derived';
import { fileBelow, isEditable, isOn, ownFiles, type LayerFile } from '../stack';
import { decode } from '../text';
import { quoted, snagOfFile, type Rule } from './snag';

/** A file of mine that is made from my others and says something else than they are. */
export const staleDerived: Rule = {
	id: 'stale-derived',
	title: 'Made from other files, and out of date',
	reads: ['files'],
	*find({ stack }) {
		const { mine, guide, layers } = stack;
		const own = (guide.derived ?? []).filter(({ file }) => mine?.files.has(file));
		if (!mine || own.length === 0) return;
		const bytesOf = (file: LayerFile) => file.bytes();
		const below = layers.filter((layer) => !isEditable(layer) && isOn(layer));
		const refused = new Map<string, string>();
		const sources = {
			mine: new Map([...ownFiles(mine.files)].map(([path, file]) => [path, bytesOf(file)])),
			below: (path: string) => fileBelow(stack, path)?.bytes(),
			belowPaths: new Set(below.flatMap(({ files }) => [...files.keys()]))
		};
		const made = derivedFiles(guide, sources, (file, why) => refused.set(file, why));
		for (const { file, title, as } of own) {
			const next = made.get(file);
			if (!next) continue;
			const name = title ?? quoted(file);
			if (as === 'copy') {
				const why = refused.get(file);
				const said = mine.files.get(file)!.bytes();
				const isStale = next.length !== said.length || next.some((byte, nth) => byte !== said[nth]);
				if (why === undefined && !isStale) continue;
				yield snagOfFile(
					mine,
					file,
					{
						rule: 'stale-derived',
						line: 1,
						severity: why === undefined ? 'note' : 'warns',
						message:
							why === undefined
								? `${name} is out of date: it is made from records of other files. The pack will contain the right version.`
								: `${name} is made from records of other files and cannot be brought up to date. ${why}`
					},
					'stale'
				);
				continue;
			}
			const [is, wanted] = [decode(mine.files.get(file)!.bytes()).text, decode(next).text].map((text) =>
				text.split(/\r\n|\n|\r/)
			) as [string[], string[]];
			const at = wanted.findIndex((line, nth) => line !== is[nth]);
			if (at < 0 && is.length === wanted.length) continue;
			const line = Math.min(at < 0 ? wanted.length : at, is.length - 1) + 1;
			yield snagOfFile(
				mine,
				file,
				{
					rule: 'stale-derived',
					severity: 'note',
					line,
					message: `${name} is out of date from line ${line} on: it is made from the other files. The pack will contain the right version.`
				},
				'stale'
			);
		}
	}
};
