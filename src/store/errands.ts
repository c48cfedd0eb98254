import { z } from 'zod';
import { errand, type Errand } from '@/core/library/intake';
import { database, transaction } from './database';
import { RUNNER_LOCKS } from './jobs';

export type ErrandKind = Errand['kind'];

/** A file that an errand brings in. */
export interface ErrandItem {
  name: string;
  folder: string;
  /** Where its bytes are: a path in the place, the archive or the catalogue. */
  path: string;
  byteLength: number | null;
  modifiedMs: number | null;
}

const claimedErrand = z.object({
  errandId: z.number(),
  kind: z.enum(['zip', 'place', 'delivery']),
  source: z.record(z.string(), z.unknown()),
});
export type ClaimedErrand = z.infer<typeof claimedErrand>;
export type ClaimedItem = ErrandItem & { position: number };

/** Puts an errand into the row; what it is to bring may be found later. */
export async function makeErrand(
  kind: ErrandKind,
  words: string,
  source: Record<string, unknown>,
  items: readonly ErrandItem[],
): Promise<number> {
  const { rows } = await database().query(
    'insert into errands (kind, words, source) values ($1, $2, $3) returning errand_id as id',
    [kind, words.slice(0, 300), source],
  );
  await addErrandItems(rows[0].id, items);
  return rows[0].id;
}

/** Adds what an errand is to bring, after what it has already. */
export async function addErrandItems(errandId: number, items: readonly ErrandItem[]): Promise<void> {
  if (items.length === 0) return;
  await database().query(
    `insert into errand_items (errand_id, position, name, folder, path, byte_length, modified_ms)
     select $1, (select coalesce(max(position) + 1, 0) from errand_items where errand_id = $1) + place, name, folder, path, "byteLength", "modifiedMs"
       from jsonb_to_recordset($2) as given (place integer, name text, folder text, path text, "byteLength" bigint, "modifiedMs" bigint)`,
    [errandId, JSON.stringify(items.map((item, place) => ({ ...item, place })))],
  );
}

/** Takes the next waiting errand for the process that holds the advisory lock `runner`, or null. */
export async function claimErrand(runner: number): Promise<ClaimedErrand | null> {
  const { rows } = await database().query(
    `update errands set state = 'running', runner = $1
      where errand_id = (select errand_id from errands where state = 'waiting' order by errand_id for update skip locked limit 1)
      returning errand_id as "errandId", kind, source`,
    [runner],
  );
  return rows.length ? claimedErrand.parse(rows[0]) : null;
}

/** The next file of an errand that is still to come; null when there is none, or the errand is no longer to run. */
export async function nextItem(errandId: number): Promise<ClaimedItem | null> {
  const { rows } = await database().query(
    `update errand_items set state = 'running' where errand_id = $1 and position = (
        select min(i.position) from errand_items i join errands e using (errand_id)
         where i.errand_id = $1 and i.state in ('waiting', 'running') and e.state = 'running')
      returning position, name, folder, path, byte_length as "byteLength", modified_ms as "modifiedMs"`,
    [errandId],
  );
  return rows[0] ?? null;
}

/** Records how far a file has come; false when the errand is no longer to run. */
export async function reportItem(errandId: number, position: number, received: number): Promise<boolean> {
  const { rowCount } = await database().query(
    `update errand_items i set received = $3 from errands e
      where i.errand_id = $1 and i.position = $2 and e.errand_id = i.errand_id and e.state = 'running'`,
    [errandId, position, received],
  );
  return rowCount === 1;
}

export async function endItem(
  errandId: number,
  position: number,
  end: { outcome: string; sampleId: string | null; received: number } | { fault: string },
): Promise<void> {
  if ('fault' in end)
    await database().query(
      "update errand_items set state = 'failed', fault = $3 where errand_id = $1 and position = $2",
      [errandId, position, end.fault],
    );
  else
    await database().query(
      `update errand_items set state = 'done', outcome = $3, sample_id = $4, received = coalesce(byte_length, $5), fault = null
        where errand_id = $1 and position = $2`,
      [errandId, position, end.outcome, end.sampleId, end.received],
    );
}

