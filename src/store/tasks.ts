import type pg from 'pg';
import { z } from 'zod';
import { measureRequest } from '@/core/library/measuring';
import {
  LONG_KINDS,
  longTask,
  type LongKind,
  TASK_PAYLOADS,
  type LongTask,
  type MeasuringState,
  type Payload,
  type TaskKind,
  type TaskMove,
  type TaskState,
} from '@/core/library/tasks';
import { database, transaction, type Queryable } from './database';
import { announceTasks } from './notifications';
import { fromRow, known } from './rows';

const VERSION = 1;
export const MOST_ATTEMPTS = 3;

/** A task that somebody has taken: as long as the lease is theirs, what they write of it counts. */
export interface TakenTask<K extends TaskKind = TaskKind> {
  taskId: number;
  kind: K;
  payload: Payload<K>;
  /** What is measured; null for other kinds. */
  sampleId: string | null;
  lease: number;
  attempts: number;
}

/** First key of the advisory locks that living processes hold; the second is the runner. */
const RUNNER_LOCKS = 7_341;

const IS_GONE = `not exists (select from pg_locks where locktype = 'advisory' and classid = ${RUNNER_LOCKS} and objid = tasks.runner
  and objsubid = 2 and database = (select oid from pg_database where datname = current_database()))`;

/** Takes a free runner number and holds it as long as `client` is connected: the process's sign of life. */
export async function holdRunner(client: pg.ClientBase): Promise<number> {
  for (let runner = 1; ; runner++) {
    const { rows } = await client.query('select pg_try_advisory_lock($1, $2) as held', [
      RUNNER_LOCKS,
      runner,
    ]);
    if (rows[0].held) return runner;
  }
}

