import pg from 'pg';
import { z } from 'zod';
import { databaseUrl, type Queryable } from './database';

/** Something about a sample changed; screens that show it ask again. */
export const sampleChanged = z.object({
  sampleId: z.string(),
  what: z.enum(['arrived', 'progress', 'measured', 'changed', 'removed']),
  stage: z.string().optional(),
  progress: z.number().optional(),
});
export type SampleChanged = z.infer<typeof sampleChanged>;

const SAMPLES = 'grento_samples';
const JOBS = 'grento_jobs';

export async function announceSample(on: Queryable, change: SampleChanged): Promise<void> {
  await on.query('select pg_notify($1, $2)', [SAMPLES, JSON.stringify(change)]);
}

/** Wakes measuring processes that wait for work. */
export async function announceJob(on: Queryable): Promise<void> {
  await on.query('select pg_notify($1, $2)', [JOBS, '']);
}

export interface Listener {
  close(): Promise<void>;
}

/** Calls `heard` for every change of a sample; reconnects by itself and then calls `missed`. */
export function listenToSamples(heard: (change: SampleChanged) => void, missed: () => void): Listener {
  return listen(SAMPLES, (payload) => heard(sampleChanged.parse(JSON.parse(payload))), missed);
}

/** Calls `woken` when there may be work. */
export function listenToJobs(woken: () => void): Listener {
  return listen(JOBS, woken, woken);
}

function listen(channel: string, heard: (payload: string) => void, missed: () => void): Listener {
  let closed = false;
  let client: pg.Client | null = null;
  let retry: NodeJS.Timeout | undefined;
  const connect = async (again: boolean) => {
    if (closed) return;
    const next = new pg.Client({ connectionString: databaseUrl() });
    let gone = false;
    const lost = () => {
      if (gone) return;
      gone = true;
      next.end().catch(() => {});
      if (!closed) retry = setTimeout(() => void connect(true), 500);
    };
    next.on('error', lost);
    next.on('end', lost);
    next.on('notification', ({ payload }) => heard(payload ?? ''));
    try {
      await next.connect();
      await next.query(`listen ${channel}`);
      client = next;
      if (again) missed();
    } catch {
      lost();
    }
  };
  void connect(false);
  return {
    async close() {
      closed = true;
      clearTimeout(retry);
      await client?.end().catch(() => {});
    },
  };
}
