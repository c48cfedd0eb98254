import type pg from 'pg';
import { z } from 'zod';
import { measureRequest } from '@/core/library/entry';
import { database, transaction, type Queryable } from './database';
import { announceJob, announceSample } from './notifications';

const claimedJob = z.object({
  jobId: z.number(),
  sampleId: z.string(),
  options: measureRequest,
  attempts: z.number(),
});
export type ClaimedJob = z.infer<typeof claimedJob>;

export const MOST_ATTEMPTS = 3;

/** Puts a measurement of a sample into the queue; one that waits already is replaced. */
export async function enqueueMeasurement(
  on: Queryable,
  sampleId: string,
  options: z.input<typeof measureRequest>,
  priority = 0,
): Promise<void> {
  await on.query(
    `insert into jobs (sample_id, options, priority) values ($1, $2, $3)
     on conflict (sample_id) where state in ('waiting', 'running')
     do update set options = excluded.options, priority = greatest(jobs.priority, excluded.priority)`,
    [sampleId, measureRequest.parse(options), priority],
  );
  await announceJob(on);
}

/**
 * Takes the next waiting job for the process that holds the advisory lock `runner`. Claims that run at the
 * same time never get the same job.
 */
export async function claimJob(runner: number): Promise<ClaimedJob | null> {
  const { rows } = await database().query(
    `update jobs set state = 'running', runner = $1, attempts = attempts + 1, started_at = now(), progress = 0, stage = ''
      where job_id = (select job_id from jobs where state = 'waiting'
                       and not exists (select from settings where name = '${PAUSED}' and value = 'true')
                       order by priority desc, job_id for update skip locked limit 1)
      returning job_id as "jobId", sample_id as "sampleId", options, attempts`,
    [runner],
  );
  return rows.length ? claimedJob.parse(rows[0]) : null;
}

/** Records progress and tells it to the screens; false when the job is no longer this runner's to do. */
export async function reportProgress(
  job: ClaimedJob,
  runner: number,
  stage: string,
  progress: number,
): Promise<boolean> {
  const { rowCount } = await database().query(
    "update jobs set stage = $3, progress = $4 where job_id = $1 and runner = $2 and state = 'running'",
    [job.jobId, runner, stage, progress],
  );
  if (rowCount)
    await announceSample(database(), { sampleId: job.sampleId, what: 'progress', stage, progress });
  return rowCount === 1;
}

/** Marks a job as done; false when it is no longer this runner's, whose results must then be dropped. */
export async function finishJob(on: Queryable, jobId: number, runner: number): Promise<boolean> {
  const { rowCount } = await on.query(
    "update jobs set state = 'done', runner = null, progress = 1, ended_at = now() where job_id = $1 and runner = $2 and state = 'running'",
    [jobId, runner],
  );
  return rowCount === 1;
}

/** Gives a job back after its thread died; after MOST_ATTEMPTS tries it fails and says so. */
export async function giveBackJob(jobId: number, why: string): Promise<void> {
  await transaction((client) => returnJobs(client, 'job_id = $1', [jobId], why));
}

/** Gives a job back that was stopped on purpose: the attempt does not count. */
export async function releaseJob(jobId: number): Promise<void> {
  await database().query(
    `update jobs set state = 'waiting', runner = null, attempts = greatest(0, attempts - 1), stage = '', progress = 0
      where job_id = $1 and state = 'running'`,
    [jobId],
  );
}

/**
 * Gives back all running jobs whose process is gone: the server frees a process's advisory lock at the
 * moment its connection ends, however it ends. Returns how many there were.
 */
export async function reclaimAbandonedJobs(): Promise<number> {
  return transaction((client) =>
    returnJobs(
      client,
      `not exists (select from pg_locks where locktype = 'advisory' and classid = $1 and objid = runner and objsubid = 2
                      and database = (select oid from pg_database where datname = current_database()))`,
      [RUNNER_LOCKS],
      'the measuring process ended',
    ),
  );
}

async function returnJobs(
  client: pg.PoolClient,
  condition: string,
  values: unknown[],
  why: string,
): Promise<number> {
  const { rows } = await client.query(
    `select job_id, sample_id, attempts from jobs where state = 'running' and ${condition} for update`,
    values,
  );
  for (const { job_id, sample_id, attempts } of rows) {
    if (attempts >= MOST_ATTEMPTS) {
      const reason = `Measuring was tried ${attempts} times and ended each time: ${why}.`;
      await client.query(
        "update jobs set state = 'failed', runner = null, error = $2, ended_at = now() where job_id = $1",
        [job_id, reason],
      );
      await blame(client, sample_id, reason);
    } else {
      await client.query(
        "update jobs set state = 'waiting', runner = null, stage = '', progress = 0 where job_id = $1",
        [job_id],
      );
    }
  }
  if (rows.length) await announceJob(client);
  return rows.length;
}

