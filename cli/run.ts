// One call of the command: core and file system, no database. Results go to standard output, messages to standard error.
import { NotPossible } from '$core/edits';
import { GuideFault } from '$core/guide';
import { EditRefused, NotPacked } from '$core/formats';
import { UnsafeName } from '$core/stack';
import { inWords, SourceFault } from '../src/lib/files';
import { WrongCall } from './arguments';

type Command = (args: string[]) => Promise<number>;

/** Only what a call needs is loaded: it starts sooner, and in less room. */
const COMMANDS: Record<string, () => Promise<Command>> = {
	records: async () => (await import('./records')).records,
	set: async () => (await import('./set')).set,
	guide: async () => (await import('./guide')).guide,
	find: async () => (await import('./find')).find,
	check: async () => (await import('./check')).check,
	pack: async () => (await import('./pack')).pack,
	script: async () => (await import('./script')).script,
	patch: async () => (await import('./patch')).patch,
	layers: async () => (await import('./layers')).layers,
	merge: async () => (await import('./layers')).merge,
	changes: async () => (await import('./changes')).changes,
	carry: async () => (await import('./carry')).carry,
	install: async () => (await import('./install')).installPack,
	remove: async () => (await import('./install')).removePack,
	verify: async () => (await import('./install')).verifyPack,
	try: async () => (await import('./install')).tryPack,
	narrow: async () => (await import('./install')).narrowPack,
	words: async () => (await import('./words')).words
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
		const load = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
		if (!load)
			throw new WrongCall(`“${name}” is not a command. Commands: ${Object.keys(COMMANDS).join(', ')}.`);
		const command = await load();
		return await command(args);
	} catch (error) {
		process.stderr.write(`${saidOf(error)}\n`);
		return error instanceof EditRefused || error instanceof NotPossible ? 1 : 2;
	}
}
