'use client';
import { useMemo } from 'react';
import type { Blend, BlendOrder, BlendPatch, LanePatch } from '@/contract/blend';
import { ordered } from '@/library/blend/orders';
import { BLENDS } from '../api/blends';
import { useDocument, type DocumentEditor } from '../documents/useDocument';

export interface BlendEditor extends DocumentEditor<Blend, BlendOrder> {
  lane: (laneId: string, patch: LanePatch, words: string) => void;
  set: (patch: BlendPatch, words: string) => void;
}

/** A blend that is worked on: every change is seen and heard at once, and stored one after the other. */
export function useBlend(blendId: string): { editor: BlendEditor | null; error: Error | null } {
  const { editor, error } = useDocument(BLENDS, ordered, blendId);
  const order = editor?.order;
  const orders = useMemo(
    () =>
      order && {
        lane: (laneId: string, patch: LanePatch, words: string) =>
          order({ do: 'lanes', patches: [{ laneId, patch }] }, words),
        set: (patch: BlendPatch, words: string) => order({ do: 'set', patch }, words),
      },
    [order],
  );
  return {
    editor: useMemo(() => (editor && orders ? { ...editor, ...orders } : null), [editor, orders]),
    error,
  };
}
