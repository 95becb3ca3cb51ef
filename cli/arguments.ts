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
