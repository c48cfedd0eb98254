import { TEMPO_BINS, tempoBin } from '@/contract/overview';

/** Tempi that are shown, BPM. */
export interface TempoWindow {
  from: number;
  to: number;
}

export const SLOWEST = TEMPO_BINS.from;
export const [, FASTEST] = tempoBin(TEMPO_BINS.count - 1);
const OCTAVES = Math.log2(FASTEST / SLOWEST);

/** Where a tempo stands between the slowest and the fastest that are shown, 0 … 1 (by octaves, not by BPM). */
export const placeOf = (bpm: number): number => Math.min(1, Math.max(0, Math.log2(bpm / SLOWEST) / OCTAVES));

/** The tempo at a place, in whole BPM. */
export const tempoAt = (place: number): number =>
  Math.round(SLOWEST * 2 ** (Math.min(1, Math.max(0, place)) * OCTAVES));

/** The window between two places, whichever comes first. */
export function windowBetween(a: number, b: number): TempoWindow {
  const [from, to] = [tempoAt(Math.min(a, b)), tempoAt(Math.max(a, b))];
  return { from, to: Math.max(from, to) };
}

/** The window of one bin, to a tenth, so that what is counted in it is found. */
export function windowOfBin(bin: number): TempoWindow {
  const [from, to] = tempoBin(bin);
  return { from: Math.floor(from * 10) / 10, to: Math.ceil(to * 10) / 10 };
}

export const binAt = (place: number): number =>
  Math.min(TEMPO_BINS.count - 1, Math.max(0, Math.floor(place * TEMPO_BINS.count)));

/** Half and double of a window, as far as they are shown. */
export const ghostsOf = ({ from, to }: TempoWindow): TempoWindow[] =>
  [0.5, 2]
    .map((ratio) => ({ from: from * ratio, to: to * ratio }))
    .filter((ghost) => ghost.to > SLOWEST && ghost.from < FASTEST);
