// The command for terminals and for the CI of mods: core and file system, no database.
import { GuideFault } from '$core/guide';
import { EditRefused } from '$core/formats';
import { SourceFault } from '../src/lib/files';
import { check } from './check';
import { find } from './find';
import { guide } from './guide';
import { pack } from './pack';
import { records } from './records';
import { set } from './set';
import { WrongCall } from './arguments';

const COMMANDS: Record<string, (args: string[]) => Promise<number>> = {
	records,
	set,
	guide,
	find,
	check,
	pack
};

async function main([name = '', ...args]: string[]): Promise<number> {
	const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
	if (!command) throw new WrongCall(`kettle knows ${Object.keys(COMMANDS).join(', ')}, not “${name}”`);
	return command(args);
}

main(process.argv.slice(2)).then(
	(status) => {
		process.exitCode = status;
	},
	(error: unknown) => {
		const known = error instanceof GuideFault || error instanceof SourceFault || error instanceof EditRefused;
		if (error instanceof WrongCall) process.stderr.write(`${error.message}\n`);
		else if (known || (error as NodeJS.ErrnoException).code)
			process.stderr.write(`${(error as Error).message}\n`);
		else
			process.stderr.write(
				`This should not have happened: ${error instanceof Error ? error.message : error}. Nothing was written.\n`
			);
		process.exitCode = error instanceof EditRefused ? 1 : 2;
	}
);
