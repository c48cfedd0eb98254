import type { Stepped } from '@/core/library/stepped';
import type { SteppedCalls } from '../api/stepped';
import { RefusedError } from '../api/request';
import { forgetLast, lastOf, rememberLast } from './last';

/** What is on its way to each of them: as long as the page stands, whichever screen is shown. */
const onTheWay = new Map<string, { last: Promise<unknown>; count: number }>();

/** Whoever leaves now may not hear that something was refused. */
function warn(event: BeforeUnloadEvent) {
  event.preventDefault();
}

/** One as it is once all that was sent to it is answered: without that it would be taken back for a moment. */
export async function steppedNow<S>(
  { fetch }: Pick<SteppedCalls<S, never, unknown>, 'fetch'>,
  id: string,
  signal?: AbortSignal,
): Promise<Stepped<S>> {
  await onTheWay.get(id)?.last;
  return fetch(id, signal);
}

/** The one that was worked on last; a new one where there is none. */
export async function atHand<S, O, R>(calls: SteppedCalls<S, O, R>): Promise<Stepped<S>> {
  const last = lastOf(calls.kind);
  if (last) {
    try {
      return await steppedNow(calls, last);
    } catch (error) {
      if (!(error instanceof RefusedError) || error.status !== 404) throw error;
      forgetLast(calls.kind);
    }
  }
  const made = await calls.make({});
  rememberLast(calls.kind, made.id);
  return made;
}

/** How much is on its way to one of them. */
export const countOnTheWay = (id: string): number => onTheWay.get(id)?.count ?? 0;

/** Sends something to one of them after all that was sent before it; the browser asks before it leaves meanwhile. */
export function inTurn<T>(id: string, send: () => Promise<T>): Promise<T> {
  const turn = onTheWay.get(id) ?? { last: Promise.resolve(), count: 0 };
  if (onTheWay.size === 0) window.addEventListener('beforeunload', warn);
  onTheWay.set(id, turn);
  turn.count++;
  const sent = turn.last.then(send);
  const settled = () => {
    turn.count--;
    if (turn.count > 0) return;
    onTheWay.delete(id);
    if (onTheWay.size === 0) window.removeEventListener('beforeunload', warn);
  };
  // A refusal keeps nothing back that comes after it.
  turn.last = sent.then(settled, settled);
  return sent;
}
