import type { Onset } from './onsets';

/**
 * Where the off-beat stands within the beat: 0.5 is straight, 0.667 a triplet. The strength-weighted
 * median of the hits between 0.42 and 0.76 of a beat; null when there are too few to tell.
 */
export function measureSwing(onsets: readonly Onset[], beats: readonly number[]): number | null {
  const offBeats: { place: number; weight: number }[] = [];
  let k = 0;
  for (const onset of onsets) {
    while (k + 1 < beats.length && beats[k + 1] <= onset.time) k++;
    if (k + 1 >= beats.length || beats[k] > onset.time) continue;
    const place = (onset.time - beats[k]) / (beats[k + 1] - beats[k]);
    if (place > 0.42 && place < 0.76) offBeats.push({ place, weight: onset.strength });
  }
  if (offBeats.length < Math.max(3, beats.length / 8)) return null;
  offBeats.sort((a, b) => a.place - b.place);
  const half = offBeats.reduce((sum, { weight }) => sum + weight, 0) / 2;
  let sum = 0;
  for (const { place, weight } of offBeats) {
    sum += weight;
    if (sum >= half) return Math.round(place * 1000) / 1000;
  }
  return null;
}

/** Where in a beat the place `part` of `parts` stands when its second half stands at `swing`. */
export function swungPlace(part: number, parts: number, swing: number): number {
  const place = part / parts;
  // Both halves are filled evenly: what is between stretches with its half.
  return place <= 0.5 ? place * 2 * swing : swing + (place - 0.5) * 2 * (1 - swing);
}
