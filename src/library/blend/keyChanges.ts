import { ALL_KEYS, type Key } from '@/core/harmony/keyNames';
import type { LaneHarmony } from './harmony';

const NOTES = 12;
/** How much each note belongs to a key, as listeners say (Krumhansl & Kessler 1982). */
const PROFILES = {
  major: [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88],
  minor: [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17],
};
/** A key is heard over so many bars, and another one has to be as much likelier. */
const KEY_BARS = 8;
const KEY_MARGIN = 0.12;

/** Where the key of a lane changes: from which bar (1 is the first) to which key. Its notes are as they sound in the blend. */
export function keyChanges({ bars }: LaneHarmony): { bar: number; key: Key }[] {
  const hop = KEY_BARS / 2;
  const windows = Array.from(
    { length: Math.max(0, Math.floor((bars.length - KEY_BARS) / hop) + 1) },
    (_, i) => {
      const sum = new Float64Array(NOTES);
      for (const notes of bars.slice(i * hop, i * hop + KEY_BARS))
        notes.forEach((one, note) => (sum[note] += one));
      return sum;
    },
  );
  const fit = (sum: Float64Array, one: Key) => correlation(sum, PROFILES[one.mode], one.tonic);
  const best = windows.map((sum) => ALL_KEYS.reduce((a, b) => (fit(sum, b) > fit(sum, a) ? b : a)));
  const found: { bar: number; key: Key }[] = [];
  let [now] = best;
  windows.forEach((sum, i) => {
    // Where one key goes over into another a third may be heard for a moment.
    if (best[i] !== best[i + 1] || fit(sum, best[i]) - fit(sum, now) < KEY_MARGIN) return;
    now = best[i];
    found.push({ bar: i * hop + 1, key: now });
  });
  return found;
}

function correlation(notes: ArrayLike<number>, profile: readonly number[], tonic: number): number {
  const values = profile.map((_, i) => notes[(tonic + i) % NOTES]);
  const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
  const [a, b] = [mean(values), mean(profile)];
  let [both, first, second] = [0, 0, 0];
  values.forEach((value, i) => {
    both += (value - a) * (profile[i] - b);
    first += (value - a) ** 2;
    second += (profile[i] - b) ** 2;
  });
  return first > 0 ? both / Math.sqrt(first * second) : 0;
}
