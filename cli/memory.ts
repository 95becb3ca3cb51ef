// How fast the memory of the command may grow. A game is read once and thrown away: by little at a time, at the price of
// looking through what there is more often.
import { setFlagsFromString } from 'node:v8';

/** By how much of what there is, in percent: at least, at most, and for each megabyte of a game. */
const [LITTLE, MUCH, FOR_EACH] = [25, 100, 4];

const growBy = (percent: number): void => setFlagsFromString(`--heap-growing-percent=${Math.round(percent)}`);

/** As the command begins. */
export const growByLittle = (): void => growBy(LITTLE);

/**
 * Once it is known how much there is to be understood: what a large game takes is far below twenty times its bytes, so
 * that there time counts.
 * @param bytes of all files of a layer
 */
export function growFor(bytes: number): void {
	const percent = (bytes / 2 ** 20) * FOR_EACH;
	if (percent > LITTLE) growBy(Math.min(MUCH, percent));
}
