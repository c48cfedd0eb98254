import { z } from 'zod';
import {
  LONG_KINDS,
  longTask,
  type LongKind,
  type LongTask,
  type Payload,
  type TaskMove,
  type TaskState,
} from '@/contract/tasks';
import { database, transaction, type Queryable } from './database';
import { announceTasks } from './notifications';
import { dropOriginals } from './heldBytes';
import { dropWritings, keepFaults } from './packWritings';
import { fromRow } from './rows';
import { TASK_VERSION, type Held } from './tasks';

/** Puts a long task into the queue; what it is to bring may be found later. */
export async function makeTask<K extends LongKind>(
  on: Queryable,
  kind: K,
  words: string,
  payload: Payload<K>,
  items: readonly NewItem[],
  /** About how much sound it makes, seconds. */
  cost = 0,
): Promise<number> {
  const { rows } = await on.query(
    `with made as (
       insert into tasks (kind, words, payload, cost, version) values ($1, $2, $3, $5, ${TASK_VERSION}) returning task_id),
     items as (
       insert into task_items (task_id, position, name, folder, path, byte_length, modified_ms, state, fault)
       select task_id, ordinality - 1, name, folder, path, "byteLength", "modifiedMs", ${STATE}, fault
         from made, ${ITEMS('$4')})
     select task_id as id from made`,
    [kind, words.slice(0, 300), JSON.stringify(payload), JSON.stringify(items), cost],
  );
  await announceTasks(on);
  return rows[0].id;
}

/** A file that a task brings in. */
export interface NewItem {
  name: string;
  folder: string;
  /** Where its bytes are: a path in the place, the archive or the catalogue. */
  path: string;
  byteLength: number | null;
  modifiedMs: number | null;
  /** Why it is not brought in: it stands in the list with the reason. */
  fault?: string;
}

const STATE = "case when fault is null then 'waiting' else 'failed' end";
const ITEMS = (json: string) => `rows from (jsonb_to_recordset(${json}) as (
  name text, folder text, path text, "byteLength" bigint, "modifiedMs" bigint, fault text)) with ordinality`;

const MOVES: Record<Exclude<TaskMove, 'forget'>, { from: readonly TaskState[]; to: TaskState }> = {
  pause: { from: ['waiting', 'running'], to: 'paused' },
  resume: { from: ['paused'], to: 'waiting' },
  cancel: { from: ['waiting', 'running', 'paused'], to: 'cancelled' },
  // Files that did not come in are tried again.
  retry: { from: ['done', 'failed', 'cancelled'], to: 'waiting' },
};

/** What ended has something that can be tried again: not what was refused before it was begun. */
const CAN_BE_RETRIED = `(t.state in ('failed', 'cancelled') or t.state = 'done'
  and exists (select from task_items x where x.task_id = t.task_id and x.state = 'failed' and x.attempts > 0))`;

/** Pauses, resumes, cancels a long task, or has what failed of it tried again; false when it is not in a state for that. */
export async function moveTask(taskId: number, move: Exclude<TaskMove, 'forget'>): Promise<boolean> {
  const { from, to } = MOVES[move];
  return transaction(async (client) => {
    const { rowCount } = await client.query(
      `update tasks t set state = $3, runner = null, lease = null, fault = null, attempts = 0, ended_at = case when $3 = 'cancelled' then now() end
        where task_id = $1 and state = any($2) and kind = any($4) and ($5 or ${CAN_BE_RETRIED})`,
      [taskId, from, to, LONG_KINDS, move !== 'retry'],
    );
    if (rowCount !== 1) return false;
    if (move === 'retry')
      await client.query(
        // What was refused before it was begun is refused again: it keeps its reason.
        "update task_items set state = 'waiting', fault = null, attempts = 0 where task_id = $1 and state in ('failed', 'running') and attempts > 0",
        [taskId],
      );
    // What was stopped by hand was not tried in vain.
    if (move === 'pause')
      await client.query("update task_items set attempts = 0 where task_id = $1 and state = 'running'", [
        taskId,
      ]);
    await announceTasks(client);
    return true;
  });
}

