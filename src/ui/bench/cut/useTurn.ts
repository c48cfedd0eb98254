'use client';
import { useMemo } from 'react';
import type { Recipe } from '@/core/recipes/recipe';
import { composed, readOf } from '@/core/recipes/compose';
import { renderPlanOf, type RenderPlan } from '@/core/recipes/renderPlan';
import { seamFigures } from '@/core/signal/seam';
import { seamWords } from '../seam/seamWords';
import type { Bench } from '../useBench';
import type { Turn } from './CutSeam';

/** What has to be bent takes time to make: its turn is not listened to with every change, frames. */
const MADE_AT_ONCE = 44_100 * 90;

/** The turn of what would be made; null where it does not turn, or takes too long to make with every change. */
export function useTurn({ audio }: Bench, wanted: Recipe | null, renderPlan: RenderPlan | null): Turn | null {
  return useMemo(() => {
    if (!audio || !wanted || !renderPlan || wanted.kind !== 'loop') return null;
    const isBent =
      renderPlan.timeStretch.map!.source.length > 2 ||
      renderPlan.size !== renderPlan.timeStretch.length ||
      renderPlan.timeStretch.semitones !== 0 ||
      renderPlan.timeStretch.tape;
    // The turn of what is bent is that of what it is made from.
    const plain: Recipe = isBent
      ? {
          ...wanted,
          time: { ...wanted.time, tempoBpm: null, level: 1, even: 'no', exactBeats: null },
          hits: { ...wanted.hits, moves: [], pull: 0, feel: null },
          pitch: { ...wanted.pitch, semitones: 0, cents: 0, tape: false },
        }
      : wanted;
    const once: Recipe = { ...plain, times: 1, keepAround: false, countInBars: 0 };
    try {
      const plan = renderPlanOf(once, audio.channels[0].length, audio.sampleRate);
      if (plan.length > MADE_AT_ONCE) return null;
      const { channels } = composed(readOf(audio.channels, plan), plan, once);
      const figures = seamFigures(channels, audio.sampleRate, 0, channels[0].length / audio.sampleRate);
      return { channels, sampleRate: audio.sampleRate, figures, ...seamWords(figures) };
    } catch {
      return null;
    }
  }, [audio, wanted, renderPlan]);
}
