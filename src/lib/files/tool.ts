// A program of a game's tools that makes one file of a mod from its others: it runs on a copy, of which that file is taken.
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DerivedGuide } from '$core/guide';
import { SourceFault } from './fault';
import { pathInside } from './inside';
import { counted } from '$core/wording';
import { playGame, type Launcher } from './play';
import { writeTree } from './write';

/** Milliseconds that such a program may take. */
const LONGEST = 120_000;

/** The command that makes a file, in which `{mod}` is still open. @param folder of the game */
export const toolFor = ({ program, arguments: words = [] }: DerivedGuide, folder: string): Launcher => ({
	folder,
	program: program!,
	arguments: words.map((word) => word.replaceAll('{game}', folder))
});

/**
 * Runs a program on a copy of a mod's files.
 * @param tool `{mod}` in one of its arguments stands for the folder of the copy
 * @param file what it makes, by its path in that folder
 * @returns the bytes of that file
 * @param longest milliseconds after which it is stopped
 * @throws SourceFault where it cannot be started, fails, takes too long, or makes no such file
 */
export async function madeByTool(
	tool: Launcher,
	contents: ReadonlyMap<string, Uint8Array>,
	file: string,
	longest = LONGEST
): Promise<Uint8Array> {
	const home = await mkdtemp(join(tmpdir(), 'kettle-tool-'));
	const mod = join(home, 'mod');
	try {
		await writeTree(mod, contents);
		const words = tool.arguments.map((word) => word.replaceAll('{mod}', mod));
		const late = AbortSignal.timeout(longest);
		const { status, complaint } = await playGame({ ...tool, arguments: words }, () => undefined, late).catch(
			(fault: unknown) => {
				if (!late.aborted) throw fault;
				throw new SourceFault(
					`The program that makes ${file} did not end within ${counted(longest / 1000, 'second')} and was stopped. Nothing has changed.`
				);
			}
		);
		const why = complaint === '' ? '' : `: ${complaint.split('\n')[0]!.replaceAll(mod, '')}`;
		if (status !== 0)
			throw new SourceFault(
				`The program that makes ${file} ended with status ${status ?? 'none'}${why}. Nothing has changed.`
			);
		return await readFile(await pathInside(mod, file)).catch(() => {
			throw new SourceFault(
				`The program ended well, but there is no ${file} in the folder that it was given. Correct its arguments in the field guide: {mod} stands for that folder.`
			);
		});
	} finally {
		await rm(home, { recursive: true, force: true });
	}
}
