import type { ChangeOf, VersionedDocument } from '@/contract/documents';
import { RefusedError } from '../api/request';
import type { DocumentCalls } from '../api/documents';
import { countWaiting, queueOf } from '../outbox/queues';
import { forgetLast, lastOf, rememberLast } from './last';

type Kind<S, O> = Pick<DocumentCalls<S, O, unknown>, 'kind' | 'at' | 'body' | 'parse'>;

const rowOf = ({ kind }: { kind: string }, id: string) => `${kind} ${id}`;

/** Sends a change of one of them after all that was sent before it. Throws RefusedError. */
export async function sendChange<S, O>(
  calls: Kind<S, O>,
  id: string,
  change: ChangeOf<O>,
): Promise<VersionedDocument<S>> {
  const words = change.do === 'order' ? change.words : change.do;
  return calls.parse(
    await queueOf(rowOf(calls, id)).add({ path: calls.at(id), body: calls.body(change), words }),
  );
}

/** How much is on its way to one of them. */
export const countOnTheWay = (calls: { kind: string }, id: string): number => countWaiting(rowOf(calls, id));

/** Resolves when all that was sent to one of them is answered. */
export const settledChanges = (calls: { kind: string }, id: string): Promise<void> =>
  queueOf(rowOf(calls, id)).settled();

/** One as it is once all that was sent to it is answered: without that it would be undone for a moment. */
export async function documentNow<S>(
  calls: Pick<DocumentCalls<S, never, unknown>, 'fetch' | 'kind'>,
  id: string,
  signal?: AbortSignal,
): Promise<VersionedDocument<S>> {
  await settledChanges(calls, id);
  return calls.fetch(id, signal);
}

/** The one that was worked on last; a new one where there is none. */
export async function lastDocument<S, O, R>(calls: DocumentCalls<S, O, R>): Promise<VersionedDocument<S>> {
  const last = lastOf(calls.kind);
  if (last) {
    try {
      return await documentNow(calls, last);
    } catch (error) {
      if (!(error instanceof RefusedError) || error.status !== 404) throw error;
      forgetLast(calls.kind);
    }
  }
  const made = await calls.make({});
  rememberLast(calls.kind, made.id);
  return made;
}
