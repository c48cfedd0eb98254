'use client';
import { counted } from '@/words/plural';
import { MOST_LANES, type KeptBlend } from '@/contract/blend';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { comesIn } from '@/library/blend/incoming';
import { BLENDS } from '../api/blends';
import { rememberLast } from '../documents/last';
import { lastDocument, sendChange } from '../documents/sendChange';
import { incomingOf } from './incomingOf';
import { nextLaneId } from './pens';
import { tell } from '../kit/useAction';

/** Adds samples to a blend one after the other, as its custom is. */
async function putInto(
  queries: QueryClient,
  blend: KeptBlend,
  sampleIds: readonly string[],
): Promise<KeptBlend> {
  let kept = blend;
  for (const sampleId of sampleIds) {
    const incoming = await incomingOf(queries, sampleId);
    const order = comesIn(kept.state, incoming, nextLaneId(kept.state));
    const { id } = kept;
    kept = await sendChange(BLENDS, id, { do: 'order', words: `“${incoming.name}” added`, order });
  }
  return kept;
}

/** Puts samples into the blend that was worked on last, from any screen, and says so. */
export function usePutIntoBlend(): (sampleIds: readonly string[]) => void {
  const queries = useQueryClient();
  const router = useRouter();
  return useCallback(
    (sampleIds) => {
      if (sampleIds.length === 0) return;
      lastDocument(BLENDS)
        .then((last) => putInto(queries, last, sampleIds))
        .then(({ id, state }) => {
          void queries.invalidateQueries({ queryKey: ['blend', id] });
          toast.success(
            `${sampleIds.length === 1 ? `“${state.lanes[state.lanes.length - 1].name}” is` : `${sampleIds.length} samples are`} in the blend “${state.name}”, ${counted(state.lanes.length, 'lane')}.`,
            { action: { label: 'Open', onClick: () => router.push(`/blend/${id}`) } },
          );
        })
        .catch(tell);
    },
    [queries, router],
  );
}

/** Blends that are played as soon as they are opened. */
const playedWhenOpened = new Set<string>();

/** Whether a blend is opened to be played; said once. */
export const isPlayedWhenOpened = (blendId: string): boolean => playedWhenOpened.delete(blendId);

/** Plays samples together, in time and key: in a new blend that the first of them leads. */
export function useHearTogether(): (sampleIds: readonly string[]) => void {
  const queries = useQueryClient();
  const router = useRouter();
  return useCallback(
    (sampleIds) => {
      if (sampleIds.length < 2) return void toast('Select two or more samples to play them together.');
      if (sampleIds.length > MOST_LANES)
        return void toast.error(`A blend holds ${MOST_LANES} lanes, not ${sampleIds.length}.`);
      // Nothing is created when one of them cannot be played in time yet.
      Promise.all(sampleIds.map((sampleId) => incomingOf(queries, sampleId)))
        .then(() => BLENDS.make({}))
        .then((made) => putInto(queries, made, sampleIds))
        .then(({ id }) => {
          rememberLast(BLENDS.kind, id);
          playedWhenOpened.add(id);
          void queries.invalidateQueries({ queryKey: ['blends'] });
          router.push(`/blend/${id}`);
        })
        .catch(tell);
    },
    [queries, router],
  );
}