/** Forgets a long task that has ended, and with it an archive that nothing else rests on, or a pack that was not written to its end. */
export async function forgetTask(taskId: number): Promise<boolean> {
  return transaction(async (client) => {
    await keepFaults(client, taskId);
    const { rows } = await client.query(
      `delete from tasks where task_id = $1 and state in ('done', 'failed', 'cancelled') and kind = any($2)
        returning kind, state, (payload ->> 'originalId')::bigint as "originalId", (payload ->> 'writingId')::bigint as "writingId"`,
      [taskId, LONG_KINDS],
    );
    if (rows.length === 0) return false;
    if (rows[0].kind === 'unpack') await dropOriginals(client, [rows[0].originalId]);
    if (rows[0].kind === 'pack' && rows[0].state !== 'done') await dropWritings(client, [rows[0].writingId]);
    await announceTasks(client);
    return true;
  });
}

/** Ended tasks are forgotten after so long: those of which nothing failed, and others. */
const KEPT = { done: '2 days', failed: '30 days' };

/** Forgets tasks that ended long ago. Returns their number. */
export async function forgetOldTasks(): Promise<number> {
  const { rows } = await database().query(
    `select task_id as id from tasks t where kind = any($1) and state in ('done', 'failed', 'cancelled')
        and ended_at < now() - case when state = 'done' and not exists (
              select from task_items i where i.task_id = t.task_id and i.state = 'failed') then interval '${KEPT.done}' else interval '${KEPT.failed}' end
      order by task_id limit 1000`,
    [LONG_KINDS],
  );
  for (const { id } of rows) await forgetTask(id);
  // What measuring cost lately says how long the rest takes; no more of it is needed.
  const { rowCount } = await database().query(
    `delete from tasks t where kind = 'measure' and state in ('done', 'cancelled') and ended_at < now() - interval '${KEPT.done}'`,
  );
  return rows.length + (rowCount ?? 0);
}

/** So many of the samples of a task are named. */
const MADE_TOLD = 20;

/** Long tasks that go on, and those that ended lately. */
export async function listLongTasks(): Promise<LongTask[]> {
  const { rows } = await database().query(
    `select t.task_id as "taskId", t.kind, t.words, t.state, t.fault, to_json(t.ended_at) as "endedAt",
            count(i.position) as files, count(*) filter (where i.state = 'done') as done,
            count(*) filter (where i.state = 'failed') as failed,
            coalesce(sum(i.byte_length), 0)::double precision as bytes,
            coalesce(sum(i.received), 0)::double precision as received,
            max(i.name) filter (where i.state = 'running') as current, ${CAN_BE_RETRIED} as "canBeRetried",
            coalesce((select json_agg(f) from (select name, fault from task_items x
               where x.task_id = t.task_id and x.state = 'failed' order by position limit 20) f), '[]') as faults,
            coalesce((select json_agg(m) from (select s.sample_id as "sampleId", s.name from task_items x
               join samples s using (sample_id) where x.task_id = t.task_id and x.state = 'done'
              order by position limit ${MADE_TOLD}) m), '[]') as made
       from tasks t left join task_items i using (task_id) where t.kind = any($1)
      group by t.task_id order by (t.state in ('running', 'waiting', 'paused')) desc, t.task_id desc limit 100`,
    [LONG_KINDS],
  );
  return fromRow(z.array(longTask), rows, 'task');
}

/** A file that is in work; `attempts`: how often it was begun, this time included. */
export type TakenItem = Omit<NewItem, 'fault'> & { position: number; attempts: number };

