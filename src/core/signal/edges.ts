import { peakColumns, type PeakPyramid } from './peaks';

/** What stands at the ends of a recording. */
export interface Edges {
  /** Between these times there is sound; before and after it silence, seconds. */
  soundFrom: number;
  soundTo: number;
  /** Where it begins to fade out to silence, or null when it does not. */
  fadeFrom: number | null;
}

/** Below this share of the loudest place it counts as silence (−54 dB). */
const SILENT = 0.002;
/** Levels are looked at in steps of this, seconds, at most so many of them. */
const STEP_SECONDS = 0.1;
const MOST_STEPS = 6000;
/** A fade takes at least this long, and falls from this share of the usual level at least tenfold. */
const SHORTEST_FADE = 1.5;
const FULL = 0.7;
/** While it fades it may rise again by this factor over what it had fallen to. */
const WAVER = 1.6;

/** Finds silence at both ends and a fade-out at the end from waveform extremes. */
export function findEdges(peaks: PeakPyramid): Edges {
  const duration = peaks.frames / peaks.sampleRate;
  const count = Math.max(1, Math.min(MOST_STEPS, Math.round(duration / STEP_SECONDS)));
  const extremes = peakColumns(peaks, 0, Math.max(duration, 1e-3), count);
  const levels = Float32Array.from({ length: count }, (_, i) =>
    Math.max(0, -(extremes[2 * i] || 0), extremes[2 * i + 1] || 0),
  );
  const loudest = levels.reduce((a, b) => Math.max(a, b), 0);
  const heard = (level: number) => level > SILENT * loudest;
  const first = levels.findIndex(heard);
  if (loudest === 0 || first < 0) return { soundFrom: duration, soundTo: duration, fadeFrom: null };
  let last = count - 1;
  while (!heard(levels[last])) last--;
  const step = duration / count;
  const soundTo = Math.min(duration, (last + 1) * step);

  const usual = [...levels.subarray(first, last + 1)].sort((a, b) => a - b)[Math.floor((last - first) * 0.6)];
  let from = last;
  while (from > first && levels[from] < FULL * usual) from--;
  const falls = levels[last] < 0.1 * usual && (last - from) * step >= SHORTEST_FADE;
  let lowest = Infinity;
  let steadily = true;
  // Over stretches of half a second, so that single hits do not count as rising again.
  const stretch = Math.max(1, Math.round(0.5 / step));
  for (let i = from; i <= last; i += stretch) {
    const here = levels.subarray(i, Math.min(last + 1, i + stretch)).reduce((a, b) => Math.max(a, b), 0);
    if (here > WAVER * lowest) steadily = false;
    lowest = Math.min(lowest, here);
  }
  return { soundFrom: first * step, soundTo, fadeFrom: falls && steadily ? (from + 1) * step : null };
}
