'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { SampleEntry, SettleChange } from '@/core/library/entry';
import type { SettledState } from '@/core/library/settled';
import type { Grid } from '@/core/rhythm/grid';
import { api } from '../api/client';
import type { DecodedAudio } from '../audio/decodedAudio';
import type { Traces } from '@/core/traces/traces';
import type { Pin, Pinned } from '@/core/rhythm/pins';
import { player } from '../audio/player';
import { useEntry, useTraces } from '../api/useEntry';
import type { GridMove } from './gridMoves';

type NewReading = NonNullable<SettleChange['reading']>;

export interface Bench {
  entry: SampleEntry;
  /** What is drawn before the audio is there; null until it is fetched. */
  traces: Traces | null;
  audio: DecodedAudio | null;
  /** The grid that is drawn and heard: the one being pulled, or the settled one. */
  grid: Grid | null;
  /** That grid with its pins. */
  shown: Pinned | null;
  /** The settled grid with its pins. */
  pinned: Pinned | null;
  /** Shows and sounds a grid without settling it; null goes back to the settled one. */
  preview: (next: { grid: Grid; pins?: readonly Pin[] } | null) => void;
  /** Settles parts of the state; heard at once, recorded as one step of the history. */
  settle: (patch: Partial<SettledState>, words: string, reading?: NewReading) => void;
  /**
   * A move that belongs to a gesture of several: shown at once, settled when the gesture ends, which it does
   * after a pause and before anything else is previewed, settled, undone or asked for.
   */
  nudge: (move: GridMove) => void;
  undo: () => void;
  redo: () => void;
  /** Replaces what is shown by what the server answers. */
  run: (ask: () => Promise<SampleEntry>, done?: string) => Promise<boolean>;
}

/** Hits of this strength keep their place when the audio is heard slowly. */
const CLEAR = 4;
const NO_PINS: readonly Pin[] = [];
/** Nudges in quick succession are one step of the history; it ends after this pause, ms. */
const GESTURE_PAUSE = 700;

/** A sample on the Bench: its entry, its audio, and the changes made to it. */
export function useBench(sampleId: string): { bench: Bench | null; error: Error | null } {
  const queries = useQueryClient();
  const { data: entry, error } = useEntry(sampleId);
  const [audio, setAudio] = useState<DecodedAudio | null>(null);
  const [draft, setDraft] = useState<{ grid: Grid; pins?: readonly Pin[] } | null>(null);

  const decodable = Boolean(entry?.measurement);
  const durationSeconds = entry?.summary.durationSeconds ?? null;
  useEffect(() => {
    if (!decodable) return;
    let wanted = true;
    void player.open(sampleId, durationSeconds).whole.then((loaded) => wanted && setAudio(loaded));
    return () => {
      wanted = false;
      player.stop();
      player.setRoute([]);
    };
  }, [sampleId, decodable, durationSeconds]);

  const { data: traces } = useTraces(sampleId, decodable);

  const grid = draft?.grid ?? entry?.settled.grid ?? null;
  useEffect(() => {
    if (decodable) player.setGrid(grid);
  }, [sampleId, decodable, grid]);

  const onsets = entry?.measurement?.onsets;
  useEffect(() => {
    if (onsets) player.setHits(onsets.filter(({ strength }) => strength >= CLEAR).map(({ time }) => time));
  }, [sampleId, onsets]);

  // Changes are sent one after the other: each is made to the revision that the one before it left.
  const chain = useRef<Promise<unknown>>(Promise.resolve());
  // How many answers are still on their way: until the last one what the hand did last is shown.
  const asked = useRef(0);
  const ask = useCallback(
    (step: () => Promise<SampleEntry>, done?: string) => {
      asked.current++;
      const result = chain.current.then(async () => {
        try {
          const answer = await step();
          await queries.cancelQueries({ queryKey: ['entry', sampleId] });
          queries.setQueryData<SampleEntry>(['entry', sampleId], (shownNow) =>
            asked.current > 1 && shownNow ? { ...answer, settled: shownNow.settled } : answer,
          );
          if (done) toast.success(done);
          return true;
        } catch (failure) {
          toast.error((failure as Error).message);
          await queries.invalidateQueries({ queryKey: ['entry', sampleId] });
          return false;
        } finally {
          asked.current--;
        }
      });
      chain.current = result;
      return result;
    },
    [queries, sampleId],
  );

  const send = useCallback<Bench['settle']>(
    (patch, words, reading) => {
      setDraft(null);
      queries.setQueryData<SampleEntry>(
        ['entry', sampleId],
        (old) => old && { ...old, settled: { ...old.settled, ...patch } },
      );
      void ask(() => {
        const base = queries.getQueryData<SampleEntry>(['entry', sampleId])?.sequence ?? 0;
        return api.settle(sampleId, { base, words, patch, reading: reading ?? null });
      });
    },
    [queries, ask, sampleId],
  );
  const gesture = useRef<{ move: GridMove; timer: ReturnType<typeof setTimeout> } | null>(null);
  const endGesture = useCallback(() => {
    if (!gesture.current) return;
    const { move, timer } = gesture.current;
    clearTimeout(timer);
    gesture.current = null;
    send({ grid: move.grid, pins: [...move.pins] }, move.words, move.reading);
  }, [send]);
  useEffect(() => endGesture, [endGesture]);
  const nudge = useCallback<Bench['nudge']>(
    (move) => {
      clearTimeout(gesture.current?.timer);
      setDraft(move);
      gesture.current = { move, timer: setTimeout(endGesture, GESTURE_PAUSE) };
    },
    [endGesture],
  );
  const preview = useCallback<Bench['preview']>(
    (next) => {
      endGesture();
      setDraft(next);
    },
    [endGesture],
  );
  const settle = useCallback<Bench['settle']>(
    (...step) => {
      endGesture();
      send(...step);
    },
    [endGesture, send],
  );
  const run = useCallback<Bench['run']>(
    (...step) => {
      endGesture();
      return ask(...step);
    },
    [endGesture, ask],
  );
  const undo = useCallback(() => void run(() => api.undo(sampleId)), [run, sampleId]);
  const redo = useCallback(() => void run(() => api.redo(sampleId)), [run, sampleId]);

  const settledGrid = entry?.settled.grid ?? null;
  const settledPins = entry?.settled.pins ?? NO_PINS;
  const pinned = useMemo(
    () => (settledGrid ? { grid: settledGrid, pins: settledPins } : null),
    [settledGrid, settledPins],
  );
  const shown = useMemo(
    () => (draft ? { grid: draft.grid, pins: draft.pins ?? pinned?.pins ?? NO_PINS } : pinned),
    [draft, pinned],
  );
  const bench = useMemo<Bench | null>(
    () =>
      entry
        ? {
            entry,
            traces: traces ?? null,
            audio,
            grid,
            shown,
            pinned,
            preview,
            settle,
            nudge,
            undo,
            redo,
            run,
          }
        : null,
    [entry, traces, audio, grid, shown, pinned, preview, settle, nudge, undo, redo, run],
  );
  return { bench, error };
}