/** Adds what a task is to bring, after what it has already; false when the task is no longer theirs. */
export async function addItems({ taskId, lease }: Held, items: readonly NewItem[]): Promise<boolean> {
  const { rows } = await database().query(
    `with mine as (select task_id from tasks where task_id = $1 and lease = $2 for update),
     added as (
       insert into task_items (task_id, position, name, folder, path, byte_length, modified_ms, state, fault)
       select task_id, (select coalesce(max(position) + 1, 0) from task_items where task_id = $1) + ordinality - 1,
              name, folder, path, "byteLength", "modifiedMs", ${STATE}, fault
         from mine, ${ITEMS('$3')})
     select exists (select from mine) as held`,
    [taskId, lease, JSON.stringify(items)],
  );
  return rows[0].held;
}

/** Whether a task has any files yet. */
export async function hasItems(taskId: number): Promise<boolean> {
  const { rows } = await database().query(
    'select exists (select from task_items where task_id = $1) as has',
    [taskId],
  );
  return rows[0].has;
}

/** The next file of a task that is still to come, beside those selected; null when there is none, or the task is no longer theirs. */
export async function takeItem(
  { taskId, lease }: Held,
  inHand: readonly number[] = [],
): Promise<TakenItem | null> {
  const { rows } = await database().query(
    `update task_items set state = 'running', attempts = attempts + 1 where task_id = $1 and position = (
        select min(i.position) from task_items i join tasks t using (task_id)
         where i.task_id = $1 and i.state in ('waiting', 'running') and t.lease = $2 and i.position <> all($3))
      returning position, name, folder, path, byte_length as "byteLength", modified_ms as "modifiedMs", attempts`,
    [taskId, lease, inHand],
  );
  return rows[0] ?? null;
}

/** Records how far a file has come (null: as far as before); false when the task is no longer theirs. */
export async function reportItem(
  { taskId, lease }: Held,
  position: number,
  received: number | null,
): Promise<boolean> {
  const { rowCount } = await database().query(
    `update task_items i set received = coalesce($4, i.received) from tasks t
      where i.task_id = $1 and i.position = $3 and t.task_id = i.task_id and t.lease = $2`,
    [taskId, lease, position, received],
  );
  return rowCount === 1;
}

/** Ends a file of a task (`isFinal`: it is never tried again); nothing happens when the task is no longer theirs. */
export async function endItem(
  { taskId, lease }: Held,
  position: number,
  end: { outcome: string; sampleId: string | null; received: number } | { fault: string; isFinal?: boolean },
  on: Queryable = database(),
): Promise<void> {
  const failed = 'fault' in end;
  await on.query(
    `update task_items i set state = $4, fault = $5, outcome = $6, sample_id = $7,
            received = case when $5::text is null then coalesce(i.byte_length, $8) else i.received end,
            attempts = case when $9 then 0 else i.attempts end
       from tasks t where i.task_id = $1 and i.position = $3 and t.task_id = i.task_id and t.lease = $2`,
    [
      taskId,
      lease,
      position,
      failed ? 'failed' : 'done',
      failed ? end.fault : null,
      failed ? null : end.outcome,
      failed ? null : end.sampleId,
      failed ? 0 : end.received,
      failed && Boolean(end.isFinal),
    ],
  );
}

/** Whether a task is still theirs who hold its lease; until the transaction ends it stays so. */
export async function holdTask(on: Queryable, { taskId, lease }: Held): Promise<boolean> {
  const { rowCount } = await on.query(
    'select from tasks where task_id = $1 and lease = $2 for no key update',
    [taskId, lease],
  );
  return rowCount === 1;
}

/** The samples that came of a task's files, in their order. */
export async function madeOfTask(
  on: Queryable,
  taskId: number,
): Promise<{ path: string; sampleId: string }[]> {
  const { rows } = await on.query(
    `select path, sample_id as "sampleId" from task_items where task_id = $1 and state = 'done' and sample_id is not null order by position`,
    [taskId],
  );
  return rows;
}
