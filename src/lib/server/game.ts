// The game of a project on this machine: where my mod goes, how it is started, and what its log says of which record.
import { isAbsolute, normalize } from 'node:path';
import { claimAt, fillPattern, type InstallGuide } from '$core/guide';
import { readLines } from '$core/log';
import type { Layer, Stack } from '$core/stack';
import { SourceFault, type Launcher, type Place } from '../files';
import { NotThere } from './faults';
import { identityFor } from './identity';
import type { Model } from './model';

export interface Game {
	launcher: Launcher;
	/** Where the log is written, below the game's folder; null where there is none. */
	log: string | null;
	place: Place;
}

/** A path below the game's folder, as it is written. */
const leavesIt = (path: string): boolean => isAbsolute(path) || /^(?:\.\.?)?(?:\/|$)/.test(normalize(path));

/**
 * How and where my mod goes into the game.
 * @param elsewhere folder of another version of it, which is started in the same way
 * @throws NotThere, SourceFault, UnsafeName
 */
export function gameOf(model: Model, elsewhere?: string): Game {
	const own = model.project.launcher;
	const { install: how } = model.guide;
	if (!own || !how)
		throw new NotThere('Not set up yet: tell Kettle Dial how to install and start this game.');
	const { name } = identityFor(model);
	const fill = (text: string) => text.replaceAll('{mod}', name);
	const folder = elsewhere ?? own.folder;
	const launcher: Launcher = {
		...own,
		folder,
		arguments: own.arguments.map((word) => (word === own.folder ? folder : fill(word)))
	};
	const mod = normalize(fill(how.folder)).replace(/\/$/, '');
	const whole = how.over === true && mod === '.';
	const caches = (model.guide.derived ?? []).flatMap(({ as, file }) => (as === 'cache' ? [file] : []));
	const outside = [whole ? undefined : mod, how.order, how.log, ...caches].find(
		(path) => path !== undefined && leavesIt(path)
	);
	if (outside !== undefined)
		throw new SourceFault(
			`The field guide names “${outside}”, which is not a place within the game’s folder. Nothing was installed.`
		);
	return {
		launcher,
		log: how.log ?? null,
		place: {
			folder,
			mod,
			over: how.over,
			twins: how.twins,
			order: how.order ?? null,
			listed: how.listed,
			caches: caches.map((path) => normalize(path)),
			name
		}
	};
}

/** One line of the game's log, with the record it speaks of where the guide can read it. */
export interface LogLine {
	text: string;
	level: string | null;
	refusal: boolean;
	kind: string | null;
	record: string | null;
	layer: string | null;
	path: string | null;
	line: number | null;
}

/** A path, and the same file in the archives that hold the same. */
const twinPaths = ({ twins = [] }: InstallGuide, path: string): string[] => [
	path,
	...twins.flatMap((all) => {
		const own = all.find((archive) => path.startsWith(`${archive}/`));
		return own === undefined
			? []
			: all.filter((archive) => archive !== own).map((archive) => archive + path.slice(own.length));
	})
];

/** The file of a layer that a log names: by its path below the game's or the mod's folder, or by the end of a path. */
function fileNamed(
	layers: readonly Layer[],
	install: InstallGuide | undefined,
	folder: string | null,
	named: string
): { layer: Layer; path: string } | null {
	// What stands over the game's own files is what the game read.
	if (install?.over === true) {
		const mine = layers.find(({ owner }) => owner === 'me');
		for (const path of twinPaths(install, named)) if (mine?.files.has(path)) return { layer: mine, path };
	}
	const inMine = install?.over !== true && folder !== null && named.startsWith(`${folder}/`);
	const path = inMine ? named.slice(folder.length + 1) : named;
	const likely = inMine
		? layers.filter(({ owner }) => owner === 'me')
		: [...layers].reverse().sort((a, b) => Number(b.owner === 'game') - Number(a.owner === 'game'));
	for (const layer of likely) if (layer.files.has(path)) return { layer, path };
	// The whole path on this machine, or no more than a name: what only one file is called by.
	const ends = (one: string) => one.endsWith(`/${named}`) || named.endsWith(`/${one}`);
	for (const layer of [...layers].reverse()) {
		const found = [...layer.files.keys()].filter(ends);
		if (found.length === 1) return { layer, path: found[0]! };
	}
	return null;
}

/** The log's lines, each led back to the file and record of a stack that it names. */
export function readLog(model: Model, log: string, stack: Stack = model.stack): LogLine[] {
	const { install } = model.guide;
	const folder = install ? fillPattern(install.folder, () => identityFor(model).name) : null;
	return readLines(log, install?.line ?? null).map(({ text, level, file, line, record: named }): LogLine => {
		const found = file === null ? null : fileNamed(stack.layers, install, folder, file);
		const facts = found?.layer.files.get(found.path)?.facts;
		const nth = facts && line !== null ? facts.lines.indexOf(line) : -1;
		const claim = found && claimAt(stack.guide, found.path, facts?.parts, nth);
		let [kind, record]: [string | null, string | null] = [null, null];
		if (facts && claim && nth >= 0 && facts.written[nth] === 1)
			[kind, record] = [claim.kind, facts.pool.at(facts.ids[nth]!)];
		else if (named !== null) {
			const tables = [...stack.tables.values()].filter(({ byId }) => byId.has(named));
			const own =
				tables.find((table) => table.kind === claim?.kind) ?? (tables.length === 1 ? tables[0] : undefined);
			if (own) [kind, record] = [own.kind, named];
		}
		return {
			text,
			level,
			refusal: level !== null && install?.refusals.includes(level) === true,
			kind,
			record,
			layer: found?.layer.id ?? null,
			path: found?.path ?? null,
			line: found ? line : null
		};
	});
}
