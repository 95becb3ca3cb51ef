// The command for terminals and for the CI of mods: core and file system, no database.
import { GuideFault } from '$core/guide';
import { EditRefused } from '$core/formats';
import { UnsafeName } from '$core/pack';
import { inWords, SourceFault } from '../src/lib/files';
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

// Whoever reads the output may stop reading; as other programs do, this one ends then. 141: 128 and the number of SIGPIPE.
for (const stream of [process.stdout, process.stderr])
	stream.on('error', (error: NodeJS.ErrnoException) => {
		if (error.code === 'EPIPE') process.exit(141);
		if (stream === process.stdout) process.stderr.write(`${inWords(error, 'The output')}\n`);
		process.exit(2);
	});

main(process.argv.slice(2)).then(
	(status) => {
		process.exitCode = status;
	},
	(error: unknown) => {
		const known = [GuideFault, SourceFault, EditRefused, UnsafeName].some((kind) => error instanceof kind);
		if (error instanceof WrongCall) process.stderr.write(`${error.message}\n`);
		else if (known) process.stderr.write(`${(error as Error).message}\n`);
		else if ((error as NodeJS.ErrnoException).code) process.stderr.write(`${inWords(error, 'A file')}\n`);
		else
			process.stderr.write(
				`This should not have happened: ${error instanceof Error ? error.message : error}. Nothing was written.\n`
			);
		process.exitCode = error instanceof EditRefused ? 1 : 2;
	}
);
