import type { SampleEntry } from '@/core/library/entry';
import type { SampleRequest } from '@/core/library/orders';
import { RefusedError } from '../api/request';
import { changeSample } from '../api/samples';

export type SampleOrder = SampleRequest['order'];

/** What a change is made to: the revision that was seen, or what another change leaves that is not stored yet. */
export interface Base {
  sequence: number | null;
  /** The change before it that was still on its way. */
  after: number | null;
}

/** A change that is not stored yet. */
export interface Unstored {
  id: number;
  order: SampleOrder;
  words: string;
  base: Base;
}

interface Waiting extends Unstored {
  ended: (stored: boolean) => void;
}

export interface OutboxState {
  /** Changes on their way, oldest first. */
  unstored: readonly Unstored[];
  /** Why they are not there yet, when the server cannot be reached; they are sent again by themselves. */
  trouble: string | null;
}

/** Told of what becomes of changes. */
export interface OutboxEvents {
  /** The server's answer to a change. */
  onStored: (entry: SampleEntry) => void;
  /** A change was refused; those that were made on top of it are given back with it. */
  onRefused: (refused: Unstored, error: Error) => void;
}

/** Rests between tries while the server cannot be reached, ms; the last one again and again. */
const RESTS = [500, 1000, 2000, 4000];
const EMPTY: OutboxState = { unstored: [], trouble: null };

/**
 * Changes of one sample on their way to the server, one after the other: each is based on what its hand saw, never on
 * what came in meanwhile. What cannot be sent waits and is shown as not stored; what is refused is given back.
 */
export class Outbox {
  private state = EMPTY;
  private queue: Waiting[] = [];
  private listeners = new Set<() => void>();
  private isSending = false;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private tries = 0;
  /** Revisions that stored changes made, by their number: what is based on them goes on from there. */
  private made = new Map<number, number | null>();
  private nextId = 1;
  private events: OutboxEvents | null = null;
  /** The last change that was stored, as long as the page has not drawn what it made. */
  private last: { from: number | null; to: number | null } | null = null;

  constructor(
    private readonly sampleId: string,
    private readonly send: typeof changeSample = changeSample,
  ) {}

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  getState = () => this.state;

  /** Who is told from now on; the screen that shows the sample. */
  tell(events: OutboxEvents) {
    this.events = events;
  }

  /**
   * What a change that begins now is made to; `sequence`: the revision that is shown; `withUnstored`: and what is on its
   * way with it.
   */
  baseNow(sequence: number | null, withUnstored = true): Base {
    if (sequence === this.last?.to) this.last = null;
    const shown = this.last && sequence === this.last.from ? this.last.to : sequence;
    return { sequence: shown, after: withUnstored ? (this.queue[this.queue.length - 1]?.id ?? null) : null };
  }

  /** Puts a change into the row. Resolves when it is stored (true), refused or given back (false). */
  add(order: SampleOrder, words: string, base: Base): Promise<boolean> {
    return new Promise((ended) => {
      this.queue.push({ id: this.nextId++, order, words, base, ended });
      this.changed();
      void this.sendNext();
    });
  }

  /** Tries again at once what could not be sent. */
  tryAgain() {
    clearTimeout(this.retry);
    this.retry = undefined;
    void this.sendNext();
  }

  /** Drops what is not stored: the sample is shown as the server has it. */
  giveBack() {
    clearTimeout(this.retry);
    this.retry = undefined;
    for (const { ended } of this.queue.splice(0)) ended(false);
    this.tries = 0;
    this.changed(null);
  }

  private async sendNext() {
    const [next] = this.queue;
    if (!next || this.isSending || this.retry !== undefined) return;
    this.isSending = true;
    const { after, sequence } = next.base;
    const base = after !== null && this.made.has(after) ? this.made.get(after)! : sequence;
    try {
      const entry = await this.send(this.sampleId, base, next.order);
      this.tries = 0;
      if (this.queue[0] === next) this.queue.shift();
      this.made.set(next.id, entry.sequence);
      this.last = { from: base, to: entry.sequence };
      // First the answer, then what was on its way: in between the state before it would be seen.
      this.events?.onStored(entry);
      this.changed(null);
      next.ended(true);
    } catch (error) {
      this.failed(next, error as Error);
    } finally {
      this.isSending = false;
    }
    void this.sendNext();
  }

  private failed(next: Waiting, error: Error) {
    if (this.queue[0] !== next) return;
    if (error instanceof RefusedError && (error.status === 0 || error.status === 503)) {
      const rest = RESTS[Math.min(this.tries++, RESTS.length - 1)];
      this.retry = setTimeout(() => this.tryAgain(), rest);
      return this.changed(error.message);
    }
    this.last = null;
    // What was done on top of it is done no more, either.
    const dropped = this.queue.splice(0);
    this.changed(null);
    this.events?.onRefused(next, error);
    for (const { ended } of dropped) ended(false);
  }

  private changed(trouble: string | null = this.state.trouble) {
    this.state = { unstored: [...this.queue], trouble: this.queue.length ? trouble : null };
    this.listeners.forEach((listener) => listener());
  }
}

const outboxes = new Map<string, Outbox>();

/** The outbox of a sample: what is on its way stays so when another screen is shown. */
export function outboxOf(sampleId: string): Outbox {
  let outbox = outboxes.get(sampleId);
  if (!outbox) {
    outbox = new Outbox(sampleId);
    outboxes.set(sampleId, outbox);
  }
  return outbox;
}

/** Whether anything is not stored: the page then asks before it is left. */
export const anythingUnstored = () =>
  [...outboxes.values()].some((outbox) => outbox.getState().unstored.length > 0);
