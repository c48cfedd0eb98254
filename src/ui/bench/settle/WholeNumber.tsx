'use client';
import { barsUntil, barTime, steadyAt, type Grid } from '@/core/rhythm/grid';
import { Button } from '../../kit/Button';
import { bpmText } from '@/words/figures';

interface Props {
  grid: Grid;
  durationSeconds: number;
  /** Tempo at which the hits' columns stand upright, if that could be measured. */
  uprightBpm: number | null;
  onTake: (bpm: number) => void;
}

/** Offers the nearest whole number with what it would do to the last bar. */
export function WholeNumber({ grid, durationSeconds, uprightBpm, onTake }: Props) {
  const bpm = grid.tempoBpm;
  const whole = Math.round(bpm);
  const bars = barsUntil(grid, durationSeconds);
  const share = Math.abs(whole / bpm - 1);
  if (bars < 1 || Math.abs(whole - bpm) < 5e-4 || share > 0.004) return null;
  const lineAt = (tempo: number) => barTime(steadyAt(grid, tempo), bars + 1);
  // Against the hits where their tempo is known, else against the present grid.
  const truth = uprightBpm !== null && Math.abs(uprightBpm / bpm - 1) < 0.005 ? uprightBpm : null;
  const offMs = 1000 * (lineAt(whole) - lineAt(truth ?? bpm));
  const nowMs = truth === null ? 0 : 1000 * (lineAt(bpm) - lineAt(truth));
  return (
    <p className="flex items-center gap-2 text-small">
      <Button onClick={() => onTake(whole)}>
        <span className="figures">{whole}</span>
      </Button>
      <span className="leading-tight text-ink-soft">
        At {whole} the end of bar {bars} is {offWords(offMs)}
        {truth !== null && `; at ${bpmText(bpm)} it is ${offWords(nowMs)}`}
      </span>
    </p>
  );
}

function offWords(ms: number): string {
  if (Math.abs(ms) < 0.5) return 'on';
  return `${Math.abs(ms).toFixed(1)} ms ${ms < 0 ? 'early' : 'late'}`;
}
