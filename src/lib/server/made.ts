// Files of my mod that programs of the game's tools make: made anew when what they are made from
// changed (my files, the game's, the program itself), and kept.
import { readFile } from 'node:fs/promises';
import { isAbsolute, join, sep } from 'node:path';
import { programsOf, sourcesDigest } from '$core/derived';
import type { DerivedGuide } from '$core/guide';
import { digestOf } from '$core/text';
import type { ProgramView } from '$core/views';
import { inWords, madeByTool, toolFor, type Launcher } from '../files';
import { keepMade, madeOf } from './cache';
import { agreedOn, mustBeAgreed } from './consent';
import { NotThere } from './faults';
import type { Model } from './model';
import { inTurn } from './turns';

/** The command, which `{mod}` is still open in; null where nobody has told where the game is. */
function commandOf({ project }: Model, about: DerivedGuide): Launcher | null {
	const folder = project.launcher?.folder;
	return folder === undefined ? null : toolFor(about, folder);
}

/** What tells one state of the programs from another: those of the files that a command names which the game has. */
async function digestOfTools({ folder, program, arguments: words }: Launcher): Promise<string> {
	const digests: string[] = [];
	for (const word of [program, ...words]) {
		const path = isAbsolute(word) ? word : join(folder, word);
		if (!path.startsWith(folder + sep)) continue;
		const bytes = await readFile(path).catch(() => null);
		if (bytes) digests.push(digestOf(bytes));
	}
	return digests.join(' ');
}

/** Made files by path, and what is to be said of each program. */
export interface Made {
	files: Map<string, Uint8Array>;
	programs: ProgramView[];
}

/**
 * Runs the programs that somebody agreed to, where what they make was not made before from the same.
 * @param contents the files of my mod
 * @param below all paths that the layers below have
 */
export async function madeFor(
	model: Model,
	contents: ReadonlyMap<string, Uint8Array>,
	below: ReadonlySet<string>
): Promise<Made> {
	const { slug } = model.project;
	const all = programsOf(model.guide);
	const made: Made = { files: new Map(), programs: [] };
	if (all.length === 0) return made;
	const isAgreed = await agreedOn(slug);
	for (const about of all) {
		const command = commandOf(model, about);
		// What one program made may be what the next one makes its own from.
		const now = new Map([...contents, ...made.files]);
		const source = sourcesDigest(about, now, below);
		if (source === null) continue;
		const say = (state: ProgramView['state'], said: string | null = null) =>
			made.programs.push({
				file: about.file,
				title: about.title ?? about.file,
				command: command && [command.program, ...command.arguments],
				state,
				said
			});
		if (command === null) say('no game');
		else if (!isAgreed(command)) say('not agreed');
		else
			try {
				const bytes = await inTurn(`tool ${slug}`, async () => {
					const game = model.layers.flatMap(({ id, owner, revision }) =>
						owner === 'me' ? [] : [`${id} ${revision}`]
					);
					const state = [source, command.folder, await digestOfTools(command), ...game];
					const key = digestOf(Buffer.from(`made ${state.join('\n')}`));
					const known = madeOf(key);
					if (known) return known;
					const fresh = await madeByTool(command, now, about.file);
					keepMade(key, null, fresh);
					return fresh;
				});
				made.files.set(about.file, bytes);
				say('made');
			} catch (fault) {
				say('failed', inWords(fault, about.title ?? about.file));
			}
	}
	return made;
}

/** Somebody agrees to the program that makes a file. @throws NotThere */
export async function agreeToProgram(model: Model, file: string): Promise<void> {
	const about = programsOf(model.guide).find((one) => one.file === file);
	const command = about && commandOf(model, about);
	if (!command) throw new NotThere(`No program of the field guide makes ${file}. Load the page again.`);
	await mustBeAgreed(model.project.slug, command, true);
}
