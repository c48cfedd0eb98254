import type { Measurement } from '../measurement/schema';
import { beatPosition, feltBeatsPerBar, type Grid } from '../rhythm/grid';

/** By what samples are like each other. Each is a place: what lies near sounds alike. */
export interface Features {
  rhythm: number[];
  sound: number[];
  harmony: number[];
}

export const LIKE_BY = ['all', 'rhythm', 'sound', 'harmony'] as const;
export type LikeBy = (typeof LIKE_BY)[number];

/** Places in a bar that hits are gathered at. */
const PLACES = 8;
/** A hit this strong counts as much as any stronger one. */
const FULL_STRENGTH = 15;
const LEAST_STRENGTH = 2;

/**
 * What similarity is told by: where in the bar hits fall and how dense they are; brightness, noise, decay and density of the
 * sound; which intervals there are between notes, whatever the key. Null before anything is measured.
 */
export function featuresOf(measurement: Measurement | null, grid: Grid | null): Features | null {
  if (!measurement) return null;
  return {
    rhythm: rhythmOf(measurement, grid),
    sound: soundOf(measurement),
    harmony: harmonyOf(measurement.chroma),
  };
}

/** All of them as one place, as each weighs. */
export function togetherOf({ rhythm, sound, harmony }: Features): number[] {
  return [...rhythm, ...sound, ...harmony];
}

/** Shares of the hits at each place of the bar (the nearer two share a hit), and hits for each beat. */
function rhythmOf({ onsets }: Measurement, grid: Grid | null): number[] {
  const shares = new Array<number>(PLACES).fill(0);
  if (!grid) return [...shares, 0];
  const beats = feltBeatsPerBar(grid.meter);
  let sum = 0;
  let first = Infinity;
  let last = -Infinity;
  for (const { time, strength } of onsets) {
    if (strength < LEAST_STRENGTH) continue;
    const beat = beatPosition(grid, time);
    [first, last] = [Math.min(first, beat), Math.max(last, beat)];
    const place = ((((beat / beats) % 1) + 1) % 1) * PLACES;
    const weight = Math.min(1, strength / FULL_STRENGTH);
    const share = place - Math.floor(place);
    shares[Math.floor(place) % PLACES] += weight * (1 - share);
    shares[Math.ceil(place) % PLACES] += weight * share;
    sum += weight;
  }
  if (sum === 0) return [...shares, 0];
  const dense = Math.log2(1 + sum / Math.max(1, last - first)) / 2;
  return [...shares.map((share) => rounded((2 * share) / sum)), rounded(dense)];
}

function soundOf({ character }: Measurement): number[] {
  if (!character) return [0, 0, 0, 0];
  const { centroidHz, flatness, decaySeconds, onsetsPerSecond } = character;
  return [
    Math.log2(Math.max(60, centroidHz) / 1000) / 3,
    Math.sqrt(Math.max(0, flatness)),
    Math.log10(Math.max(0.03, decaySeconds ?? 0.3)) / 2,
    Math.log2(0.5 + onsetsPerSecond) / 6,
  ].map(rounded);
}

/**
 * Sizes of the Fourier coefficients of the chroma (Quinn 2006; Amiot 2016): how much it is made of semitones, tritones, thirds,
 * fifths … They are the same in every key.
 */
function harmonyOf(chroma: readonly number[] | null): number[] {
  return [1, 2, 3, 4, 5, 6].map((k) => {
    let [re, im] = [0, 0];
    (chroma ?? []).forEach((share, pitch) => {
      re += share * Math.cos((2 * Math.PI * k * pitch) / 12);
      im += share * Math.sin((2 * Math.PI * k * pitch) / 12);
    });
    return rounded(Math.hypot(re, im));
  });
}

const rounded = (value: number) => Math.round(value * 1e4) / 1e4;
