'use client';
import { OrderRefusal } from '@/library/orderRefusal';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { type ChangeOf, type VersionedDocument } from '@/contract/documents';
import type { DocumentCalls } from '../api/documents';
import { DroppedError } from '../outbox/sendQueue';
import { countOnTheWay, sendChange, documentNow } from './sendChange';

export interface DocumentEditor<S, O> {
  id: string;
  /** As it is shown: with what is stored, what is on its way, and what is only tried. */
  state: S;
  /** The same at this moment, also before it is shown: for steps from where something is, of which two can come between two pictures. */
  now: () => S;
  undo: string | null;
  redo: string | null;
  /** Changes it at once, and stores that. `words`: what undo says of it. */
  order: (order: O, words: string) => void;
  /** Shows and sounds an order without storing it, while something is pulled; null: as it was. */
  tryOut: (order: O | null) => void;
  step: (way: 'undo' | 'redo') => void;
}

/**
 * A blend or a pack that is worked on: every change is seen at once, and stored one after the other. `ordered`: what one is after an
 * order, or it throws OrderRefusal.
 */
export function useDocument<S, O, R>(
  calls: DocumentCalls<S, O, R>,
  ordered: (before: S, order: O) => S,
  id: string,
): { editor: DocumentEditor<S, O> | null; error: Error | null } {
  const queries = useQueryClient();
  const { kind } = calls;
  const key = useMemo(() => [kind, id], [kind, id]);
  const { data, error } = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => documentNow(calls, id, signal),
    refetchOnMount: 'always',
  });
  const [tried, tryOut] = useState<O | null>(null);

  const send = useCallback(
    (change: ChangeOf<O>) => {
      sendChange(calls, id, change).then(
        (kept) => {
          if (countOnTheWay(calls, id) === 0) queries.setQueryData(key, kept);
        },
        (failed: Error) => {
          if (!(failed instanceof DroppedError)) toast.error(failed.message);
          void queries.invalidateQueries({ queryKey: key });
        },
      );
    },
    [calls, id, key, queries],
  );

  const order = useCallback(
    (one: O, words: string) => {
      const before = queries.getQueryData<VersionedDocument<S>>(key);
      if (!before) return;
      tryOut(null);
      try {
        const state = ordered(before.state, one);
        // What was asked for before is older than this.
        void queries.cancelQueries({ queryKey: key });
        queries.setQueryData<VersionedDocument<S>>(key, { ...before, state, undo: words, redo: null });
        send({ do: 'order', words, order: one });
      } catch (refused) {
        if (!(refused instanceof OrderRefusal) && !(refused instanceof Error)) throw refused;
        toast.error(refused instanceof OrderRefusal ? refused.message : 'That value is out of range.');
      }
    },
    [key, queries, ordered, send],
  );
  const step = useCallback((way: 'undo' | 'redo') => send({ do: way }), [send]);

  const editor = useMemo((): DocumentEditor<S, O> | null => {
    if (!data) return null;
    const shown = () => {
      try {
        return tried ? ordered(data.state, tried) : data.state;
      } catch {
        return data.state;
      }
    };
    return {
      ...{ id, undo: data.undo, redo: data.redo, order, tryOut: (one) => tryOut(() => one), step },
      now: () => queries.getQueryData<VersionedDocument<S>>(key)?.state ?? data.state,
      state: shown(),
    };
  }, [id, key, queries, data, tried, ordered, order, step]);
  return { editor, error };
}
