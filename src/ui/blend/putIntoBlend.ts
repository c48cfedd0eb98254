'use client';
import type { KeptBlend } from '@/contract/blend';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { comesIn } from '@/library/blend/newcomer';
import { BLENDS } from '../api/blends';
import { atHand, sendChange } from '../stepped/sendChange';
import { newcomerOf } from './newcomerOf';
import { nextLaneId } from './pens';

interface Named {
  sampleId: string;
  name: string;
}

async function putIn(queries: QueryClient, rows: readonly Named[]): Promise<KeptBlend> {
  let kept = await atHand(BLENDS);
  for (const { sampleId } of rows) {
    const newcomer = await newcomerOf(queries, sampleId);
    const order = comesIn(kept.state, newcomer, nextLaneId(kept.state));
    const { id } = kept;
    kept = await sendChange(BLENDS, id, { do: 'order', words: `“${newcomer.name}” put in`, order });
  }
  return kept;
}

/** Puts samples into the blend that was worked on last, from any screen, and says so. */
export function usePutIntoBlend(): (rows: readonly Named[]) => void {
  const queries = useQueryClient();
  const router = useRouter();
  return useCallback(
    (rows) => {
      if (rows.length === 0) return;
      putIn(queries, rows)
        .then(({ id, state }) => {
          void queries.invalidateQueries({ queryKey: ['blend', id] });
          toast.success(
            `${rows.length === 1 ? `“${rows[0].name}” is` : `${rows.length} samples are`} in the blend “${state.name}”, ${state.lanes.length} ${state.lanes.length === 1 ? 'lane' : 'lanes'}.`,
            { action: { label: 'Open it', onClick: () => router.push(`/blend/${id}`) } },
          );
        })
        .catch((error: Error) => toast.error(error.message));
    },
    [queries, router],
  );
}
