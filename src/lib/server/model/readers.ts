// Files are read in worker threads: one that is too much for the reader must not stop the process.
import { createHash } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Piscina } from 'piscina';
import { FACTS_VERSION } from '$core/facts';
import { howAsText, type How } from '$core/stack';
import { codeFolder } from '../settings';
import type { ToRead } from '../worker/reader';

let pool: Piscina | null = null;
const readers = () =>
	(pool ??= new Piscina({
		filename: join(codeFolder(), 'build/reader.js'),
		minThreads: 0,
		maxThreads: Math.max(2, Math.min(8, availableParallelism())),
		idleTimeout: 3000,
		// Reading makes many small things that are soon forgotten.
		resourceLimits: { maxYoungGenerationSizeMb: 96 }
	}));

/** Ends the worker threads. */
export async function stopReaders(): Promise<void> {
	await pool?.destroy();
	pool = null;
}

/** Under what the facts of a file are kept: all that they depend on. */
export const factsKey = (sha256: string, path: string, how: How): string =>
	createHash('sha256')
		.update(`${FACTS_VERSION}\n${sha256}\n${path}\n${howAsText(how)}`)
		.digest('hex');

/** Packed facts of some files, in their order; null for those that are no text. */
export const readInWorker = (files: ToRead[]): Promise<(Uint8Array | null)[]> =>
	readers().run(files) as Promise<(Uint8Array | null)[]>;