/** Puts a long task into the queue; what it is to bring may be found later. */
export async function makeTask<K extends LongKind>(
  on: Queryable,
  kind: K,
  words: string,
  payload: Payload<K>,
  items: readonly NewItem[],
): Promise<number> {
  const { rows } = await on.query(
    `with made as (
       insert into tasks (kind, words, payload, version) values ($1, $2, $3, ${VERSION}) returning task_id),
     items as (
       insert into task_items (task_id, position, name, folder, path, byte_length, modified_ms)
       select task_id, ordinality - 1, name, folder, path, "byteLength", "modifiedMs"
         from made, ${ITEMS('$4')})
     select task_id as id from made`,
    [kind, words.slice(0, 300), JSON.stringify(payload), JSON.stringify(items)],
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

const ITEMS = (json: string) => `rows from (jsonb_to_recordset(${json}) as (
  name text, folder text, path text, "byteLength" bigint, "modifiedMs" bigint, fault text)) with ordinality`;

/**
 * Puts the measuring of a sample into the queue. One that waits is told anew; one that runs is run once more when it
 * is done: what is asked for is done.
 */
export async function enqueueMeasuring(
  on: Queryable,
  sampleIds: readonly string[],
  request: z.input<typeof measureRequest>,
  priority = 0,
): Promise<void> {
  if (sampleIds.length === 0) return;
  await on.query(
    `insert into tasks (kind, sample_id, payload, version, priority) select 'measure', unnest($1::uuid[]), $2, ${VERSION}, $3
     on conflict (sample_id) where kind = 'measure' and state in ('waiting', 'running')
     do update set priority = greatest(tasks.priority, excluded.priority),
       payload = case tasks.state when 'waiting' then excluded.payload else tasks.payload end,
       again = case tasks.state when 'running' then excluded.payload end`,
    [sampleIds, JSON.stringify(measureRequest.parse(request)), priority],
  );
  await announceTasks(on);
}

const takenRow = z.object({
  taskId: z.number(),
  kind: z.enum(Object.keys(TASK_PAYLOADS) as [TaskKind, ...TaskKind[]]),
  payload: z.unknown(),
  version: z.number(),
  sampleId: z.uuid().nullable(),
  lease: z.number(),
  attempts: z.number(),
});

/**
 * Takes the next waiting task of these kinds for the process that holds the advisory lock `runner`. Who takes at the
 * same time never gets the same task. Null when there is none, or its kind is paused.
 */
export async function takeTask<K extends TaskKind>(
  runner: number,
  kinds: readonly K[],
): Promise<TakenTask<K> | null> {
  const { rows } = await database().query(
    `update tasks set state = 'running', runner = $1, lease = nextval('leases'), attempts = attempts + 1, started_at = now(),
            progress = 0, stage = '', fault = null
      where task_id = (
        select task_id from tasks
         where state = 'waiting' and kind = any($2)
           and not exists (select from settings where name = '${PAUSED}' and value ? tasks.kind)
         order by priority desc, task_id for update skip locked limit 1)
      returning task_id as "taskId", kind, payload, version, sample_id as "sampleId", lease, attempts`,
    [runner, kinds],
  );
  if (rows.length === 0) return null;
  const { version, ...task } = fromRow(takenRow, rows[0], 'task');
  known(version, VERSION, 'task');
  return { ...task, payload: fromRow(TASK_PAYLOADS[task.kind], task.payload, 'task') } as TakenTask<K>;
}

type Held = Pick<TakenTask, 'taskId' | 'lease'>;

/** Records how far a task has come; false when it is no longer theirs who hold that lease. */
export async function reportTask({ taskId, lease }: Held, stage: string, progress: number): Promise<boolean> {
  const { rowCount } = await database().query(
    'update tasks set stage = $3, progress = $4 where task_id = $1 and lease = $2',
    [taskId, lease, stage, progress],
  );
  return rowCount === 1;
}

/**
 * Ends a task: done, or failed for a reason; asked for again meanwhile it waits anew. False when it is no longer
 * theirs who hold that lease: then nothing that belongs to it may be written.
 */
export async function endTask(
  on: Queryable,
  { taskId, lease }: Held,
  fault: string | null,
): Promise<boolean> {
  const { rows } = await on.query(
    `update tasks set
       state = case when again is not null then 'waiting' when $3::text is null then 'done' else 'failed' end,
       payload = coalesce(again, payload), attempts = case when again is null then attempts else 0 end, again = null,
       runner = null, lease = null, progress = 1, fault = $3, ended_at = now()
      where task_id = $1 and lease = $2 returning state`,
    [taskId, lease, fault],
  );
  if (rows[0]?.state === 'waiting') await announceTasks(on);
  return rows.length === 1;
}

/** Gives a task back after what did it died; after MOST_ATTEMPTS it fails and says so. Returns the samples that failed. */
export function giveBackTask(client: pg.PoolClient, { taskId, lease }: Held, why: string): Promise<string[]> {
  return giveBack(client, 'task_id = $1 and lease = $2', [taskId, lease], why);
}

/** Gives a task back that was stopped on purpose: the attempt does not count. */
export async function releaseTask({ taskId, lease }: Held): Promise<void> {
  await database().query(
    `update tasks set state = 'waiting', runner = null, lease = null, attempts = greatest(0, attempts - 1), stage = '', progress = 0
      where task_id = $1 and lease = $2`,
    [taskId, lease],
  );
}

/**
 * Gives back all running tasks whose process is gone: the server frees a process's advisory lock at the moment its
 * connection ends, however it ends. Those of `runner`, a number that was just taken, belong to one that is gone, too.
 * Returns the samples whose measuring failed by it.
 */
export function reclaimTasks(client: pg.PoolClient, runner: number | null = null): Promise<string[]> {
  const [condition, values] = runner === null ? [IS_GONE, []] : ['runner = $1', [runner]];
  return giveBack(client, condition, values, 'the process that did it ended');
}

async function giveBack(
  client: pg.PoolClient,
  condition: string,
  values: unknown[],
  why: string,
): Promise<string[]> {
  const most = values.push(MOST_ATTEMPTS);
  const reason = values.push(why);
  const { rows } = await client.query(
    `with ended as (
       select task_id, kind = 'measure' and again is null and attempts >= $${most} as hopeless from tasks
        where state = 'running' and ${condition} order by task_id for update)
     update tasks t set
       state = case when e.hopeless then 'failed' else 'waiting' end, payload = coalesce(again, payload), again = null,
       attempts = case when t.again is null then attempts else 0 end, runner = null, lease = null, stage = '', progress = 0,
       fault = case when e.hopeless then 'Measuring was tried ' || attempts || ' times and ended each time: ' || $${reason}::text || '.' end,
       ended_at = case when e.hopeless then now() end
       from ended e where e.task_id = t.task_id
     returning t.sample_id as "sampleId", t.state, t.fault`,
    values,
  );
  if (rows.length) await announceTasks(client);
  const failed = rows.filter(({ state }) => state === 'failed');
  for (const { sampleId, fault } of failed)
    await client.query('update samples set fault = $2 where sample_id = $1', [sampleId, fault]);
  return failed.map(({ sampleId }) => sampleId);
}

/** Takes the measuring of samples out of the queue; returns those of which any waited or ran. */
export async function cancelMeasuring(on: Queryable, sampleIds: readonly string[] | null): Promise<string[]> {
  const { rows } = await on.query(
    `update tasks set state = 'cancelled', runner = null, lease = null, again = null, ended_at = now()
      where kind = 'measure' and ($1::uuid[] is null or sample_id = any($1)) and state in ('waiting', 'running')
      returning sample_id as "sampleId"`,
    [sampleIds],
  );
  return rows.map(({ sampleId }) => sampleId);
}

/** The settings row that holds which kinds of tasks rest. */
const PAUSED = 'tasksPaused';

/** Lets a kind of tasks rest (what runs is finished, nothing new begins) or go on. */
export async function pauseKind(kind: TaskKind, paused: boolean): Promise<void> {
  await database().query(
    `insert into settings (name, value) values ($1, to_jsonb(case when $3 then array[$2] else array[]::text[] end))
     on conflict (name) do update set value = case when $3 then (settings.value - $2) || to_jsonb($2::text) else settings.value - $2 end`,
    [PAUSED, kind, paused],
  );
  await announceTasks(database());
}

/** What somebody looks at is measured before the rest. */
export async function preferSamples(sampleIds: readonly string[], priority: number): Promise<void> {
  await database().query(
    `update tasks set priority = case when sample_id = any($1) then $2 else 0 end
      where kind = 'measure' and state = 'waiting' and priority <= $2 and (sample_id = any($1) or priority = $2)`,
    [sampleIds, priority],
  );
}

/** How far measuring has come, for the Intake's progress line. */
export async function measuringState(): Promise<MeasuringState> {
  const { rows } = await database().query(
    `with open as (
       select t.state, o.byte_length, t.progress from tasks t join samples s using (sample_id) join originals o using (original_id)
        where t.kind = 'measure' and t.state in ('waiting', 'running')),
     lately as (
       select t.started_at, t.ended_at, o.byte_length from tasks t join samples s using (sample_id) join originals o using (original_id)
        where t.kind = 'measure' and t.state = 'done' and t.ended_at > now() - interval '1 minute')
     select (select count(*) from open where state = 'waiting') as waiting,
            (select count(*) from open where state = 'running') as running,
            (select coalesce(sum(byte_length * (1 - progress)), 0)::double precision from open) as "bytesLeft",
            (select count(*) from lately) as "doneLately",
            (select coalesce(sum(byte_length), 0)::double precision from lately) as "bytesLately",
            (select coalesce(extract(epoch from now() - min(greatest(started_at, now() - interval '1 minute'))), 0)::double precision from lately) as "secondsLately",
            exists (select from settings where name = '${PAUSED}' and value ? 'measure') as paused`,
  );
  return rows[0];
}

const MOVES: Record<Exclude<TaskMove, 'forget'>, { from: readonly TaskState[]; to: TaskState }> = {
  pause: { from: ['waiting', 'running'], to: 'paused' },
  resume: { from: ['paused'], to: 'waiting' },
  cancel: { from: ['waiting', 'running', 'paused'], to: 'cancelled' },
  // Files that did not come in are tried again.
  retry: { from: ['done', 'failed', 'cancelled'], to: 'waiting' },
};

/** Pauses, resumes, cancels a long task, or has what failed of it tried again; false when it is not in a state for that. */
export async function moveTask(taskId: number, move: Exclude<TaskMove, 'forget'>): Promise<boolean> {
  const { from, to } = MOVES[move];
  return transaction(async (client) => {
    const { rowCount } = await client.query(
      `update tasks set state = $3, runner = null, lease = null, fault = null, ended_at = case when $3 = 'cancelled' then now() end
        where task_id = $1 and state = any($2) and kind = any($4)`,
      [taskId, from, to, LONG_KINDS],
    );
    if (rowCount !== 1) return false;
    if (move === 'retry')
      await client.query(
        "update task_items set state = 'waiting', fault = null where task_id = $1 and state in ('failed', 'running')",
        [taskId],
      );
    await announceTasks(client);
    return true;
  });
}

/** Forgets a long task that has ended, and with it an archive that nothing else rests on. */
export async function forgetTask(taskId: number): Promise<boolean> {
  return transaction(async (client) => {
    const { rows } = await client.query(
      `delete from tasks where task_id = $1 and state in ('done', 'failed', 'cancelled') and kind = any($2)
        returning kind, (payload ->> 'originalId')::bigint as "originalId"`,
      [taskId, LONG_KINDS],
    );
    if (rows.length === 0) return false;
    if (rows[0].kind === 'unpack')
      await client.query(
        `delete from originals o where original_id = $1
            and not exists (select from samples s where s.original_id = o.original_id or s.listening_id = o.original_id)
            and not exists (select from tasks t where t.kind = 'unpack' and t.payload ->> 'originalId' = $1::text)`,
        [rows[0].originalId],
      );
    await announceTasks(client);
    return true;
  });
}

/** Long tasks that go on, and those that ended lately. */
export async function listLongTasks(): Promise<LongTask[]> {
  const { rows } = await database().query(
    `select t.task_id as "taskId", t.kind, t.words, t.state, t.fault,
            count(i.position) as files, count(*) filter (where i.state = 'done') as done,
            count(*) filter (where i.state = 'failed') as failed,
            coalesce(sum(i.byte_length), 0)::double precision as bytes,
            coalesce(sum(i.received), 0)::double precision as received,
            max(i.name) filter (where i.state = 'running') as current,
            coalesce((select json_agg(f) from (select name, fault from task_items x
               where x.task_id = t.task_id and x.state = 'failed' order by position limit 20) f), '[]') as faults
       from tasks t left join task_items i using (task_id) where t.kind = any($1)
      group by t.task_id order by (t.state in ('running', 'waiting', 'paused')) desc, t.task_id desc limit 20`,
    [LONG_KINDS],
  );
  return fromRow(z.array(longTask), rows, 'task');
}

export type TakenItem = Omit<NewItem, 'fault'> & { position: number };

/** Adds what a task is to bring, after what it has already; false when the task is no longer theirs. */
export async function addItems({ taskId, lease }: Held, items: readonly NewItem[]): Promise<boolean> {
  const { rows } = await database().query(
    `with mine as (select task_id from tasks where task_id = $1 and lease = $2 for update),
     added as (
       insert into task_items (task_id, position, name, folder, path, byte_length, modified_ms, state, fault)
       select task_id, (select coalesce(max(position) + 1, 0) from task_items where task_id = $1) + ordinality - 1,
              name, folder, path, "byteLength", "modifiedMs", case when fault is null then 'waiting' else 'failed' end, fault
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

/** The next file of a task that is still to come; null when there is none, or the task is no longer theirs. */
export async function takeItem({ taskId, lease }: Held): Promise<TakenItem | null> {
  const { rows } = await database().query(
    `update task_items set state = 'running' where task_id = $1 and position = (
        select min(i.position) from task_items i join tasks t using (task_id)
         where i.task_id = $1 and i.state in ('waiting', 'running') and t.lease = $2)
      returning position, name, folder, path, byte_length as "byteLength", modified_ms as "modifiedMs"`,
    [taskId, lease],
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

/** Ends a file of a task; nothing happens when the task is no longer theirs. */
export async function endItem(
  { taskId, lease }: Held,
  position: number,
  end: { outcome: string; sampleId: string | null; received: number } | { fault: string },
): Promise<void> {
  const failed = 'fault' in end;
  await database().query(
    `update task_items i set state = $4, fault = $5, outcome = $6, sample_id = $7,
            received = case when $5::text is null then coalesce(byte_length, $8) else received end
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
    ],
  );
}
