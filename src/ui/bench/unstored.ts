import type { SampleEntry } from '@/contract/entry';
import type { SettledState } from '@/contract/settled';
import type { Unstored } from '../outbox/sampleOutbox';

/**
 * What is shown while changes are on their way: the state that they will leave, and whether that is known. Undo and
 * redo lead where the entry says and through what is on its way itself; further back, the page does not know what the
 * server will come to, and nothing may be built on what is shown until it has answered.
 */
export function withUnstored(
  stored: Pick<SampleEntry, 'settled' | 'undo' | 'redo'>,
  unstored: readonly Pick<Unstored, 'order'>[],
): { settled: SettledState; isKnown: boolean } {
  let line: (SettledState | undefined)[] = [stored.undo?.settled, stored.settled, stored.redo?.settled];
  let at = 1;
  let settled = stored.settled;
  let isKnown = true;
  for (const { order } of unstored) {
    if (order.do === 'settle') {
      settled = { ...settled, ...order.patch };
      line = [...line.slice(0, at + 1), settled];
      at++;
    } else if (order.do === 'undo' || order.do === 'redo') {
      at += order.do === 'undo' ? -1 : 1;
      const there = line[at];
      if (there) settled = there;
      else return { settled, isKnown: false };
    } else if (order.do === 'return') isKnown = false;
  }
  return { settled, isKnown };
}
