'use client';
import { useCallback, useMemo, useState } from 'react';
import { recipe, type Recipe, type RecipeInput } from '@/core/recipes/recipe';
import { loopRegion, named, parentOf } from '@/library/recipes/aims';
import { edgeShift } from '@/core/recipes/edges';
import { renderPlanOf, type RenderPlan } from '@/core/recipes/renderPlan';
import { barsUntil, barTime, beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import { findEdges, type Edges } from '@/core/signal/edges';
import type { Bench } from '../useBench';
import { CUT_NAME, keptDraft, rememberDraft, type CutDraft } from '../../family/cutDrafts';

export interface Cut {
  draft: CutDraft;
  /** Somebody has chosen something. */
  isTouched: boolean;
  change: (patch: Partial<CutDraft>) => void;
  /** Chooses whole bars, counted from 1. */
  chooseBars: (bar: number, bars: number) => void;
  /** Chooses beats of the grid; the fraction counts. */
  chooseBeats: (chosen: { from: number; to: number }) => void;
  /** What it comes to; null where it cannot be followed, and then why. */
  wanted: Recipe | null;
  renderPlan: RenderPlan | null;
  fault: string | null;
  /** The loop would begin or end in silence or in a fade-out: it is made only when that is insisted on. */
  doubtful: string | null;
  /** Seconds of the stretch in the file; null where all of it is meant. */
  bounds: { start: number; end: number } | null;
  /** One change back or forth; null where there is none. Nothing is stored of it before it is made. */
  undo: (() => void) | null;
  redo: (() => void) | null;
  /** Everything as it was before anything was chosen. */
  reset: () => void;
}

/** A draft with what it was before, and what was undone. */
interface Steps {
  past: readonly CutDraft[];
  draft: CutDraft;
  future: readonly CutDraft[];
}

const MOST_STEPS = 200;

function beginning({ entry, grid }: Bench): CutDraft {
  const { kind } = entry.summary;
  const region = kind === 'loop' ? loopRegion(entry) : null;
  const size = grid ? feltBeatsPerBar(grid.meter) : 4;
  const bars = grid && entry.summary.durationSeconds ? barsUntil(grid, entry.summary.durationSeconds) : 0;
  const whole = region ?? (bars > 0 && kind !== 'midi' ? { from: 0, to: Math.min(4, bars) * size } : null);
  const { time, hits, pitch, times, keepAround, countInBars, countInWith, clickOnly, write } = recipe
    .omit({ parent: true, name: true, kind: true })
    .parse({});
  return {
    ...{ time, hits, pitch, times, keepAround, countInBars, countInWith, clickOnly },
    write: entry.summary.format === 'midi' ? { ...write, format: 'midi' } : write,
    region: whole && recipe.shape.region.parse(whole),
    // A performance is written as notes, and stays one.
    kind: kind === 'midi' ? 'midi' : kind === 'oneshot' || !grid ? (kind ?? 'oneshot') : 'loop',
    edge: 'grid',
    insists: false,
    template: CUT_NAME,
  };
}

/** What is to be made of the sample on the Bench. */
export function useCut(bench: Bench): Cut {
  const { entry, grid, audio, traces } = bench;
  const { sampleId } = entry.summary;
  const [steps, setSteps] = useState<Steps>(() => ({
    past: [],
    draft: keptDraft(sampleId) ?? beginning(bench),
    future: [],
  }));
  const { draft, past, future } = steps;
  const go = useCallback(
    (next: (now: Steps) => Steps) =>
      setSteps((now) => {
        const then = next(now);
        rememberDraft(sampleId, then.draft);
        return then;
      }),
    [sampleId],
  );
  const change = useCallback(
    (patch: Partial<CutDraft>) =>
      go((now) => ({
        past: [...now.past, now.draft].slice(-MOST_STEPS),
        draft: { ...now.draft, ...patch },
        future: [],
      })),
    [go],
  );
  const undo = useCallback(
    () =>
      go((now) => ({
        past: now.past.slice(0, -1),
        draft: now.past[now.past.length - 1] ?? now.draft,
        future: [now.draft, ...now.future],
      })),
    [go],
  );
  const redo = useCallback(
    () =>
      go((now) => ({
        past: [...now.past, now.draft],
        draft: now.future[0] ?? now.draft,
        future: now.future.slice(1),
      })),
    [go],
  );
  const chooseBeats = useCallback(
    (chosen: { from: number; to: number }) => {
      const before = draft.region ?? recipe.shape.region.parse(chosen)!;
      change({
        region: { ...before, ...chosen },
        time: { ...draft.time, exactBeats: null },
        // Bars of a performance are one as well.
        kind: draft.write.format === 'midi' ? 'midi' : 'loop',
      });
    },
    [draft, change],
  );
  const chooseBars = useCallback(
    (bar: number, bars: number) => {
      const size = grid ? feltBeatsPerBar(grid.meter) : 4;
      chooseBeats({ from: (bar - 1) * size, to: (bar - 1 + bars) * size });
    },
    [grid, chooseBeats],
  );
  const reset = useCallback(() => {
    setSteps((now) => ({ past: [...now.past, now.draft], draft: beginning(bench), future: [] }));
    rememberDraft(sampleId, null);
  }, [sampleId, bench]);

  const parent = useMemo(() => parentOf(entry), [entry]);
  const { region, edge } = draft;
  const onGrid = useMemo(
    () => (grid && region ? { start: beatTime(grid, region.from), end: beatTime(grid, region.to) } : null),
    [grid, region],
  );
  const shiftSeconds = useMemo(() => {
    if (edge === 'grid') return 0;
    if (!onGrid || !audio || edge === 'as it was') return region?.shiftSeconds ?? 0;
    const shift = edgeShift(audio.channels, audio.sampleRate, onGrid, edge);
    // Nothing is read before the file begins.
    return Math.max(-0.1, Math.min(0.1, Math.max(-Math.max(0, onGrid.start), shift)));
  }, [onGrid, audio, edge, region?.shiftSeconds]);

  const bounds = useMemo(
    () => onGrid && { start: onGrid.start + shiftSeconds, end: onGrid.end + shiftSeconds },
    [onGrid, shiftSeconds],
  );
  const doubtful = useMemo(
    () =>
      draft.kind === 'loop' && grid && bounds && traces
        ? doubtAbout(bounds, findEdges(traces.peaks), barTime(grid, 2) - barTime(grid, 1))
        : null,
    [draft.kind, grid, bounds, traces],
  );
  const found = useMemo((): Pick<Cut, 'wanted' | 'renderPlan' | 'fault'> => {
    if (!parent) return { wanted: null, renderPlan: null, fault: 'It has not been measured yet.' };
    const { template, ...recipeSteps } = draft;
    const input: Omit<RecipeInput, 'name'> = {
      ...recipeSteps,
      region: region && { ...region, shiftSeconds },
      parent,
    };
    try {
      const wanted = named(input, entry, template);
      const rate = audio?.sampleRate ?? entry.summary.sampleRate ?? 44_100;
      const renderPlan = renderPlanOf(wanted, Math.round(parent.durationSeconds * rate), rate);
      return { wanted, renderPlan, fault: null };
    } catch (error) {
      return { wanted: null, renderPlan: null, fault: (error as Error).message };
    }
  }, [parent, draft, region, shiftSeconds, entry, audio]);
  return useMemo(
    () => ({
      draft,
      isTouched: keptDraft(sampleId) !== null,
      change,
      chooseBars,
      chooseBeats,
      reset,
      undo: past.length > 0 ? undo : null,
      redo: future.length > 0 ? redo : null,
      bounds,
      doubtful: draft.insists ? null : doubtful,
      ...found,
    }),
    [
      draft,
      past,
      future,
      undo,
      redo,
      sampleId,
      change,
      chooseBars,
      chooseBeats,
      reset,
      bounds,
      doubtful,
      found,
    ],
  );
}

/** A fade-out that is only begun is not heard, seconds. */
const SPARE = 0.1;

/**
 * Why a loop should not begin or end there, as a sentence; null where nothing speaks against it. Rests of less than a bar are music.
 */
function doubtAbout(
  { start, end }: { start: number; end: number },
  { soundFrom, soundTo, fadeFrom }: Edges,
  bar: number,
): string | null {
  if (fadeFrom !== null && end > fadeFrom + SPARE)
    return `The range ends within the fade-out that begins at ${fadeFrom.toFixed(1)} s: the loop would jump from quiet to loud.`;
  if (end > soundTo + bar) return `The range ends in the silence that begins at ${soundTo.toFixed(1)} s.`;
  if (start < soundFrom - bar)
    return `The range begins in the silence that ends at ${soundFrom.toFixed(1)} s.`;
  return null;
}
