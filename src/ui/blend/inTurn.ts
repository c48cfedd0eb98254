import type { KeptBlend } from '@/core/blend/keeping';
import { fetchBlend } from '../api/blends';

/** What is on its way to each blend: as long as the page stands, whichever screen is shown. */
const onTheWay = new Map<string, { last: Promise<unknown>; count: number }>();

/** Whoever leaves now may not hear that something was refused. */
function warn(event: BeforeUnloadEvent) {
  event.preventDefault();
}

/** A blend as it is once all that was sent to it is answered: without that it would be taken back for a moment. */
export async function blendNow(blendId: string, signal?: AbortSignal): Promise<KeptBlend> {
  await onTheWay.get(blendId)?.last;
  return fetchBlend(blendId, signal);
}

/** How much is on its way to a blend. */
export const countOnTheWay = (blendId: string): number => onTheWay.get(blendId)?.count ?? 0;

/** Sends something to a blend after all that was sent before it; the browser asks before it leaves meanwhile. */
export function inTurn<T>(blendId: string, send: () => Promise<T>): Promise<T> {
  const turn = onTheWay.get(blendId) ?? { last: Promise.resolve(), count: 0 };
  if (onTheWay.size === 0) window.addEventListener('beforeunload', warn);
  onTheWay.set(blendId, turn);
  turn.count++;
  const sent = turn.last.then(send);
  const settled = () => {
    turn.count--;
    if (turn.count > 0) return;
    onTheWay.delete(blendId);
    if (onTheWay.size === 0) window.removeEventListener('beforeunload', warn);
  };
  // A refusal keeps nothing back that comes after it.
  turn.last = sent.then(settled, settled);
  return sent;
}
