import { sampleEntry, type SampleEntry } from '@/contract/entry';
import type { SampleRequest } from '@/contract/orders';
import { changesPath } from '../api/samples';
import { queueOf } from './queues';
import type { Base, Change, SendQueue } from './sendQueue';

export type { Base };
export type SampleOrder = SampleRequest['order'];

/** A change that is not stored yet. */
export interface Unstored {
  id: string;
  order: SampleOrder;
  words: string;
}

export interface OutboxState {
  /** Changes on their way, oldest first. */
  unstored: readonly Unstored[];
  /** Why they are not there yet, when the server cannot be reached; they are sent again by themselves. */
  trouble: string | null;
}

const unstoredOf = ({ id, body, words }: Change): Unstored => ({
  ...{ id, words },
  order: (body as { order: SampleOrder }).order,
});

/**
 * Changes of one sample on their way to the server: each is based on what its hand saw, never on what came in meanwhile.
 */
export class Outbox {
  private state: OutboxState = { unstored: [], trouble: null };
  private seen: unknown = null;
  /** The last change that was stored, as long as the page has not drawn what it made. */
  private last: { from: number | null; to: number | null } | null = null;

  constructor(
    private readonly sampleId: string,
    private readonly queue: SendQueue = queueOf(`sample ${sampleId}`),
  ) {
    queue.tell({
      onStored: ({ base }, answer) => {
        const { sequence } = answer as Pick<SampleEntry, 'sequence'>;
        this.last = { from: base?.sequence ?? null, to: sequence };
      },
      onRefused: () => (this.last = null),
    });
  }

  subscribe = (listener: () => void) => this.queue.subscribe(listener);

  getState = (): OutboxState => {
    const now = this.queue.getState();
    if (this.seen !== now) {
      this.seen = now;
      this.state = { unstored: now.waiting.map(unstoredOf), trouble: now.trouble };
    }
    return this.state;
  };

  /** Tells the screen that shows the sample; returns how that ends. */
  tell(events: {
    /** The server's answer to a change. */
    onStored: (entry: SampleEntry) => void;
    /** A change was refused; those that were made on top of it are given back with it. */
    onRefused: (refused: Unstored, error: Error) => void;
  }): () => void {
    return this.queue.tell({
      onStored: (_, answer) => events.onStored(sampleEntry.parse(answer)),
      onRefused: (change, error) => events.onRefused(unstoredOf(change), error),
    });
  }

  /**
   * What a change that begins now is made to; `sequence`: the revision that is shown; `withUnstored`: and what is on its
   * way with it.
   */
  baseNow(sequence: number | null, withUnstored = true): Base {
    if (sequence === this.last?.to) this.last = null;
    const shown = this.last && sequence === this.last.from ? this.last.to : sequence;
    return { sequence: shown, after: withUnstored ? this.queue.lastId : null };
  }

  /** Puts a change into the row. Resolves when it is stored (true), refused or given back (false). */
  add(order: SampleOrder, words: string, base: Base): Promise<boolean> {
    return this.queue.add({ path: changesPath(this.sampleId), body: { order }, words, base }).then(
      () => true,
      () => false,
    );
  }

  /** Tries again at once what could not be sent. */
  tryAgain = () => this.queue.tryAgain();

  /** Drops what is not stored: the sample is shown as the server has it. */
  giveBack = () => this.queue.drop();
}

/** Asks for a change of a sample that no screen shows: `base` as in `sampleRequest`. Answers with what became of it. */
export const changeSample = async (
  sampleId: string,
  sequence: number | null,
  order: SampleOrder,
): Promise<SampleEntry> => {
  const words = order.do === 'settle' ? order.words : order.do;
  const base = { sequence, after: null };
  const change = { path: changesPath(sampleId), body: { order }, words, base };
  return sampleEntry.parse(await queueOf(`sample ${sampleId}`).add(change));
};

const outboxes = new Map<string, Outbox>();

/** The outbox of a sample. */
export function outboxOf(sampleId: string): Outbox {
  let outbox = outboxes.get(sampleId);
  if (!outbox) {
    outbox = new Outbox(sampleId);
    outboxes.set(sampleId, outbox);
  }
  return outbox;
}
