import { readFile, stat } from 'node:fs/promises';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { parseArgs, type ParseArgsConfig } from 'node:util';

/** The call is wrong; the message is one line that says how it goes. */
export class WrongCall extends Error {}

/** Options and words of a call. @throws WrongCall with the usage */
export function read<T extends NonNullable<ParseArgsConfig['options']>>(
	args: string[],
	options: T,
	usage: string
) {
	try {
		return parseArgs({ args, options, allowPositionals: true, strict: true });
	} catch (error) {
		throw new WrongCall(`${(error as Error).message.split('.')[0]}. Usage: ${usage}`);
	}
}

/** The bytes of a file that was named in a call. @throws WrongCall where it is not there, or no plain file */
export async function readNamed(path: string): Promise<Uint8Array> {
	const info = await stat(path).catch(() => null);
	if (!info) throw new WrongCall(`There is no file ${path}.`);
	if (!info.isFile()) throw new WrongCall(`${path} is not a plain file. Nothing was read or written.`);
	return readFile(path);
}

/** The folder in which the command keeps what it has to know later; the same from wherever it is called. */
export const homeFolder = (): string => process.env.KETTLE_HOME ?? join(homedir(), '.kettle');
