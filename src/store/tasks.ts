import type pg from 'pg';
import { z } from 'zod';
import { measureRequest } from '@/contract/measuring';
import { TASK_PAYLOADS, type MeasuringState, type Payload, type TaskKind } from '@/contract/tasks';
import { database, type Queryable } from './database';
import { announceTasks } from './notifications';
import { fromRow, known } from './rows';
import { recordCompared } from './samples';

export const TASK_VERSION = 1;
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
  /** About how much sound it makes, seconds; 0 for those that make none. */
  cost: number;
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

/**
 * Puts the measuring of a sample into the queue. One that waits is told again; one that runs is run once more when it
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
    `insert into tasks (kind, sample_id, payload, version, priority) select 'measure', unnest($1::uuid[]), $2, ${TASK_VERSION}, $3
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
  cost: z.number(),
});

/**
 * Takes the next waiting task of these kinds for the process that holds the advisory lock `runner`. Who takes at the
 * same time never gets the same task. Null when there is none, or its kind is paused. Throws UnreadableTaskError, which
 * holds the task.
 */
export async function takeTask<K extends TaskKind>(
  runner: number,
  kinds: readonly K[],
  mostCost: number | null = null,
): Promise<TakenTask<K> | null> {
  const { rows } = await database().query(
    `update tasks set state = 'running', runner = $1, lease = nextval('leases'), attempts = attempts + 1, started_at = now(),
            progress = 0, stage = '', fault = null
      where task_id = (
        select task_id from tasks
         where state = 'waiting' and kind = any($2) and ($3::real is null or cost <= $3)
           and not exists (select from settings where name = '${PAUSED}' and value ? tasks.kind)
         order by priority desc, task_id for update skip locked limit 1)
      returning task_id as "taskId", kind, payload, version, sample_id as "sampleId", lease, attempts, cost`,
    [runner, kinds, mostCost],
  );
  if (rows.length === 0) return null;
  const { version, ...task } = fromRow(takenRow, rows[0], 'task');
  try {
    known(version, TASK_VERSION, 'task');
    return { ...task, payload: fromRow(TASK_PAYLOADS[task.kind], task.payload, 'task') } as TakenTask<K>;
  } catch (error) {
    throw new UnreadableTaskError(task, error as Error);
  }
}

/** A task was taken whose payload this version cannot read; it is to be given back. */
export class UnreadableTaskError extends Error {
  override name = 'UnreadableTaskError';
  constructor(
    readonly task: Held & { kind: TaskKind },
    cause: Error,
  ) {
    super(`it is stored in a form that this version cannot read (${cause.message})`, { cause });
  }
}

/** Whose a running task is. */
export type Held = Pick<TakenTask, 'taskId' | 'lease'>;

/** Records how far a task has come; false when it is no longer theirs who hold that lease. */
export async function reportTask({ taskId, lease }: Held, stage: string, progress: number): Promise<boolean> {
  const { rowCount } = await database().query(
    'update tasks set stage = $3, progress = $4 where task_id = $1 and lease = $2',
    [taskId, lease, stage, progress],
  );
  return rowCount === 1;
}

/**
 * Ends a task: done, or failed for a reason; asked for again meanwhile it waits again. False when it is no longer
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

/**
 * Gives a task back whose run failed or died. The attempt counts: for the file it was at, or, where it was at none, for
 * the task, which fails with its reason after MOST_ATTEMPTS. Returns the samples whose measuring failed by it.
 */
export function giveBackTask(client: pg.PoolClient, { taskId, lease }: Held, why: string): Promise<string[]> {
  return giveBack(client, 'task_id = $1 and lease = $2', [taskId, lease], why);
}

/** Gives a task back that was stopped on purpose, or for a reason of ours: the attempt does not count, nor that of the file it was at. */
export async function releaseTask({ taskId, lease }: Held): Promise<void> {
  await database().query(
    `with mine as (
       update tasks set state = 'waiting', runner = null, lease = null, payload = coalesce(again, payload), again = null,
              attempts = greatest(0, attempts - 1), stage = '', progress = 0
        where task_id = $1 and lease = $2 returning task_id)
     update task_items i set attempts = greatest(0, i.attempts - 1) from mine where i.task_id = mine.task_id and i.state = 'running'`,
    [taskId, lease],
  );
}

/** A task that was taken this long ago and is in nobody's hands was forgotten, seconds: its taking has been answered by then. */
const STRAY_AFTER = 10;

/**
 * Gives back all running tasks whose process is gone: the server frees a process's advisory lock at the moment its
 * connection ends, however it ends. Those of `runner` go as well: without `held` all of them (its number was just taken), else those
 * whose lease is not among what it says that it holds. Returns the samples whose measuring failed by it.
 */
