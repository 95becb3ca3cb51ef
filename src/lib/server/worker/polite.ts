// Long work beside the server gives way to it, so that nobody who asks for a page waits for a place on a busy machine.
import { readlinkSync } from 'node:fs';
import { constants, setPriority } from 'node:os';

/** Has a process give way to others; without effect where the system does not let it. */
export function giveWay(pid: number): void {
	try {
		setPriority(pid, constants.priority.PRIORITY_BELOW_NORMAL);
	} catch {
		// It is done as fast as everything else then.
	}
}

/** Has the thread that calls this give way, where the system tells its number as Linux does. */
export function giveWayHere(): void {
	try {
		giveWay(Number(readlinkSync('/proc/thread-self').split('/').at(-1)));
	} catch {
		// There is no such place on other systems.
	}
}
