// Draws maps in a worker: however much stands on one, the page never waits for it.
import mono from '@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2?url';
import next from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url';
import KDBush from 'kdbush';
import type { MapPage } from '$core/views';
import type { Colours } from './draw';
import type { Sight } from './scene';

/** How a map is looked at. */
interface Look {
	sight: Sight;
	colours: Colours;
	/** Pixels of the screen for one of the page. */
	ratio: number;
}

type Days = MapPage['map']['days'];

/** To the worker: fonts, what is to be drawn from now on, or how it is looked at. */
export type Asked =
	| { do: 'fonts'; fonts: [string, string][] }
	/** The answer of the server, as it came. */
	| { do: 'hold'; answer: ArrayBuffer; change: number }
	| { do: 'day'; days: Days; day: number | null; change: number }
	| { do: 'lay'; picture: ImageBitmap | null }
	| ({ do: 'draw'; change: number } & Look);

/** The picture that came of it. */
export interface Painted {
	bitmap: ImageBitmap;
	sight: Sight;
	/** The last change of what is there when it was asked for. */
	change: number;
}

/** From the worker: a picture, or where everything is after a change of what is there, to be found by its place. */
export type Answered = Painted | { index: ArrayBuffer; change: number };

/** Milliseconds for which anything waits for a picture at most. */
const LONGEST = 1000;

/** One map that is painted: of several looks at it that are asked for meanwhile, only the last one is. */
export class MapPainter {
	#worker = new Worker(new URL('./painter.worker.ts', import.meta.url), { type: 'module' });
	#look: Look | null = null;
	#isHeld = false;
	#isBusy = false;
	#isWanted = false;
	/** Changes of what is there, counted; and the one from which on the present map is there. */
	#change = 0;
	#since = 0;
	#waiting: (() => void)[] = [];

	/** Hears of each picture. */
	painted: (picture: Painted) => void = () => undefined;
	/** Hears how what is there is found by its place: by the numbers of the things; null until it is known. */
	indexed: (index: KDBush | null) => void = () => undefined;
	/** Hears that nothing can be drawn. */
	failed: () => void = () => undefined;

	constructor() {
		this.#worker.onerror = () => {
			this.failed();
			this.#go();
		};
		this.#worker.onmessage = ({ data }: MessageEvent<Answered>) => {
			if ('index' in data) {
				if (this.#isHeld && data.change === this.#change) this.indexed(KDBush.from(data.index));
				return;
			}
			this.#isBusy = false;
			if (data.change < this.#since) data.bitmap.close();
			else {
				this.painted(data);
				this.#go();
			}
			if (this.#isWanted) this.#draw();
		};
		this.#send({
			do: 'fonts',
			fonts: [
				['Atkinson Hyperlegible Mono Variable', mono],
				['Atkinson Hyperlegible Next Variable', next]
			]
		});
	}

	#send(asked: Asked, moved: Transferable[] = []): void {
		this.#worker.postMessage(asked, moved);
	}

	/** Draws what there is, once that is known and how it is looked at; of several calls meanwhile, the last one. */
	#draw(): void {
		this.#isWanted = this.#isBusy;
		if (this.#isBusy || !this.#isHeld || !this.#look) return;
		this.#isBusy = true;
		this.#send({ do: 'draw', change: this.#change, ...this.#look });
	}

	/** Lets go on whoever waits for a picture, once it is on the screen. */
	#go(): void {
		const waiting = this.#waiting.splice(0);
		if (waiting.length === 0) return;
		// With the second frame, the one with the picture has been shown.
		requestAnimationFrame(() =>
			requestAnimationFrame(() => {
				for (const done of waiting) done();
			})
		);
	}

	/**
	 * Waits for the next picture, so that nothing else is in its way; not where none can be drawn, and not for long where
	 * none comes, as on a page that nobody looks at.
	 */
	shown(): Promise<void> {
		return new Promise((done) => {
			this.#waiting.push(done);
			setTimeout(done, LONGEST);
		});
	}

	/** Another map is on its way: nothing of the one before is drawn or found any more. */
	empty(): void {
		this.#isHeld = false;
		this.#since = ++this.#change;
		this.indexed(null);
	}

	/** What stands on the map: the server's answer, which is handed over. */
	hold(answer: ArrayBuffer): void {
		this.#isHeld = true;
		this.#send({ do: 'hold', answer, change: ++this.#change }, [answer]);
		this.indexed(null);
		this.#draw();
	}

	/** The day of which all is drawn that is there; null for everything. */
	show(days: Days, day: number | null): void {
		this.#send({ do: 'day', days, day, change: ++this.#change });
		this.indexed(null);
		this.#draw();
	}

	/** What is drawn below everything. */
	lay(picture: ImageBitmap | null): void {
		this.#send({ do: 'lay', picture });
		this.#draw();
	}

	/** How the map is looked at. */
	look(sight: Sight, colours: Colours, ratio: number): void {
		this.#look = { sight, colours, ratio };
		this.#draw();
	}

	end(): void {
		this.#worker.terminate();
	}
}
