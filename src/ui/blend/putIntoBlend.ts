'use client';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { comesIn } from '@/core/blend/newcomer';
import type { KeptBlend } from '@/core/blend/keeping';
import { changeBlend, makeBlend } from '../api/blends';
import { RefusedError } from '../api/request';
import { blendNow, inTurn } from './inTurn';
import { forgetBlend, lastBlend, rememberBlend } from './lastBlend';
import { newcomerOf } from './newcomerOf';
import { nextLaneId } from './pens';

interface Named {
  sampleId: string;
  name: string;
}

/** The blend that was worked on last; a new one where there is none. */
async function blendAtHand(): Promise<KeptBlend> {
  const last = lastBlend();
  if (last) {
    try {
      return await blendNow(last);
    } catch (error) {
      if (!(error instanceof RefusedError) || error.status !== 404) throw error;
      forgetBlend();
    }
  }
  const made = await makeBlend({});
  rememberBlend(made.blendId);
  return made;
}

async function putIn(queries: QueryClient, rows: readonly Named[]): Promise<KeptBlend> {
  let kept = await blendAtHand();
  for (const { sampleId } of rows) {
    const newcomer = await newcomerOf(queries, sampleId);
    const order = comesIn(kept.state, newcomer, nextLaneId(kept.state));
    const { blendId } = kept;
    kept = await inTurn(blendId, () =>
      changeBlend(blendId, { do: 'order', words: `“${newcomer.name}” put in`, order }),
    );
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
        .then(({ blendId, state }) => {
          void queries.invalidateQueries({ queryKey: ['blend', blendId] });
          toast.success(
            `${rows.length === 1 ? `“${rows[0].name}” is` : `${rows.length} samples are`} in the blend “${state.name}”, ${state.lanes.length} ${state.lanes.length === 1 ? 'lane' : 'lanes'}.`,
            { action: { label: 'Open it', onClick: () => router.push(`/blend/${blendId}`) } },
          );
        })
        .catch((error: Error) => toast.error(error.message));
    },
    [queries, router],
  );
}
