import { loadingOf, loadsAll, nearest } from '../links';
import { isEditable } from '../stack';
import { quoted, snagOfFile, withCandidates, type Rule } from './snag';

/** A script that loads one which is not there, one of mine that nothing loads, and scripts that load each other. */
export const scriptLoads: Rule = {
	id: 'script-loads',
	title: 'Loading of scripts',
	reads: ['files'],
	local: true,
	*find({ stack }) {
		const loading = loadingOf(stack);
		const { call, scripts, loads, unloaded, circles } = loading;
		if (call === null) return;
		const layers = new Map(scripts.map(({ path, layer }) => [path, layer]));
		for (const [path, list] of loads)
			for (const { line, text, path: to } of list) {
				if (to !== null) continue;
				const snag = snagOfFile(
					layers.get(path)!,
					path,
					{
						rule: 'script-loads',
						severity: 'warns',
						line,
						message: `${quoted(path)} loads the script ${quoted(text)} on line ${line}, and no layer has it. The game may stop there.`
					},
					line,
					text
				);
				yield withCandidates(snag, () =>
					nearest(
						text,
						[...new Set([...loads.values()].flat().map((load) => load.text))].filter((one) => one !== text)
					)
				);
			}
		if (loadsAll(loading))
			for (const path of unloaded) {
				const layer = layers.get(path)!;
				if (!isEditable(layer)) continue;
				yield snagOfFile(layer, path, {
					rule: 'script-loads',
					severity: 'warns',
					line: 1,
					message: `Nothing loads the script ${quoted(path)}. All scripts of the game are loaded by ${quoted(call)} in another one, so the game may never run it.`
				});
			}
		for (const circle of circles)
			yield snagOfFile(
				layers.get(circle[0]!)!,
				circle[0]!,
				{
					rule: 'script-loads',
					severity: 'note',
					line: loads.get(circle[0]!)!.find((load) => load.path === circle[1])!.line,
					message: `${circle.map(quoted).join(' loads ')}: the scripts load each other in a circle.`
				},
				circle.join()
			);
	}
};
