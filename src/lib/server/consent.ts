// Commands that came with a guide or a project are run when somebody on this machine has seen them and agreed.
import { mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { digestOf } from '$core/text';
import { SourceFault, writeAtomic, type Launcher } from '../files';
import { shelfOf } from './settings';

const fileOf = (slug: string) => join(shelfOf(slug), 'confirmed.json');

/** What tells one command from another, so that consent to one is none to another. */
const digestOfCommand = ({ folder, program, arguments: words, environment }: Launcher): string =>
	digestOf(Buffer.from(JSON.stringify([folder, program, words, environment ?? {}])));

const digests = (slug: string): Promise<string[]> =>
	readFile(fileOf(slug), 'utf8').then(
		(text) => JSON.parse(text) as string[],
		() => []
	);

/** Tells of a command whether somebody agreed to it. */
export async function agreedOn(slug: string): Promise<(command: Launcher) => boolean> {
	const known = await digests(slug);
	return (command) => known.includes(digestOfCommand(command));
}

/** @throws SourceFault where nobody ever agreed to the command on this machine, nor does now */
export async function mustBeAgreed(slug: string, command: Launcher, agreed: boolean): Promise<void> {
	const known = await digests(slug);
	const digest = digestOfCommand(command);
	if (known.includes(digest)) return;
	if (!agreed)
		throw new SourceFault(
			'This command has not been run on this machine before. Look at it, and agree to run it.'
		);
	await mkdir(shelfOf(slug), { recursive: true });
	await writeAtomic(fileOf(slug), Buffer.from(`${JSON.stringify([...known, digest])}\n`));
}
