// One call of the command: core and file system, no database. Results go to standard output, messages to standard error.
import { NotPossible } from '$core/edits';
import { GuideFault } from '$core/guide';
import { EditRefused, NotPacked } from '$core/formats';
import { UnsafeName } from '$core/stack';
import { inWords, SourceFault } from '../src/lib/files';
import { carry } from './carry';
import { changes } from './changes';
import { check } from './check';
import { find } from './find';
import { guide } from './guide';
import { installPack, narrowPack, removePack, tryPack, verifyPack } from './install';
import { layers, merge } from './layers';
import { pack } from './pack';
import { patch } from './patch';
import { records } from './records';
import { script } from './script';
import { set } from './set';
import { words } from './words';
import { WrongCall } from './arguments';

const COMMANDS: Record<string, (args: string[]) => Promise<number>> = {
	records,
	set,
	guide,
	find,
	check,
	pack,
	script,
	patch,
	layers,
	merge,
	changes,
	carry,
	install: installPack,
	remove: removePack,
	verify: verifyPack,
	try: tryPack,
	narrow: narrowPack,
	words
};

/** What is said of a fault, in one line. */
function saidOf(error: unknown): string {
	const known = [WrongCall, NotPacked, GuideFault, SourceFault, EditRefused, NotPossible, UnsafeName];
	if (known.some((kind) => error instanceof kind)) return (error as Error).message;
	if ((error as NodeJS.ErrnoException).code) return inWords(error, 'A file');
	return `This should not have happened: ${error instanceof Error ? error.message : String(error)}. Nothing was written.`;
}

/** Carries a call out. @returns the exit status: 0 done, 1 snags that block or an edit that was refused, 2 a wrong call */
export async function run([name = '', ...args]: string[]): Promise<number> {
	try {
		const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
		if (!command)
			throw new WrongCall(`“${name}” is not a command. Commands: ${Object.keys(COMMANDS).join(', ')}.`);
		return await command(args);
	} catch (error) {
		process.stderr.write(`${saidOf(error)}\n`);
		return error instanceof EditRefused || error instanceof NotPossible ? 1 : 2;
	}
}
