import type { Grid } from '@/core/rhythm/grid';
import type { Lean } from '@/core/rhythm/lean';

export interface LeanWords {
  text: string;
  /** Whether the columns stand straight on the rules. */
  upright: boolean;
}

/** Less than this at the end of the file is not seen. */
const SEEN_MS = 6;
/** Less than this beside the rule is not heard. */
const OFFSET_MS = 6;

/**
 * The lean of a fold in words: "leans 0.42 BPM late, the one stands 12 ms early". `isAsMade`: the grid is the one that the sample was
 * rendered with; how its hits lean is how they are played.
 */
export function leanWords(
  grid: Grid,
  lean: Lean | null,
  durationSeconds: number,
  isAsMade = false,
): LeanWords {
  if (grid.movingBeats) return { text: 'follows the player', upright: true };
  if (!lean) return { text: 'too few hits to judge', upright: false };
  const off = grid.tempoBpm - lean.uprightBpm;
  const creepMs = 1000 * durationSeconds * Math.abs(off / grid.tempoBpm);
  const period = 60 / grid.tempoBpm;
  const away = (lean.uprightOne - grid.one) / period;
  const offsetMs = 1000 * (away - Math.round(away)) * period;
  const leans = creepMs >= SEEN_MS;
  const offset = Math.abs(offsetMs) >= OFFSET_MS;
  const parts: string[] = [];
  if (leans)
    parts.push(
      `leans ${Math.abs(off).toFixed(Math.abs(off) < 0.1 ? 3 : 2)} BPM ${off > 0 ? 'late' : 'early'}`,
    );
  if (offset) parts.push(`hits are ${Math.abs(offsetMs).toFixed(0)} ms ${offsetMs > 0 ? 'late' : 'early'}`);
  if (isAsMade) {
    const played = offset ? `; its hits are played ${parts[parts.length - 1].slice('hits are '.length)}` : '';
    return { text: `exact, as rendered${played}`, upright: true };
  }
  return { text: parts.length ? parts.join(', ') : 'straight', upright: parts.length === 0 };
}