/** Ends a running errand whose files are through, or that cannot go on for a reason. */
export async function endErrand(errandId: number, fault: string | null): Promise<void> {
  await database().query(
    `update errands set state = case when $2::text is null then 'done' else 'failed' end, fault = $2, runner = null, ended_at = now()
      where errand_id = $1 and state = 'running'`,
    [errandId, fault],
  );
}

/** Gives back errands whose process is gone. */
export async function reclaimErrands(): Promise<void> {
  await database().query(
    `update errands set state = 'waiting', runner = null where state = 'running' and not exists (
       select from pg_locks where locktype = 'advisory' and classid = $1 and objid = errands.runner and objsubid = 2
          and database = (select oid from pg_database where datname = current_database()))`,
    [RUNNER_LOCKS],
  );
}

/** Gives back what a process that stops on purpose was at. */
export async function releaseErrands(runner: number): Promise<void> {
  await database().query(
    "update errands set state = 'waiting', runner = null where state = 'running' and runner = $1",
    [runner],
  );
}

const MOVES = {
  pause: { from: ['waiting', 'running'], to: 'paused' },
  resume: { from: ['paused'], to: 'waiting' },
  cancel: { from: ['waiting', 'running', 'paused'], to: 'cancelled' },
  /** Files that did not come in are tried again. */
  retry: { from: ['done', 'failed', 'cancelled'], to: 'waiting' },
} as const satisfies Record<string, { from: readonly Errand['state'][]; to: string }>;
export type ErrandMove = keyof typeof MOVES;
export const ERRAND_MOVES = Object.keys(MOVES) as ErrandMove[];

/** Pauses, resumes, cancels an errand, or has what failed of it tried again; false when it is not in a state for that. */
export async function moveErrand(errandId: number, move: ErrandMove): Promise<boolean> {
  const { from, to } = MOVES[move];
  return transaction(async (client) => {
    const { rowCount } = await client.query(
      `update errands set state = $3, runner = null, fault = null, ended_at = case when $3 = 'cancelled' then now() end
        where errand_id = $1 and state = any($2)`,
      [errandId, from, to],
    );
    if (rowCount !== 1) return false;
    if (move === 'retry')
      await client.query(
        "update errand_items set state = 'waiting', fault = null where errand_id = $1 and state in ('failed', 'cancelled', 'running')",
        [errandId],
      );
    return true;
  });
}

/** Forgets an errand that has ended, and with it an archive that nothing else rests on. */
export async function forgetErrand(errandId: number): Promise<boolean> {
  return transaction(async (client) => {
    const { rows } = await client.query(
      `delete from errands where errand_id = $1 and state in ('done', 'failed', 'cancelled')
        returning kind, (source ->> 'originalId')::bigint as "originalId"`,
      [errandId],
    );
    if (rows.length === 0) return false;
    if (rows[0].kind === 'zip')
      await client.query(
        `delete from originals o where original_id = $1
            and not exists (select from samples s where s.original_id = o.original_id or s.listening_id = o.original_id)
            and not exists (select from errands e where e.kind = 'zip' and e.source ->> 'originalId' = $1::text)`,
        [rows[0].originalId],
      );
    return true;
  });
}

/** Errands that go on, and those that ended lately. */
export async function listErrands(): Promise<Errand[]> {
  const { rows } = await database().query(
    `select e.errand_id as "errandId", e.kind, e.words, e.state, e.fault,
            count(i.position) as files, count(*) filter (where i.state = 'done') as done,
            count(*) filter (where i.state = 'failed') as failed,
            coalesce(sum(i.byte_length), 0)::double precision as bytes,
            coalesce(sum(i.received), 0)::double precision as received,
            max(i.name) filter (where i.state = 'running') as current,
            coalesce((select json_agg(f) from (select name, fault from errand_items x
               where x.errand_id = e.errand_id and x.state = 'failed' order by position limit 20) f), '[]') as faults
       from errands e left join errand_items i using (errand_id)
      group by e.errand_id order by (e.state in ('running', 'waiting', 'paused')) desc, e.errand_id desc limit 20`,
  );
  return rows.map((row) => errand.parse(row));
}
