import { AsyncLocalStorage } from 'node:async_hooks';
import type pg from 'pg';
import { transaction } from '@/store/database';
import { keepResult, takeChangeId } from '@/store/sentChanges';

/** The header by which a sender names a change: sent again under the same id, it is answered as it was the first time. */
export const CHANGE_HEADER = 'x-grento-change';

/** The change that is being worked on, and how many parts of it there were so far. */
const sent = new AsyncLocalStorage<{ id: string; parts: number }>();

/** Runs a request that its sender named, or did not name (null). */
export const asSent = <T>(id: string | null, work: () => Promise<T>): Promise<T> =>
  id === null ? work() : sent.run({ id, parts: 0 }, work);

/**
 * Runs `work` in one transaction, once for each change that a sender names, however often it is sent: the second time its
 * result of the first time is returned. That result is kept with what was done, in the same transaction; it has to be small and JSON.
 * Of what nobody names it is a transaction like any other.
 */
export async function once<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const change = sent.getStore();
  if (!change) return transaction(work);
  const part = change.parts++;
  return transaction(async (client) => {
    const before = await takeChangeId(client, change.id, part);
    if (before) return before.result as T;
    const result = await work(client);
    await keepResult(client, change.id, part, result ?? null);
    return result;
  });
}
