import { v4 } from 'uuid';
import { createStore } from 'zustand/vanilla';
import { RefusedError } from '../api/request';
import { isPassing, restAfter } from './passing';

/** What a change is made to: the revision that was seen, or what another change leaves that is not stored yet. */
export interface Base {
  sequence: number | null;
  /** The change before it that was still on its way, by its id. */
  after: string | null;
}

/** A change on its way to the server; plain data, so that it outlives its page. */
export interface Change {
  /** Sent again under the same id it is done once. */
  id: string;
  path: string;
  body: object;
  /** What it is called, in messages. */
  words: string;
  /** Where the body is to name the revision that it is made to (`base`); null where it does not. */
  base: Base | null;
  /** When it was made, ms since 1970. */
  madeAt: number;
}

export type NewChange = Pick<Change, 'path' | 'body' | 'words'> & { base?: Base | null };

/** Sends a change; returns the server's answer, throws RefusedError. */
export type Send = (change: Pick<Change, 'id' | 'path' | 'body'>) => Promise<unknown>;

interface QueueState {
  /** Changes that are not stored, oldest first. */
  waiting: readonly Change[];
  /** Why they are not there yet, when the server cannot be reached; they are sent again by themselves. */
  trouble: string | null;
}

/** The change was dropped: by hand, or with one that it was made on top of. */
export class DroppedError extends Error {
  override name = 'DroppedError';
}

/** Told of what becomes of changes. */
export interface QueueEvents {
  onStored?: (change: Change, answer: unknown) => void;
  /** A change was refused; those that were made on top of it are dropped with it. */
  onRefused?: (change: Change, error: Error) => void;
}

/** What may wait at most: changes, and characters of all of them. */
const MOST = { changes: 1000, characters: 3_000_000 };
const SESSION_OVER = 401;
const EMPTY: QueueState = { waiting: [], trouble: null };

/** Characters of bodies, each counted once. */
const sizes = new WeakMap<object, number>();
function sizeOf(body: object): number {
  let size = sizes.get(body);
  if (size === undefined) sizes.set(body, (size = JSON.stringify(body).length));
  return size;
}

/**
 * Changes on their way to the server, one after the other, each under an id of its own: what is answered late or not at all is sent
 * again, and done once. What cannot be sent waits; what is refused is given back with what was made on top of it. `onChange` hears
 * of every change of what waits.
 */
export class SendQueue {
  private readonly store = createStore(() => EMPTY);
  private waiting: Change[] = [];
  private ends = new Map<string, { resolve: (answer: unknown) => void; reject: (error: Error) => void }>();
  private events = new Set<QueueEvents>();
  private isSending = false;
  /** Nothing is sent until it is tried again, by the timer or by hand. */
  private isResting = false;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private tries = 0;
  /** Revisions that stored changes made, by their id: what is based on them goes on from there. */
  private made = new Map<string, number | null>();

  constructor(
    private readonly send: Send,
    private readonly onChange: (waiting: readonly Change[]) => void = () => {},
  ) {}

  subscribe = (listener: () => void) => this.store.subscribe(listener);

  getState = () => this.store.getState();

  /** Tells somebody from now on; returns how that ends. */
  tell(events: QueueEvents): () => void {
    this.events.add(events);
    return () => this.events.delete(events);
  }

  /** Puts a change into the row. Resolves with the server's answer; throws RefusedError, or DroppedError. */
  add({ base = null, ...change }: NewChange): Promise<unknown> {
    const size = this.waiting.reduce((sum, { body }) => sum + sizeOf(body), 0);
    if (this.waiting.length >= MOST.changes || size > MOST.characters)
      return Promise.reject(
        new RefusedError('Too many unsaved changes. Wait until the server answers again.', 0),
      );
    const id = v4();
    return new Promise((resolve, reject) => {
      this.ends.set(id, { resolve, reject });
      this.waiting.push({ id, ...change, base, madeAt: Date.now() });
      this.changed();
      void this.sendNext();
    });
  }