async function blame(client: pg.PoolClient, sampleId: string, reason: string): Promise<void> {
  await client.query('update samples set fault = $2 where sample_id = $1', [sampleId, reason]);
  await announceSample(client, { sampleId, what: 'measured' });
}

/** Takes a waiting or running job out of the queue. */
export async function cancelMeasurement(sampleId: string): Promise<boolean> {
  const { rowCount } = await database().query(
    "update jobs set state = 'cancelled', runner = null, ended_at = now() where sample_id = $1 and state in ('waiting', 'running')",
    [sampleId],
  );
  if (rowCount) await announceSample(database(), { sampleId, what: 'changed' });
  return rowCount === 1;
}

/** First key of the advisory locks that living measuring processes hold; the second is the runner. */
export const RUNNER_LOCKS = 7_341;

/** Takes a free runner number and holds it as long as `client` is connected. */
export async function holdRunner(client: pg.ClientBase): Promise<number> {
  for (let runner = 1; ; runner++) {
    const { rows } = await client.query('select pg_try_advisory_lock($1, $2) as held', [
      RUNNER_LOCKS,
      runner,
    ]);
    if (!rows[0].held) continue;
    // Jobs under this number belong to a process that is gone: a living one would hold the lock.
    await transaction((inside) => returnJobs(inside, 'runner = $1', [runner], 'the measuring process ended'));
    return runner;
  }
}

/** The settings row that holds whether measuring rests. */
const PAUSED = 'measuringPaused';

/** Lets measuring rest (what runs is finished, nothing new begins) or go on. */
export async function setMeasuringPaused(paused: boolean): Promise<void> {
  await database().query(
    `insert into settings (name, value) values ($1, $2) on conflict (name) do update set value = excluded.value`,
    [PAUSED, JSON.stringify(paused)],
  );
  await announceJob(database());
}

/** Takes everything that waits or runs out of the queue; returns the samples. */
export async function cancelAllMeasurements(): Promise<string[]> {
  const { rows } = await database().query(
    `update jobs set state = 'cancelled', runner = null, ended_at = now()
      where state in ('waiting', 'running') returning sample_id as "sampleId"`,
  );
  return rows.map(({ sampleId }) => sampleId);
}

/** What somebody looks at is measured before the rest. */
export async function preferSamples(sampleIds: readonly string[], priority: number): Promise<void> {
  await database().query(
    `update jobs set priority = case when sample_id = any($1) then $2 else 0 end
      where state = 'waiting' and priority <= $2 and (sample_id = any($1) or priority = $2)`,
    [sampleIds, priority],
  );
}

/** How far measuring has come: what is left, and how fast it went lately. */
export interface QueueState {
  waiting: number;
  running: number;
  paused: boolean;
  /** Samples and bytes that were measured in the last minute of work, and how long that was, seconds. */
  doneLately: number;
  bytesLately: number;
  secondsLately: number;
  bytesLeft: number;
}

/** Counts for the Intake's progress line. */
export async function queueState(): Promise<QueueState> {
  const { rows } = await database().query(
    `with open as (
       select j.state, o.byte_length, j.progress from jobs j join samples s using (sample_id) join originals o using (original_id)
        where j.state in ('waiting', 'running')),
     lately as (
       select j.started_at, j.ended_at, o.byte_length from jobs j join samples s using (sample_id) join originals o using (original_id)
        where j.state = 'done' and j.ended_at > now() - interval '1 minute')
     select (select count(*) from open where state = 'waiting') as waiting,
            (select count(*) from open where state = 'running') as running,
            (select coalesce(sum(byte_length * (1 - progress)), 0)::double precision from open) as "bytesLeft",
            (select count(*) from lately) as "doneLately",
            (select coalesce(sum(byte_length), 0)::double precision from lately) as "bytesLately",
            (select coalesce(extract(epoch from now() - min(greatest(started_at, now() - interval '1 minute'))), 0)::double precision from lately) as "secondsLately",
            exists (select from settings where name = '${PAUSED}' and value = 'true') as paused`,
  );
  return rows[0];
}
