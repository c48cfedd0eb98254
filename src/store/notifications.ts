import pg from 'pg';
import { liveEvent, type LiveEvent } from '@/contract/events';
import type { DocumentKind } from '@/contract/documents';
import { databaseUrl, type Queryable } from './database';

const EVENTS = 'grento_events';
const TASKS = 'grento_tasks';

/** A notification holds 8000 bytes. */
const IDS_AT_ONCE = 150;

/** Tells the screens, when the transaction is through, that something about samples changed. */
export async function announceSamples(
  on: Queryable,
  sampleIds: readonly string[],
  what: Extract<LiveEvent, { kind: 'samples' }>['what'],
): Promise<void> {
  const events: LiveEvent[] = [];
  for (let at = 0; at < sampleIds.length; at += IDS_AT_ONCE)
    events.push({ kind: 'samples', sampleIds: sampleIds.slice(at, at + IDS_AT_ONCE), what });
  if (events.length)
    await on.query('select pg_notify($1, event) from unnest($2::text[]) event', [
      EVENTS,
      events.map((event) => JSON.stringify(event)),
    ]);
}

export async function announceProgress(
  on: Queryable,
  progress: Omit<Extract<LiveEvent, { kind: 'progress' }>, 'kind'>,
): Promise<void> {
  await on.query('select pg_notify($1, $2)', [EVENTS, JSON.stringify({ kind: 'progress', ...progress })]);
}

/** Tells the screens, when the transaction is through, that a blend or a pack is not what it was. */
export async function announceDocument(on: Queryable, what: DocumentKind, id: string): Promise<void> {
  await on.query('select pg_notify($1, $2)', [EVENTS, JSON.stringify({ kind: 'stepped', what, id })]);
}

/** Wakes processes that wait for work, and screens that show it. */
export async function announceTasks(on: Queryable): Promise<void> {
  await on.query("select pg_notify($1, ''), pg_notify($2, $3)", [
    TASKS,
    EVENTS,
    JSON.stringify({ kind: 'tasks' }),
  ]);
}

export interface Listener {
  close(): Promise<void>;
}

/** Calls `heard` for everything that happens, reconnects by itself and then says `missed`. */
export function listenToEvents(heard: (event: LiveEvent) => void): Listener {
  return listen(
    EVENTS,
    (payload) => heard(liveEvent.parse(JSON.parse(payload))),
    () => heard({ kind: 'missed' }),
  );
}

/** Calls `woken` when there may be work. */
export function listenToTasks(woken: () => void): Listener {
  return listen(TASKS, woken, woken);
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