export function reclaimTasks(
  client: pg.PoolClient,
  runner: number,
  held: readonly number[] | null,
): Promise<string[]> {
  const ours = held
    ? `runner = $1 and lease <> all($2) and started_at < now() - make_interval(secs => ${STRAY_AFTER})`
    : 'runner = $1';
  return giveBack(
    client,
    `(${ours} or ${IS_GONE})`,
    held ? [runner, held] : [runner],
    'the process that did it ended',
  );
}

/** Which of these leases are still somebody's: of the others the task was paused, cancelled or taken again. */
export async function leasesThatHold(leases: readonly number[]): Promise<Set<number>> {
  const { rows } = await database().query('select lease from tasks where lease = any($1)', [leases]);
  return new Set(rows.map(({ lease }) => lease));
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
       select task_id, at_item, again is null and not at_item and attempts >= $${most} as hopeless
         from tasks, lateral (select exists (select from task_items i where i.task_id = tasks.task_id and i.state = 'running') as at_item) f
        where state = 'running' and ${condition} order by task_id for update of tasks)
     update tasks t set
       state = case when e.hopeless then 'failed' else 'waiting' end, payload = coalesce(again, payload), again = null,
       attempts = case when t.again is null and not e.at_item then attempts else 0 end,
       runner = null, lease = null, stage = '', progress = 0,
       -- Behind those that nothing was against so far: what dies beside others by chance is not soon beside others that die.
       priority = case when kind = 'measure' and t.again is null then greatest(priority - 1, -9) else priority end,
       fault = case when e.hopeless then case kind when 'measure' then 'Measuring' else 'This task' end
                 || ' was tried ' || attempts || ' times and ended each time: ' || $${reason}::text || '.' end,
       ended_at = case when e.hopeless then now() end
       from ended e where e.task_id = t.task_id
     returning t.sample_id as "sampleId", t.state, t.fault, t.payload @> '{"isComparison": true}' as "isComparison"`,
    values,
  );
  if (rows.length) await announceTasks(client);
  const failed = rows.filter(({ state, sampleId }) => state === 'failed' && sampleId !== null);
  const faulty = failed.filter(({ isComparison }) => !isComparison);
  for (const { sampleId, fault } of faulty)
    await client.query('update samples set fault = $2 where sample_id = $1', [sampleId, fault]);
  // What cannot be compared keeps what was measured of it, and is not asked for again.
  for (const { sampleId, isComparison } of failed) if (isComparison) await recordCompared(client, sampleId);
  return faulty.map(({ sampleId }) => sampleId);
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

/** So many files of a format say what one costs, and so many files in all how long the rest takes. */
const KNOWN_FROM = 3;
const BELIEVED_FROM = 5;

/** How far measuring has come, for the Intake's progress line: from counts that are kept, not from all that waits. */
export async function measuringState(): Promise<MeasuringState> {
  const { rows } = await database().query(
    `with open as (
       select state, suffix, sum(tasks) as tasks, sum(bytes) as bytes from measuring_counts group by state, suffix),
     lately as (
       select started_at, extract(epoch from ended_at - started_at) as cost, byte_length, suffix
         from tasks where kind = 'measure' and state = 'done' and ended_at > now() - interval '1 minute'),
     -- What a byte costs is another thing in each format; of formats that nothing is known of a file costs as any other.
     usual as (select suffix, sum(cost) / nullif(sum(byte_length), 0) as per_byte from lately group by suffix having count(*) >= $1),
     spent as (select count(*) as files, sum(cost) as cost,
                      extract(epoch from now() - min(greatest(started_at, now() - interval '1 minute'))) as seconds from lately),
     -- What runs is about half done.
     costs as (select sum(coalesce(o.bytes * u.per_byte, o.tasks * (select cost / files from spent))
                          * case o.state when 'running' then 0.5 else 1 end) as cost
                 from open o left join usual u using (suffix))
     select (select coalesce(sum(tasks), 0)::integer from open where state = 'waiting') as waiting,
            (select coalesce(sum(tasks), 0)::integer from open where state = 'running') as running,
            (select files from spent) as "doneLately",
            (select coalesce(seconds, 0)::double precision from spent) as "secondsLately",
            (select case when files >= $2 and seconds > 2 and cost > 0
                         then (select cost from costs) / (cost / seconds) end::double precision from spent) as "secondsLeft",
            exists (select from settings where name = '${PAUSED}' and value ? 'measure') as paused`,
    [KNOWN_FROM, BELIEVED_FROM],
  );
  return rows[0];
}

/** So many rows of the counts are left as they are. */
const FEW_COUNTS = 100;

/** Puts what was counted into one row for each state and format. */
export async function sumCounts(): Promise<void> {
  await database().query(
    `with gone as (
       delete from measuring_counts where (select count(*) from measuring_counts) > ${FEW_COUNTS} returning *)
     insert into measuring_counts select state, suffix, sum(tasks), sum(bytes) from gone group by state, suffix having sum(tasks) <> 0`,
  );
}
