import type { Grid } from '@/core/rhythm/grid';
import type { Lean } from '@/core/rhythm/lean';
import type { Pinned } from '@/core/rhythm/pins';
import { xOfBeat, type FoldScale } from './foldScale';

/** How near to upright a drag is caught, pixels. */
const CATCH = 5;

/** A drag that is under way. */
export interface Drag {
  startX: number;
  startY: number;
  beat: number;
  from: Pinned;
  scale: FoldScale;
  moved: boolean;
  grid: Grid | null;
}

/** Near upright a drag is caught there: by the hits' own columns. */
export function caught(pulled: Grid, { from, scale, beat }: Drag, upright: Lean | null): Grid {
  if (!upright || pulled.movingBeats) return pulled;
  const pixelsPerBeat = xOfBeat(scale, 1) - xOfBeat(scale, 0);
  const period = 60 / pulled.tempoBpm;
  if (pulled.tempoBpm === from.grid.tempoBpm) {
    const away = (pulled.one - upright.uprightOne) / period;
    const off = away - Math.round(away);
    return Math.abs(off) * pixelsPerBeat < CATCH ? { ...pulled, one: pulled.one - off * period } : pulled;
  }
  const shift = beat * (upright.uprightBpm / pulled.tempoBpm - 1);
  return Math.abs(shift) * pixelsPerBeat < CATCH ? { ...pulled, tempoBpm: upright.uprightBpm } : pulled;
}
