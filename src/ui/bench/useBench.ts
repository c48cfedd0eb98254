'use client';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { SampleEntry } from '@/contract/entry';
import type { NewReading } from '@/contract/orders';
import type { SettledState } from '@/contract/settled';
import { clearHits } from '@/core/rhythm/clearHits';
import { swingOf } from '@/core/playing/drumPattern';
import type { Grid } from '@/core/rhythm/grid';
import type { Pin, Pinned } from '@/core/rhythm/pins';
import type { Traces } from '@/core/traces/traces';
import { useEntry, useTraces } from '../api/useEntry';
import type { DecodedAudio } from '../audio/decodedAudio';
import { engine } from '../audio/engine';
import type { GridMove } from './gridMoves';
import { outboxOf, type Base, type OutboxState, type SampleOrder } from '../outbox/sampleOutbox';
import { useOutbox } from './useOutbox';

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
  /** Asks for anything else to be done; resolves when it is stored (true) or refused. */
  order: (order: SampleOrder, words: string, done?: string) => Promise<boolean>;
  /** The newest state: cards are drawn a moment later than it, and what is pressed on them is meant for it. */
  now: () => Bench;
  /** What is on its way, and why it is not stored yet. */
  outbox: OutboxState & { tryAgain: () => void; giveBack: () => void };
}

const NO_PINS: readonly Pin[] = [];
/** Nudges in quick succession are one step of the history; it ends after this pause, ms. */
const GESTURE_PAUSE = 700;

/** A sample on the Bench: its entry, its audio, and the changes made to it. */
export function useBench(sampleId: string): { bench: Bench | null; error: Error | null } {
  const { data: stored, error } = useEntry(sampleId);
  const { outbox, entry, isKnown, send } = useOutbox(sampleId, stored);
  const [audio, setAudio] = useState<DecodedAudio | null>(null);
  const [draft, setDraft] = useState<{ grid: Grid; pins?: readonly Pin[] } | null>(null);

  const decodable = Boolean(entry?.measurement);
  const durationSeconds = entry?.summary.durationSeconds ?? null;
  useEffect(() => {
    if (!decodable) return;
    let wanted = true;
    void engine.open(sampleId, durationSeconds).whole.then((loaded) => wanted && setAudio(loaded));
    return () => {
      wanted = false;
      engine.stop();
      engine.setSegments([]);
    };
  }, [sampleId, decodable, durationSeconds]);

  const { data: traces } = useTraces(sampleId, decodable);

  const grid = draft?.grid ?? entry?.settled.grid ?? null;
  useEffect(() => {
    if (decodable) engine.setGrid(grid);
  }, [sampleId, decodable, grid]);

  const onsets = entry?.measurement?.onsets;
  useEffect(() => {
    if (onsets) engine.setHits(clearHits(onsets));
  }, [sampleId, onsets]);
  const swing = swingOf(entry?.measurement ?? null);
  useEffect(() => engine.setClick({ swing }), [sampleId, swing]);

  /** What a gesture that has begun is made to: whatever comes in while it lasts, it goes on from what was seen. */
  const begun = useRef<Base | null>(null);
  const seen = useRef<{ sequence: number | null; isKnown: boolean }>({ sequence: null, isKnown: true });
  useEffect(() => {
    seen.current = { sequence: entry?.sequence ?? null, isKnown };
  });
  const baseNow = useCallback(() => {
    const { sequence, isKnown } = seen.current;
    return (begun.current ??= outboxOf(sampleId).baseNow(sequence, isKnown));
  }, [sampleId]);

  const sendPatch = useCallback<Bench['settle']>(
    (patch, words, reading) => {
      setDraft(null);
      const base = baseNow();
      begun.current = null;
      void send({ do: 'settle', words, patch, reading: reading ?? null }, words, base);
    },
    [send, baseNow],
  );
  const gesture = useRef<{ move: GridMove; timer: ReturnType<typeof setTimeout> } | null>(null);
  const endGesture = useCallback(() => {
    if (!gesture.current) return;
    const { move, timer } = gesture.current;
    clearTimeout(timer);
    gesture.current = null;
    sendPatch({ grid: move.grid, pins: [...move.pins] }, move.words, move.reading);
  }, [sendPatch]);
  useEffect(() => endGesture, [endGesture]);
  const nudge = useCallback<Bench['nudge']>(
    (move) => {
      clearTimeout(gesture.current?.timer);
      baseNow();
      setDraft(move);
      gesture.current = { move, timer: setTimeout(endGesture, GESTURE_PAUSE) };
    },
    [endGesture, baseNow],
  );
  const preview = useCallback<Bench['preview']>(
    (next) => {
      endGesture();
      if (next) baseNow();
      else begun.current = null;
      setDraft(next);
    },
    [endGesture, baseNow],
  );
  const settle = useCallback<Bench['settle']>(
    (...step) => {
      endGesture();
      sendPatch(...step);
    },
    [endGesture, sendPatch],
  );
  const order = useCallback<Bench['order']>(
    async (asked, words, done) => {
      endGesture();
      const ok = await send(asked, words, outboxOf(sampleId).baseNow(seen.current.sequence));
      if (ok && done) toast.success(done);
      return ok;
    },
    [endGesture, send, sampleId],
  );
  const undo = useCallback(() => void order({ do: 'undo' }, 'undo'), [order]);
  const redo = useCallback(() => void order({ do: 'redo' }, 'redo'), [order]);

  const newest = useRef<Bench | null>(null);
  const now = useCallback(() => newest.current!, []);
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
            order,
            outbox,
            now,
          }
        : null,
    [entry, traces, audio, grid, shown, pinned, preview, settle, nudge, undo, redo, order, outbox, now],
  );
  useLayoutEffect(() => {
    newest.current = bench;
  });
  return { bench, error };
}
