'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useSyncExternalStore } from 'react';
import { toast } from 'sonner';
import type { SampleEntry } from '@/contract/entry';
import { RefusedError } from '../api/request';
import { outboxOf } from '../outbox/sampleOutbox';
import { withUnstored } from './unstored';

/** The entry as the server has it with what is on its way put over it, and the way to send more. */
export function useOutbox(sampleId: string, stored: SampleEntry | undefined) {
  const queries = useQueryClient();
  const box = outboxOf(sampleId);
  const state = useSyncExternalStore(box.subscribe, box.getState, box.getState);
  useEffect(() => {
    const stop = box.tell({
      onStored: (entry) => {
        void queries.cancelQueries({ queryKey: ['entry', sampleId] });
        queries.setQueryData(['entry', sampleId], entry);
      },
      onRefused: ({ order, words }, error) => {
        const foreign = error instanceof RefusedError && error.code === 'foreign' && order.do === 'undo';
        toast.error(foreign ? error.message : `Not saved: ${words}. ${error.message}`, {
          action: foreign
            ? {
                label: 'Undo anyway',
                onClick: () => {
                  const base = box.baseNow(
                    queries.getQueryData<SampleEntry>(['entry', sampleId])?.sequence ?? null,
                  );
                  void box.add({ do: 'undo', evenForeign: true }, 'undo', base);
                },
              }
            : undefined,
        });
        void queries.invalidateQueries({ queryKey: ['entry', sampleId] });
      },
    });
    return () => void stop();
  }, [box, queries, sampleId]);
  const { unstored, trouble } = state;
  const { entry, isKnown } = useMemo(() => {
    if (!stored) return { entry: undefined, isKnown: true };
    const { settled, isKnown } = withUnstored(stored, unstored);
    return { entry: { ...stored, settled }, isKnown };
  }, [stored, unstored]);
  const send = useCallback<typeof box.add>((...change) => box.add(...change), [box]);
  const outbox = useMemo(
    () => ({ unstored, trouble, tryAgain: () => box.tryAgain(), giveBack: () => box.giveBack() }),
    [unstored, trouble, box],
  );
  return { outbox, entry, isKnown, send };
}
