import { middleValue } from '../math/median';
import { trackBeats, SUPPLE } from './beatTracking';
import { FRAME_RATE } from './onsetFeatures';
import type { Onset } from './onsets';
import { fitSteady, foldedPeriod, type SteadyFit } from './steadyFit';
import { combSalience, type TempoCandidate } from './tempoCandidates';
import { FASTEST_BPM, SLOWEST_BPM, type Periodicity } from './tempogram';

/** Where beats may stand: one way to lay them over the recording. */
export interface Lattice {
  /** Beat times over the whole recording, rising, seconds. */
  beats: Float64Array;
  bpm: number;
  steady: boolean;
  fit: SteadyFit | null;
  /** How the lattice was come by: from the hits, from the file's length, or by following a player. */
  origin: 'hits' | 'length' | 'player';
  /** Comb salience of the tempo, relative to the best candidate's. */
  salience: number;
}

/** Periods of a seed that are tried, in its own beats. */
const RATIOS = [1, 2, 1 / 2, 3, 1 / 3, 3 / 2, 2 / 3, 4 / 3, 3 / 4];
const PROFILE_BINS = 48;
/** Places of the beat that are tried for one period. */
const PHASES = 3;
/** Below this many seconds nobody's tempo can be followed. */
const SHORTEST_MOVING = 8;

/**
 * Lattices for every seed and every ratio to it, on each of the places where the folded evidence is strong;
 * and, following a player, the same from tracked beats.
 */
export function makeLattices(
  strength: Float32Array,
  onsets: readonly Onset[],
  periodic: Periodicity,
  seeds: readonly TempoCandidate[],
  seconds: number,
  allowed: (bpm: number) => boolean,
): Lattice[] {
  const lattices: Lattice[] = [];
  const strongest = Math.max(1e-9, ...seeds.map(({ salience }) => salience));
  const salienceOf = (bpm: number) => combSalience(periodic, bpm) / strongest;
  const usable = (bpm: number) =>
    bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM && allowed(bpm) && 60 / bpm <= seconds / 2;
  seeds.forEach((seed, rank) => {
    const period = foldedPeriod(periodic, 60 / seed.bpm, seconds);
    for (const ratio of rank < 3 ? RATIOS : [1]) {
      const wanted = period * ratio;
      if (!usable(60 / wanted)) continue;
      if (
        lattices.some(
          (other) => other.origin === 'hits' && Math.abs(Math.log((other.bpm * wanted) / 60)) < 0.006,
        )
      )
        continue;
      for (const phase of strongPhases(foldTimes(strength, wanted))) {
        const fit = fitSteady(onsets, wanted, phase * wanted);
        const bpm = fit?.bpm ?? 60 / wanted;
        const anchor = fit?.anchor ?? phase * wanted;
        // Places that the fit draws to one grid are one explanation, not two.
        if (lattices.some((other) => isSameGrid(other, bpm, anchor))) continue;
        lattices.push({
          beats: gridBeats(anchor, 60 / bpm, seconds),
          bpm,
          steady: true,
          fit,
          origin: 'hits',
          salience: salienceOf(60 / wanted),
        });
      }
    }
  });
  if (seconds >= SHORTEST_MOVING && seeds.length) {
    const lead = seeds[0].bpm < 75 ? seeds[0].bpm * 2 : seeds[0].bpm > 190 ? seeds[0].bpm / 2 : seeds[0].bpm;
    const tracked = trackBeats(strength, lead, SUPPLE);
    if (tracked.length > 7) {
      for (const ratio of RATIOS) {
        const bpm = medianBpm(tracked) / ratio;
        if (!usable(bpm)) continue;
        for (const phase of strongPhases(foldPulses(strength, tracked, ratio))) {
          const beats = readOff(tracked, ratio, phase * ratio);
          if (beats.length < 4) continue;
          lattices.push({
            beats,
            bpm: medianBpm(beats),
            steady: false,
            fit: null,
            origin: 'player',
            salience: salienceOf(bpm),
          });
        }
      }
    }
  }
  return lattices;
}

/**
 * Lattices of exact arithmetic: the file is a whole number of bars long and begins on the first of them.
 * The numbers of beats are those of one, two, four … bars of usual meters.
 */
