// The command for terminals and for the CI of mods.
import { setFlagsFromString } from 'node:v8';
import { inWords } from '../src/lib/files';
import { run } from './run';

// Whoever reads the output may stop reading; as other programs do, this one ends then. 141: 128 and the number of SIGPIPE.
for (const stream of [process.stdout, process.stderr])
	stream.on('error', (error: NodeJS.ErrnoException) => {
		if (error.code === 'EPIPE') process.exit(141);
		if (stream === process.stdout) process.stderr.write(`${inWords(error, 'The output')}\n`);
		process.exit(2);
	});

// A big game is read once and thrown away: its memory is to grow by little, at the price of looking through it more often.
setFlagsFromString('--heap-growing-percent=40');

process.exitCode = await run(process.argv.slice(2));
