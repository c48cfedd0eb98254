'use client';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { Recipe } from '@/core/recipes/recipe';
import { isOnlyBent, planOfMaking } from '@/library/recipes/aims';
import { renderPlanOf } from '@/core/recipes/renderPlan';
import { engine } from '../../audio/engine';
import type { Bench } from '../useBench';

/** Lets what would be made be heard, looping; what is changed meanwhile is heard at once. */
export function useHearing({ entry }: Bench, wanted: Recipe | null, hears: boolean) {
  const { sampleId, durationSeconds } = entry.summary;
  const aimed = useMemo(() => {
    if (!wanted) return null;
    const rate = engine.context.sampleRate;
    // Heard as it will turn: what is not written for ever loops with its tail and its count-in as well.
    const plan = renderPlanOf(wanted, Math.round(wanted.parent.durationSeconds * rate), rate);
    const aim = { sampleId, durationSeconds, plan: planOfMaking(plan, wanted) };
    return isOnlyBent(wanted) ? aim : { ...aim, recipe: wanted };
  }, [wanted, sampleId, durationSeconds]);
  const hear = useCallback(() => {
    if (aimed) void engine.playAtTarget({ ...aimed, clock: null, handOver: 'beat', keepsOthers: false });
  }, [aimed]);
  const heard = useRef(aimed);
  useEffect(() => {
    if (heard.current === aimed) return;
    heard.current = aimed;
    if (hears && aimed) void engine.target.retarget(new Map([[sampleId, aimed]]));
  }, [aimed, hears, sampleId]);
  return { hear, stop: useCallback(() => engine.stop(), []) };
}
