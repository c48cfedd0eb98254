import type pg from 'pg';
import { database } from './database';

/**
 * Says that a part of a change is being done. Whoever sends it at the same time waits here. Returns what came of it where it was done
 * before, null where it was not.
 */
export async function takeChangeId(
  client: pg.PoolClient,
  changeId: string,
  part: number,
): Promise<{ result: unknown } | null> {
  const { rowCount } = await client.query(
    'insert into sent_changes (change_id, part) values ($1, $2) on conflict do nothing',
    [changeId, part],
  );
  if (rowCount === 1) return null;
  const { rows } = await client.query('select result from sent_changes where change_id = $1 and part = $2', [
    changeId,
    part,
  ]);
  return { result: rows[0].result };
}

/** Keeps what came of a part of a change, for whoever sends it again. */
export async function keepResult(
  client: pg.PoolClient,
  changeId: string,
  part: number,
  result: unknown,
): Promise<void> {
  await client.query('update sent_changes set result = $3 where change_id = $1 and part = $2', [
    changeId,
    part,
    JSON.stringify(result),
  ]);
}

/** Forgets changes that nobody sends again: pages keep what they could not send for a week at most. */
export async function forgetSentChanges(): Promise<void> {
  await database().query("delete from sent_changes where done_at < now() - interval '8 days'");
}
