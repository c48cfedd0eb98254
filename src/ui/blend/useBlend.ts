'use client';
import { useMemo } from 'react';
import type { Blend, BlendOrder, BlendPatch, LanePatch } from '@/contract/blend';
import { ordered } from '@/library/blend/orders';
import { BLENDS } from '../api/blends';
import { useStepped, type SteppedHand } from '../stepped/useStepped';

export interface BlendHand extends SteppedHand<Blend, BlendOrder> {
  lane: (laneId: string, patch: LanePatch, words: string) => void;
  set: (patch: BlendPatch, words: string) => void;
}

/** A blend that is worked on: every change is seen and heard at once, and stored one after the other. */
export function useBlend(blendId: string): { hand: BlendHand | null; error: Error | null } {
  const { hand, error } = useStepped(BLENDS, ordered, blendId);
  const order = hand?.order;
  const orders = useMemo(
    () =>
      order && {
        lane: (laneId: string, patch: LanePatch, words: string) =>
          order({ do: 'lanes', patches: [{ laneId, patch }] }, words),
        set: (patch: BlendPatch, words: string) => order({ do: 'set', patch }, words),
      },
    [order],
  );
  return { hand: useMemo(() => (hand && orders ? { ...hand, ...orders } : null), [hand, orders]), error };
}
