import { FRAME_RATE, REGISTERS, type OnsetFeatures } from './onsetFeatures';

/** Chroma over time: `frames` rows of 12 pitch classes. */
export interface ChromaFrames {
  frameRate: number;
  frames: number;
  values: Float32Array;
}

/** Evidence made ready for reading at beats. */
export interface Evidence {
  /** Per register: the strongest evidence within REACH frames, limited to LOUDEST. */
  registers: Float32Array[];
  means: number[];
  chords: ChromaSums;
  bass: ChromaSums;
  /** Running sums of the level above QUIET_DB under the loudest frame, dB. */
  levels: Float64Array;
}

/** Running sums of chroma, for means over any stretch. */
interface ChromaSums {
  frameRate: number;
  frames: number;
  sums: Float64Array;
}

/** Places within a beat that are looked at, as shares of it. */
export const PLACES = [0, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 3 / 4] as const;
const REACH = 2;
const LOUDEST = 24;
/**
 * What evidence is raised by before it is compared as a logarithm, its mean being 1: a place where nothing is played
 * differs from one where little is, but not without bounds.
 */
export const RAISED_BY = 0.7;

export function makeEvidence(features: OnsetFeatures, chords: ChromaFrames, bass: ChromaFrames): Evidence {
  const registers = features.registers.map(widened);
  return {
    registers,
    means: registers.map((x) => x.reduce((sum, value) => sum + value, 0) / x.length),
    chords: runningSums(chords),
    bass: runningSums(bass),
    levels: levelSums(features.levelDb),
  };
}

/** What is softer than the loudest frame by more says nothing, dB. */
const QUIET_DB = 50;

function levelSums(levelDb: Float32Array): Float64Array {
  let loudest = -Infinity;
  for (const level of levelDb) if (level > loudest) loudest = level;
  const sums = new Float64Array(levelDb.length + 1);
  for (let i = 0; i < levelDb.length; i++)
    sums[i + 1] = sums[i] + Math.max(0, levelDb[i] - loudest + QUIET_DB);
  return sums;
}

function widened(x: Float32Array): Float32Array {
  const out = new Float32Array(x.length);
  for (let i = 0; i < x.length; i++) {
    let best = 0;
    const to = Math.min(x.length - 1, i + REACH);
    for (let j = Math.max(0, i - REACH); j <= to; j++) if (x[j] > best) best = x[j];
    out[i] = Math.min(LOUDEST, best);
  }
  return out;
}

function runningSums({ frameRate, frames, values }: ChromaFrames): ChromaSums {
  const sums = new Float64Array((frames + 1) * 12);
  for (let i = 0; i < frames * 12; i++) sums[i + 12] = sums[i] + values[i];
  return { frameRate, frames, sums };
}

/** What is seen along the beats of a lattice. */
export interface BeatPatterns {
  beats: number;
  /** `onsets[(k · PLACES.length + place) · REGISTERS + register]`: evidence of beat k. */
  onsets: Float32Array;
  /** The same, each column of zero mean and unit spread. */
  rows: Float32Array;
  /** How much the chord and the bass note change at each beat and half-way to the next, 0 … 1. */
  chordChange: Float64Array;
  chordChangeHalf: Float64Array;
  bassChange: Float64Array;
  bassChangeHalf: Float64Array;
  /** The chord of each beat, 12 values of unit length. */
  chords: Float64Array;
  /** How new each beat is beside what came before, seen over as many beats as NOVELTY_BEATS says. */
  novelty: Record<NoveltyKind, Float64Array>[];
}

/** Beats before and after a place that are held against each other: half a bar, a bar, phrases. */
export const NOVELTY_BEATS = [2, 4, 8, 16] as const;
/** What may be new at a beat: the harmony, the bass note, what is played, and that it is louder. */
export const NOVELTY_KINDS = ['chords', 'bass', 'onsets', 'level'] as const;
type NoveltyKind = (typeof NOVELTY_KINDS)[number];

/** Reads the evidence at the beats (rising, seconds) and between them. */
export function readPatterns(evidence: Evidence, beats: Float64Array): BeatPatterns {
  const count = beats.length;
  const onsets = new Float32Array(count * PLACES.length * REGISTERS);
  let at = 0;
  for (let k = 0; k < count; k++) {
    const interval = intervalAfter(beats, k);
    for (const place of PLACES) {
      const frame = Math.round((beats[k] + place * interval) * FRAME_RATE);
      for (let r = 0; r < REGISTERS; r++) onsets[at++] = evidence.registers[r][frame] ?? 0;
    }
  }
  const halves = beats.map((beat, k) => beat + intervalAfter(beats, k) / 2);
  const width = PLACES.length * REGISTERS;
  const rows = standardised(onsets, count, width);
  const sums = rowSums(rows, count, width);
  return {
    beats: count,
    onsets,
    chordChange: changesAt(evidence.chords, beats),
    chordChangeHalf: changesAt(evidence.chords, halves),
    bassChange: changesAt(evidence.bass, beats),
    bassChangeHalf: changesAt(evidence.bass, halves),
    chords: chordsOf(evidence.chords, beats),
    rows,
    novelty: NOVELTY_BEATS.map((span) => ({
      chords: changesAt(evidence.chords, beats, span),
      bass: changesAt(evidence.bass, beats, span),
      onsets: patternChanges(sums, count, span),
      level: levelRises(evidence.levels, beats, span),
    })),
  };
}

