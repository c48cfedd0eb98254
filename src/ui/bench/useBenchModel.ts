'use client';
import { createContext, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Onset } from '@/core/rhythm/onsets';
import type { Lean } from '@/core/rhythm/lean';
import { isGridAsMade } from '@/library/samples/asMade';
import { BANDS } from '@/core/traces/bandStrength';
import { isNote } from '../audio/midi';
import { isAskedFor, shownAsAsked } from '../family/cutDrafts';
import { useMidi, type Midi } from '../keyboard/useMidi';
import { useCut, type Cut } from './cut/useCut';
import { useLateHits, type LateHits } from './cut/useLateHits';
import type { FoldSettings } from './fold/foldSettings';
import { setUpright } from './gridMoves';
import { leanWords, type LeanWords } from './leanWords';
import type { Snap } from './snapping';
import type { Bench } from './useBench';
import { useComparing, type Comparing } from './useComparing';
import { useLean } from './useLean';
import { useLooping, type Looping } from './useLooping';
import { useSettling, type Settling } from './useSettling';
import { useTaps, type Taps } from './useTaps';
import { useView, type View } from './useView';
import type { Card } from './cards';
import type { MainView } from './mainViews';

/** A part of the file that is selected, seconds. */
export interface Selected {
  from: number;
  to: number;
}

/** Everything that the screen of one sample works with. */
export interface BenchModel {
  bench: Bench;
  durationSeconds: number;
  onsets: readonly Onset[];
  /** How long they take to come up, ms. */
  attackMs: number;
  /** The grid is the one that the sample was rendered with. */
  isAsMade: boolean;
  view: View;
  taps: Taps;
  midi: Midi;
  settling: Settling;
  looping: Looping;
  cut: Cut;
  lateHits: LateHits;
  lean: Lean | null;
  leanWords: LeanWords;
  /** Sets tempo and the one from the hits; null where there is nothing to straighten. */
  straighten: (() => void) | null;
  mainView: MainView;
  setMainView: (view: MainView) => void;
  card: Card;
  setCard: (card: Card) => void;
  snap: Snap;
  setSnap: (snap: Snap) => void;
  selected: Selected | null;
  select: (selected: Selected | null) => void;
  comparing: Comparing;
  fold: FoldSettings;
  setFold: (settings: FoldSettings) => void;
  /** Rows of the fold of another height, px; null: as many as fit. */
  setTall: (tall: number | null) => void;
  /** Makes rows of the fold taller (1) or lower (−1). */
  stepRows: (way: 1 | -1) => void;
}

export const BenchContext = createContext<BenchModel | null>(null);

/** The sample on the Bench, with everything that its screen works with. */
export function useBenchModel(): BenchModel {
  const model = useContext(BenchContext);
  if (!model) throw new Error('There is no Bench around this.');
  return model;
}

const NO_ONSETS: readonly Onset[] = [];
/** Rows of the fold grow and shrink by this factor per step. */
const ROW_STEP = 1.4;
const SHORTEST_ROW = 3;
const TALLEST_ROW = 110;

/** Puts together what the screen of a sample works with. */
export function useNewBenchModel(bench: Bench): BenchModel {
  const { entry, grid, shown, pinned } = bench;
  const durationSeconds = entry.summary.durationSeconds ?? 1;
  const onsets = entry.measurement?.onsets ?? NO_ONSETS;
  const attackMs = entry.measurement?.character?.attackMs ?? 0;
  const isAsMade = isGridAsMade(entry.readings, entry.settled.chosen);
  const view = useView(durationSeconds);
  const taps = useTaps();
  const midi = useMidi();
  // A pad taps, wherever no keyboard is wanted.
  const { tap } = taps;
  useEffect(
    () => midi.listen((message) => void (isNote(message) && message.on && tap(message.at))),
    [midi, tap],
  );
  const settling = useSettling(bench);
  const looping = useLooping(grid, entry.settled.loop, durationSeconds);
  const cut = useCut(bench);
  const lateHits = useLateHits(bench, cut);
  const comparing = useComparing(bench);
  const [wanted, setMainView] = useState<MainView>(() =>
    // Before it is measured there is nothing to cut.
    entry.measurement && isAskedFor(entry.summary.sampleId) ? 'cut' : 'fold',
  );
  // Not while it is rendered: what is rendered may be given up and begun again.
  const isMeasured = entry.measurement !== null;
  useEffect(() => {
    if (isMeasured) shownAsAsked(entry.summary.sampleId);
  }, [isMeasured, entry.summary.sampleId]);
  const mainView: MainView = wanted === 'fold' && !grid ? 'line' : wanted;
  const [card, setCard] = useState<Card>('Readings');
  const [snap, setSnap] = useState<Snap>('hits');
  const [selected, select] = useState<Selected | null>(null);

  const barBeats = grid ? feltBeatsPerBar(grid.meter) : 4;
  const [wantedFold, setFold] = useState<FoldSettings>({
    ...{ rowBeats: barBeats, drawing: 'repeats', bands: BANDS, tall: null },
  });
  // Rows are whole bars also when the time signature changes.
  const fold = useMemo(
    () =>
      wantedFold.rowBeats === 1 || wantedFold.rowBeats % barBeats === 0
        ? wantedFold
        : { ...wantedFold, rowBeats: barBeats },
    [wantedFold, barBeats],
  );
  const setTall = useCallback((tall: number | null) => setFold((before) => ({ ...before, tall })), []);
  const stepRows = useCallback(
    (way: 1 | -1) =>
      setFold((before) => {
        const tall = (before.tall ?? 6) * (way > 0 ? ROW_STEP : 1 / ROW_STEP);
        return { ...before, tall: tall < SHORTEST_ROW ? null : Math.min(TALLEST_ROW, tall) };
      }),
    [],
  );

  const lean = useLean(onsets, pinned?.grid ?? null);
  const words = useMemo(
    () => (grid ? leanWords(grid, lean, durationSeconds, isAsMade) : { text: '', upright: false }),
    [grid, lean, durationSeconds, isAsMade],
  );
  const straighten = useMemo(
    () =>
      shown && lean && !words.upright
        ? () => settling.settle(setUpright(shown, lean.uprightBpm, lean.uprightOne))
        : null,
    [shown, lean, words.upright, settling],
  );
  return useMemo(
    () => ({
      ...{ bench, durationSeconds, onsets, attackMs, isAsMade, view, taps, midi, settling, looping, cut },
      lateHits,
      ...{ lean, leanWords: words, straighten, mainView, setMainView, snap, setSnap, selected, select },
      ...{ card, setCard },
      ...{ comparing, fold, setFold, setTall, stepRows },
    }),
    [
      bench,
      durationSeconds,
      onsets,
      attackMs,
      isAsMade,
      view,
      taps,
      midi,
      settling,
      looping,
      cut,
      lateHits,
      lean,
      words,
      straighten,
      mainView,
      card,
      snap,
      selected,
      comparing,
      fold,
      setTall,
      stepRows,
    ],
  );
}
