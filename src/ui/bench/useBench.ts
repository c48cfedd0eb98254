'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { SampleEntry, SettleChange } from '@/core/library/entry';
import type { SettledState } from '@/core/library/settled';
import type { Grid } from '@/core/rhythm/grid';
import { api } from '../api/client';
import type { DecodedAudio } from '../audio/decodedAudio';
import { player } from '../audio/player';

type NewReading = NonNullable<SettleChange['reading']>;

export interface Bench {
  entry: SampleEntry;
  audio: DecodedAudio | null;
  /** The grid that is drawn and heard: the one being pulled, or the settled one. */
  grid: Grid | null;
  /** Shows and sounds a grid without settling it; null goes back to the settled one. */
  preview: (grid: Grid | null) => void;
  /** Settles parts of the state; heard at once, recorded as one step of the history. */
  settle: (patch: Partial<SettledState>, words: string, reading?: NewReading) => void;
  undo: () => void;
  redo: () => void;
  /** Replaces what is shown by what the server answers. */
  run: (ask: () => Promise<SampleEntry>, done?: string) => Promise<boolean>;
}

/** A sample on the Bench: its entry, its audio, and the changes made to it. */
export function useBench(sampleId: string): { bench: Bench | null; error: Error | null } {
  const queries = useQueryClient();
  const { data: entry, error } = useQuery({
    queryKey: ['entry', sampleId],
    queryFn: ({ signal }) => api.entry(sampleId, signal),
  });
  const [audio, setAudio] = useState<DecodedAudio | null>(null);
  const [draft, setDraft] = useState<Grid | null>(null);

  const decodable = Boolean(entry?.measurement);
  useEffect(() => {
    if (!decodable) return;
    let wanted = true;
    void player.load(sampleId).then((loaded) => wanted && setAudio(loaded));
    return () => {
      wanted = false;
      player.stop();
      player.setLoop(null);
    };
  }, [sampleId, decodable]);

  const grid = draft ?? entry?.settled.grid ?? null;
  useEffect(() => {
    if (audio) player.setGrid(grid);
  }, [audio, grid]);

  // Changes are sent one after the other: each is made to the revision that the one before it left.
  const chain = useRef<Promise<unknown>>(Promise.resolve());
  const run = useCallback(
    (ask: () => Promise<SampleEntry>, done?: string) => {
      const result = chain.current.then(async () => {
        try {
          const answer = await ask();
          await queries.cancelQueries({ queryKey: ['entry', sampleId] });
          queries.setQueryData(['entry', sampleId], answer);
          if (done) toast.success(done);
          return true;
        } catch (failure) {
          toast.error((failure as Error).message);
          await queries.invalidateQueries({ queryKey: ['entry', sampleId] });
          return false;
        }
      });
      chain.current = result;
      return result;
    },
    [queries, sampleId],
  );

  const settle = useCallback<Bench['settle']>(
    (patch, words, reading) => {
      setDraft(null);
      queries.setQueryData<SampleEntry>(
        ['entry', sampleId],
        (old) => old && { ...old, settled: { ...old.settled, ...patch } },
      );
      void run(() => {
        const base = queries.getQueryData<SampleEntry>(['entry', sampleId])?.sequence ?? 0;
        return api.settle(sampleId, { base, words, patch, reading: reading ?? null });
      });
    },
    [queries, run, sampleId],
  );
  const undo = useCallback(() => void run(() => api.undo(sampleId)), [run, sampleId]);
  const redo = useCallback(() => void run(() => api.redo(sampleId)), [run, sampleId]);

  if (!entry) return { bench: null, error };
  return { bench: { entry, audio, grid, preview: setDraft, settle, undo, redo, run }, error };
}