export function lengthLattices(seconds: number, allowed: (bpm: number) => boolean): Lattice[] {
  const lattices: Lattice[] = [];
  const counts = new Set<number>();
  for (const bars of [1, 2, 4, 8, 16, 32]) for (const beats of [2, 3, 4, 7]) counts.add(bars * beats);
  for (const count of counts) {
    const bpm = (60 * count) / seconds;
    if (bpm < 50 || bpm > 270 || !allowed(bpm)) continue;
    lattices.push({
      beats: Float64Array.from({ length: count }, (_, k) => (k * 60) / bpm),
      bpm,
      steady: true,
      fit: null,
      origin: 'length',
      salience: 0,
    });
  }
  return lattices;
}

/** Whether a steady lattice has, within 5 ms, the beats of a grid at `bpm` through `anchor`. */
function isSameGrid({ bpm: known, beats, steady }: Lattice, bpm: number, anchor: number): boolean {
  if (!steady || Math.abs(known / bpm - 1) > 5e-4) return false;
  const off = (beats[0] - anchor) / (60 / bpm);
  return Math.abs(off - Math.round(off)) * (60 / bpm) < 0.005;
}

/** Beats of a steady grid that fall inside the recording (with 30 ms of grace at its beginning). */
export function gridBeats(anchor: number, period: number, seconds: number): Float64Array {
  const first = Math.ceil((-0.03 - anchor) / period);
  const last = Math.floor((seconds - 0.02 - anchor) / period);
  return Float64Array.from(
    { length: Math.max(0, last - first + 1) },
    (_, i) => anchor + (first + i) * period,
  );
}

/** Tempo of the middle interval: what a recording that changes its tempo has most of the time. */
export function medianBpm(beats: ArrayLike<number>): number {
  const intervals = Array.from({ length: beats.length - 1 }, (_, i) => beats[i + 1] - beats[i]);
  return 60 / middleValue(intervals);
}

/** Mean evidence over the phase of a period in seconds. */
function foldTimes(strength: Float32Array, period: number): Float64Array {
  const profile = new Float64Array(PROFILE_BINS);
  const perFrame = 1 / (FRAME_RATE * period);
  for (let i = 0; i < strength.length; i++) {
    const phase = i * perFrame;
    profile[Math.floor((phase - Math.floor(phase)) * PROFILE_BINS)] += Math.min(6, strength[i]);
  }
  return profile;
}

/** The same over `ratio` beats of tracked ones. */
function foldPulses(strength: Float32Array, beats: Float64Array, ratio: number): Float64Array {
  const profile = new Float64Array(PROFILE_BINS);
  for (let k = 0; k + 1 < beats.length; k++) {
    const from = Math.ceil(beats[k] * FRAME_RATE);
    const to = Math.min(strength.length, Math.ceil(beats[k + 1] * FRAME_RATE));
    for (let i = from; i < to; i++) {
      const phase = (k + (i / FRAME_RATE - beats[k]) / (beats[k + 1] - beats[k])) / ratio;
      profile[Math.floor((phase - Math.floor(phase)) * PROFILE_BINS)] += Math.min(6, strength[i]);
    }
  }
  return profile;
}

/** The strongest places of a circular profile that are an eighth of it apart, 0 … 1; strongest first. */
function strongPhases(profile: Float64Array): number[] {
  const smooth = profile.map(
    (value, i) =>
      value + 0.7 * (profile[(i + 1) % PROFILE_BINS] + profile[(i + PROFILE_BINS - 1) % PROFILE_BINS]),
  );
  const order = Array.from(smooth.keys()).sort((a, b) => smooth[b] - smooth[a]);
  const chosen: number[] = [];
  for (const bin of order) {
    const before = smooth[(bin + PROFILE_BINS - 1) % PROFILE_BINS];
    const after = smooth[(bin + 1) % PROFILE_BINS];
    if (smooth[bin] < before || smooth[bin] < after) continue;
    const apart = chosen.every((other) => {
      const distance = Math.abs(other - bin) % PROFILE_BINS;
      return Math.min(distance, PROFILE_BINS - distance) >= PROFILE_BINS / 8;
    });
    if (apart) chosen.push(bin);
    if (chosen.length === PHASES) break;
  }
  return chosen.map((bin) => (bin + 0.5) / PROFILE_BINS);
}

/** Every `ratio`-th pulse of tracked beats from `offset` on, between them by interpolation. */
function readOff(beats: Float64Array, ratio: number, offset: number): Float64Array {
  const out: number[] = [];
  for (let position = offset; position <= beats.length - 1 + 1e-9; position += ratio) {
    const i = Math.min(beats.length - 2, Math.floor(position));
    out.push(beats[i] + (position - i) * (beats[i + 1] - beats[i]));
  }
  return Float64Array.from(out);
}
