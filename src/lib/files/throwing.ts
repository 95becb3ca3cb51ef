// Scripts tried in a process of their own, which is ended after a while: an endless loop stops nobody else.
import { spawn } from 'node:child_process';
import { programFor, thrownFrom, type Throw, type Thrown } from '$core/scripts';

/** Why a throw came to nothing, in words. */
export class ThrowFault extends Error {}

/** Characters that a throw may say; more than that is cut off with the process. */
const MOST_SAID = 8_000_000;

/**
 * Throws a script as often as asked.
 * @param machine path of the program that runs it
 * @param most milliseconds after which it is ended
 * @throws ThrowFault where it took too long, too much memory, or the machine failed
 */
export function thrown(machine: string, asked: Throw, most: number): Promise<Thrown> {
	return new Promise((done, failed) => {
		// Nothing of this machine's environment goes along.
		const child = spawn(process.execPath, ['--max-old-space-size=192', machine], {
			stdio: ['pipe', 'pipe', 'ignore'],
			env: {}
		});
		let said = '';
		let ended: string | null = null;
		const end = (why: string) => {
			ended ??= why;
			child.kill('SIGKILL');
		};
		const timer = setTimeout(() => end(`It did not finish within ${most / 1000} s and was stopped.`), most);
		child.stdout.setEncoding('utf8').on('data', (part: string) => {
			said += part;
			if (said.length > MOST_SAID) end('It produced too much output and was stopped.');
			// The answer is whole: whatever the process still does is of no interest.
			else if (said.endsWith('\n')) child.kill('SIGKILL');
		});
		child.stdin.on('error', () => undefined);
		child.on('error', () => failed(new ThrowFault('The machine for scripts could not be started.')));
		child.on('close', () => {
			clearTimeout(timer);
			if (ended !== null) return failed(new ThrowFault(ended));
			try {
				const answer = JSON.parse(said) as { said?: string; fault?: string };
				if (answer.said === undefined)
					throw new ThrowFault(
						/memory/i.test(answer.fault ?? '')
							? 'It took more than 64 MB of memory and was stopped.'
							: `The machine stopped: ${answer.fault}`
					);
				done(thrownFrom(answer.said, asked.times));
			} catch (fault) {
				failed(
					fault instanceof ThrowFault ? fault : new ThrowFault('The machine stopped without an answer.')
				);
			}
		});
		child.stdin.end(programFor(asked));
	});
}
