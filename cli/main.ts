// The command for terminals and for the CI of mods.
import { inWords } from '../src/lib/files';
import { growByLittle } from './memory';
import { run } from './run';

// Whoever reads the output may stop reading; as other programs do, this one ends then. 141: 128 and the number of SIGPIPE.
for (const stream of [process.stdout, process.stderr])
	stream.on('error', (error: NodeJS.ErrnoException) => {
		if (error.code === 'EPIPE') process.exit(141);
		if (stream === process.stdout) process.stderr.write(`${inWords(error, 'The output')}\n`);
		process.exit(2);
	});

growByLittle();
process.exitCode = await run(process.argv.slice(2));
