import { v4 } from 'uuid';
import { toast } from 'sonner';
import { z } from 'zod';
import { call, json } from '../api/request';
import { SendQueue, type Change, type Send } from './sendQueue';

/** Queues of this page, by what their changes are made to: `sample …`, `blend …`, `pack …`, `bulk`. */
const queues = new Map<string, SendQueue>();

/** Where the changes of a page are kept until they are stored, by the visit that made them. */
const KEPT = 'grento-unsent ';
/** A visit holds this lock as long as its page lives. Browsers have locks only where the connection is encrypted, or stays on the machine. */
const lockOf = (visit: string) => `grento-visit ${visit}`;
const visit = v4();
const canKeep = () =>
  typeof localStorage !== 'undefined' && typeof navigator !== 'undefined' && 'locks' in navigator;
/** What is older was made by a page that nobody came back to, ms; the server forgets ids a day later. */
const OLDEST = 7 * 24 * 3600_000;

/** The most that a browser sends to its end when its page is left, characters. */
const KEPT_ALIVE = 32_768;

const post: Send = ({ id, path, body }) => {
  const asked = json('POST', body, id);
  return call(z.unknown(), path, { ...asked, keepalive: String(asked.body).length < KEPT_ALIVE });
};

function warn(event: BeforeUnloadEvent) {
  event.preventDefault();
}

/** Keeps what waits in the browser, and asks before the page is left meanwhile. */
function keep() {
  const rows = [...queues].flatMap(([row, queue]) => {
    const { waiting } = queue.getState();
    return waiting.length > 0 ? [[row, waiting] as const] : [];
  });
  if (rows.length > 0) window.addEventListener('beforeunload', warn);
  else window.removeEventListener('beforeunload', warn);
  if (!canKeep()) return;
  try {
    if (rows.length > 0) localStorage.setItem(KEPT + visit, JSON.stringify(Object.fromEntries(rows)));
    else localStorage.removeItem(KEPT + visit);
  } catch {
    // The browser's store is full: they are sent all the same, and lost only with the page.
  }
}

/** The queue of changes to one thing: what is on its way stays so when another screen is shown. */
export function queueOf(row: string): SendQueue {
  let queue = queues.get(row);
  if (!queue) {
    queue = new SendQueue(post, keep);
    queues.set(row, queue);
  }
  return queue;
}

/** How much is on its way to one thing. */
export const countWaiting = (row: string): number => queues.get(row)?.getState().waiting.length ?? 0;

/** Sends at once what could not be sent. */
export const tryAllAgain = (): void => queues.forEach((queue) => queue.tryAgain());

const keptChange = z.object({
  id: z.uuid(),
  path: z.string().startsWith('/api/'),
  body: z.record(z.string(), z.unknown()),
  words: z.string(),
  base: z.object({ sequence: z.number().nullable(), after: z.string().nullable() }).nullable(),
  madeAt: z.number(),
});
const keptRows = z.record(z.string(), z.array(keptChange));

/**
 * Takes over what other pages left when they are gone (closed, reloaded or crashed): at once, or as soon as they are. `onStored`: some
 * of it is stored now. Refusals are said where no screen says them.
 */
export function adoptLeftChanges(onStored: () => void): void {
  if (!canKeep()) return;
  void navigator.locks.request(lockOf(visit), () => new Promise(() => {}));
  const left = Object.keys(localStorage).filter((key) => key.startsWith(KEPT) && key !== KEPT + visit);
  for (const key of left)
    void navigator.locks.request(lockOf(key.slice(KEPT.length)), () => {
      const text = localStorage.getItem(key);
      // It was stored meanwhile, or another page was first.
      if (text === null) return;
      localStorage.removeItem(key);
      const rows = keptRows.safeParse(parsed(text));
      for (const [row, changes] of Object.entries(rows.data ?? {})) adopt(row, changes, onStored);
    });
}

function adopt(row: string, changes: readonly Change[], onStored: () => void) {
  const queue = queueOf(row);
  const ids = new Set(changes.map(({ id }) => id));
  const stop = queue.tell({
    onStored: ({ id }) => {
      if (!ids.delete(id)) return;
      onStored();
      if (ids.size === 0) stop();
    },
    onRefused: ({ id, words }, error) => {
      if (ids.has(id)) toast.error(`Not saved from an earlier visit: ${words}. ${error.message}`);
    },
  });
  queue.adopt(changes.filter(({ madeAt }) => Date.now() - madeAt < OLDEST));
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