  /** Takes over changes that another page left. */
  adopt(changes: readonly Change[]) {
    this.waiting.unshift(...changes);
    this.changed();
    void this.sendNext();
  }

  /** The change that was put in last and is not stored yet. */
  get lastId(): string | null {
    return this.waiting[this.waiting.length - 1]?.id ?? null;
  }

  /** Resolves when nothing waits any more. */
  async settled(): Promise<void> {
    while (this.waiting.length > 0)
      await new Promise<void>((resolve) => {
        const stop = this.subscribe(() => {
          stop();
          resolve();
        });
      });
  }

  /** Tries again at once what could not be sent. */
  tryAgain() {
    clearTimeout(this.retry);
    this.isResting = false;
    void this.sendNext();
  }

  /** Drops changes that wait: all, or those of these ids. One that is being sent may be stored all the same. */
  drop(ids: readonly string[] | null = null) {
    if (ids === null) {
      clearTimeout(this.retry);
      this.isResting = false;
      this.tries = 0;
    }
    this.let((one) => ids === null || ids.includes(one.id));
    this.changed(ids === null ? null : undefined);
  }

  /** Takes changes out of the row and ends them. */
  private let(isDropped: (change: Change) => boolean) {
    const dropped = this.waiting.filter(isDropped);
    this.waiting = this.waiting.filter((one) => !isDropped(one));
    for (const { id, words } of dropped) {
      this.ends.get(id)?.reject(new DroppedError(`${words} was discarded`));
      this.ends.delete(id);
    }
  }

  private async sendNext() {
    const [next] = this.waiting;
    if (!next || this.isSending || this.isResting) return;
    this.isSending = true;
    const { id, path, base } = next;
    const from =
      base?.after && this.made.has(base.after) ? this.made.get(base.after)! : (base?.sequence ?? null);
    const body = base ? { ...next.body, base: from } : next.body;
    try {
      const answer = await this.send({ id, path, body });
      this.tries = 0;
      if (this.waiting[0] === next) this.waiting.shift();
      if (base) this.goneOn(next, (answer as { sequence?: number | null }).sequence ?? null);
      // First the answer, then what was on its way: in between the state before it would be seen.
      const stored = base ? { ...next, base: { sequence: from, after: null } } : next;
      for (const events of this.events) events.onStored?.(stored, answer);
      this.changed(null);
      this.ends.get(id)?.resolve(answer);
      this.ends.delete(id);
    } catch (error) {
      this.failed(next, error as Error);
    } finally {
      this.isSending = false;
    }
    void this.sendNext();
  }

  /** What was made on top of a change is based on what that made; it knows so itself, for another page. */
  private goneOn(stored: Change, sequence: number | null) {
    this.made.set(stored.id, sequence);
    this.waiting = this.waiting.map((one) =>
      one.base?.after === stored.id ? { ...one, base: { sequence, after: null } } : one,
    );
  }

  private failed(next: Change, error: Error) {
    if (this.waiting[0] !== next) return;
    if (error instanceof RefusedError && (isPassing(error.status) || error.status === SESSION_OVER)) {
      this.isResting = true;
      // Once the session is over it goes on when somebody has signed in, on the page that comes then.
      if (error.status !== SESSION_OVER)
        this.retry = setTimeout(() => this.tryAgain(), restAfter(this.tries++));
      return this.changed(error.message);
    }
    this.waiting.shift();
    const end = this.ends.get(next.id);
    this.ends.delete(next.id);
    // What was done on top of it is done no more, either.
    const gone = new Set([next.id]);
    for (const { id, base } of this.waiting) if (base?.after && gone.has(base.after)) gone.add(id);
    this.let(({ id }) => gone.has(id));
    this.changed(null);
    for (const events of this.events) events.onRefused?.(next, error);
    end?.reject(error);
  }

  private changed(trouble: string | null = this.getState().trouble) {
    const waiting = [...this.waiting];
    this.onChange(waiting);
    this.store.setState({ waiting, trouble: waiting.length ? trouble : null });
  }
}
