// Fetches bytes from the database for somebody who waits in the middle of synchronous work.
import { runAsWorker } from 'synckit';
import { readBlobs } from '../db/blobs';
import { db } from '../db/pool';

runAsWorker(async (sha256: string) => (await readBlobs(db(), [sha256])).get(sha256) ?? null);
