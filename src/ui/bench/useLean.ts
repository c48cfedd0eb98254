'use client';
import { useEffect, useState } from 'react';
import { measureLean, type Lean } from '@/core/rhythm/lean';
import type { Grid } from '@/core/rhythm/grid';
import type { Onset } from '@/core/rhythm/onsets';

/**
 * What the hits say of the settled grid; a grid that is being pulled is compared with the same columns. It is measured
 * after the picture is drawn, once for each grid: until then it is that of the grid before.
 */
export function useLean(onsets: readonly Onset[], settled: Grid | null): Lean | null {
  const [lean, setLean] = useState<Lean | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setLean(settled && measureLean(onsets, settled)));
    return () => clearTimeout(timer);
  }, [onsets, settled]);
  return lean;
}