/** Running sums of the rows of a table, for means over any stretch of them. */
function rowSums(rows: Float32Array, count: number, width: number): Float64Array {
  const sums = new Float64Array((count + 1) * width);
  for (let i = 0; i < count * width; i++) sums[i + width] = sums[i] + rows[i];
  return sums;
}

/**
 * How far the mean pattern of `span` beats from each beat on is from that of as many before it, against the
 * spread of patterns: parts of a piece begin on downbeats (novelty after Foote 2000).
 */
function patternChanges(sums: Float64Array, beats: number, span: number): Float64Array {
  const width = PLACES.length * REGISTERS;
  return Float64Array.from({ length: beats }, (_, k) => {
    const from = Math.max(0, k - span);
    const to = Math.min(beats, k + span);
    if (from === k || to === k) return 0;
    const [perBefore, perAfter] = [1 / (k - from), 1 / (to - k)];
    let square = 0;
    for (let i = 0, a = from * width, b = k * width, c = to * width; i < width; i++, a++, b++, c++) {
      const change = (sums[c] - sums[b]) * perAfter - (sums[b] - sums[a]) * perBefore;
      square += change * change;
    }
    return square / width;
  });
}

/** By how much it is louder over `span` beats after each time than over as many before it, in 10 dB; falls count half. */
function levelRises(sums: Float64Array, times: Float64Array, span: number): Float64Array {
  const last = sums.length - 1;
  const at = (time: number) => Math.min(last, Math.max(0, Math.round(time * FRAME_RATE)));
  return times.map((time, k) => {
    const reach = span * intervalAfter(times, k);
    const [from, middle, to] = [at(time - reach), at(time), at(time + reach)];
    if (from === middle || to === middle) return 0;
    const rise = (sums[to] - sums[middle]) / (to - middle) - (sums[middle] - sums[from]) / (middle - from);
    return (rise > 0 ? rise : -rise / 2) / 10;
  });
}

/** Each column brought to zero mean and unit spread. */
function standardised(x: Float32Array, rows: number, width: number): Float32Array {
  const out = new Float32Array(x.length);
  for (let i = 0; i < width; i++) {
    let mean = 0;
    let square = 0;
    for (let k = 0; k < rows; k++) {
      mean += x[k * width + i];
      square += x[k * width + i] ** 2;
    }
    mean /= rows;
    const deviation = Math.sqrt(Math.max(0, square / rows - mean * mean));
    if (deviation < 1e-6) continue;
    for (let k = 0; k < rows; k++) out[k * width + i] = (x[k * width + i] - mean) / deviation;
  }
  return out;
}

function intervalAfter(beats: Float64Array, k: number): number {
  return k + 1 < beats.length ? beats[k + 1] - beats[k] : k > 0 ? beats[k] - beats[k - 1] : 0.5;
}

/**
 * Harmony over `span` beats after each time against that over as many before it: 0 (same) … 1. Two silences are
 * alike; sound after silence is a change.
 */
function changesAt(chroma: ChromaSums, times: Float64Array, span = 1): Float64Array {
  const { sums } = chroma;
  const changes = new Float64Array(times.length);
  // In the innermost place of measuring: by hand, without a list for each stretch.
  for (let k = 0; k < times.length; k++) {
    const time = times[k];
    const interval = span * intervalAfter(times, k);
    const beforeFrom = firstFrame(chroma, time - interval);
    const beforeTo = lastFrame(chroma, time, beforeFrom);
    const afterFrom = firstFrame(chroma, time);
    const afterTo = lastFrame(chroma, time + interval, afterFrom);
    let ab = 0;
    let aa = 0;
    let bb = 0;
    for (let p = 0; p < 12; p++) {
      const a = beforeTo > beforeFrom ? sums[beforeTo * 12 + p] - sums[beforeFrom * 12 + p] : 0;
      const b = afterTo > afterFrom ? sums[afterTo * 12 + p] - sums[afterFrom * 12 + p] : 0;
      ab += a * b;
      aa += a * a;
      bb += b * b;
    }
    changes[k] = aa > 0 && bb > 0 ? 1 - ab / Math.sqrt(aa * bb) : aa > 0 || bb > 0 ? 0.5 : 0;
  }
  return changes;
}

function chordsOf(chroma: ChromaSums, beats: Float64Array): Float64Array {
  const out = new Float64Array(beats.length * 12);
  const chord = new Float64Array(12);
  for (let k = 0; k < beats.length; k++) {
    meanOver(chroma, beats[k], beats[k] + intervalAfter(beats, k), chord);
    let norm = 0;
    for (let p = 0; p < 12; p++) norm += chord[p] * chord[p];
    norm = Math.sqrt(norm) || 1;
    for (let p = 0; p < 12; p++) out[k * 12 + p] = chord[p] / norm;
  }
  return out;
}

/** The frames of a stretch: those whose middle lies in it, one at least as long as there are any. */
function firstFrame({ frameRate, frames }: ChromaSums, from: number): number {
  return Math.min(frames, Math.max(0, Math.round(from * frameRate + 0.3)));
}

function lastFrame({ frameRate, frames }: ChromaSums, to: number, first: number): number {
  return Math.min(frames, Math.max(first + 1, Math.round(to * frameRate - 0.3)));
}

function meanOver(chroma: ChromaSums, from: number, to: number, out: Float64Array) {
  const first = firstFrame(chroma, from);
  const last = lastFrame(chroma, to, first);
  const { sums } = chroma;
  for (let p = 0; p < 12; p++) out[p] = last > first ? sums[last * 12 + p] - sums[first * 12 + p] : 0;
}
