'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { Blend } from '@/core/library/blend';
import type { BlendChange, KeptBlend } from '@/core/blend/keeping';
import { BlendRefusal, ordered, type BlendOrder, type BlendPatch, type LanePatch } from '@/core/blend/orders';
import { changeBlend } from '../api/blends';
import { RefusedError } from '../api/request';
import { blendNow, countOnTheWay, inTurn } from './inTurn';

export interface BlendHand {
  blendId: string;
  /** As it is shown: with what is stored, what is on its way, and what is only tried. */
  state: Blend;
  /** The same at this moment, also before it is shown: for steps from where something is, of which two can come between two pictures. */
  now: () => Blend;
  undo: string | null;
  redo: string | null;
  /** Changes it at once, and stores that. `words`: what undo says of it. */
  order: (order: BlendOrder, words: string) => void;
  lane: (laneId: string, patch: LanePatch, words: string) => void;
  set: (patch: BlendPatch, words: string) => void;
  /** Shows and sounds an order without storing it, while something is pulled; null: as it was. */
  tryOut: (order: BlendOrder | null) => void;
  step: (way: 'undo' | 'redo') => void;
}

const blendKey = (blendId: string) => ['blend', blendId];

/** A blend that is worked on: every change is seen and heard at once, and stored one after the other. */
export function useBlend(blendId: string): { hand: BlendHand | null; error: Error | null } {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: blendKey(blendId),
    queryFn: ({ signal }) => blendNow(blendId, signal),
    refetchOnMount: 'always',
  });
  const [tried, tryOut] = useState<BlendOrder | null>(null);

  const send = useCallback(
    (change: BlendChange) => {
      inTurn(blendId, () => changeBlend(blendId, change)).then(
        (kept) => {
          if (countOnTheWay(blendId) === 0) queries.setQueryData(blendKey(blendId), kept);
        },
        (failed: Error) => {
          const isAway = failed instanceof RefusedError && failed.status === 0;
          toast.error(isAway ? 'Grento does not answer; this change was not stored.' : failed.message);
          void queries.invalidateQueries({ queryKey: blendKey(blendId) });
        },
      );
    },
    [blendId, queries],
  );

  const order = useCallback(
    (one: BlendOrder, words: string) => {
      const before = queries.getQueryData<KeptBlend>(blendKey(blendId));
      if (!before) return;
      tryOut(null);
      try {
        const state = ordered(before.state, one);
        // What was asked for before is older than this.
        void queries.cancelQueries({ queryKey: blendKey(blendId) });
        queries.setQueryData<KeptBlend>(blendKey(blendId), { ...before, state, undo: words, redo: null });
        send({ do: 'order', words, order: one });
      } catch (refused) {
        if (!(refused instanceof BlendRefusal) && !(refused instanceof Error)) throw refused;
        toast.error(
          refused instanceof BlendRefusal ? refused.message : 'That lies outside of what can be set.',
        );
      }
    },
    [blendId, queries, send],
  );
  const lane = useCallback(
    (laneId: string, patch: LanePatch, words: string) =>
      order({ do: 'lanes', patches: [{ laneId, patch }] }, words),
    [order],
  );
  const set = useCallback((patch: BlendPatch, words: string) => order({ do: 'set', patch }, words), [order]);
  const step = useCallback((way: 'undo' | 'redo') => send({ do: way }), [send]);

  const hand = useMemo((): BlendHand | null => {
    if (!data) return null;
    return {
      ...{ blendId, undo: data.undo, redo: data.redo, order, lane, set, tryOut, step },
      now: () => queries.getQueryData<KeptBlend>(blendKey(blendId))?.state ?? data.state,
      state: tried ? after(data.state, tried) : data.state,
    };
  }, [blendId, queries, data, tried, order, lane, set, step]);
  return { hand, error };
}

function after(state: Blend, tried: BlendOrder): Blend {
  try {
    return ordered(state, tried);
  } catch {
    return state;
  }
}
