import type pg from 'pg';
import { transaction } from './db/pool';
import { inTurn } from './turns';

/**
 * Changes a project in one transaction. The changes of this process come one after another, and hold no connection
 * while they wait; those of other processes are kept apart by the lock on the project.
 */
export const changing = <T>(slug: string, work: (client: pg.PoolClient) => Promise<T>): Promise<T> =>
	inTurn(`changes of ${slug}`, () => transaction(work));
