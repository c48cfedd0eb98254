import { hannWindow, realFft } from '../signal/fft';
import { createHalfBand } from '../signal/halfBand';

/**
 * An acoustic print: one 32-bit word for each step of a recording, by which the same recording is known again
 * when it was trimmed, made louder or coded with loss. After Haitsma & Kalker, “A Highly Robust Audio
 * Fingerprinting System” (ISMIR 2002): a bit says whether the difference between two neighbouring bands grew.
 */
export interface Print {
  words: Uint32Array;
  /** The words by which like recordings are looked for: those whose bits are the least uncertain. */
  chosen: Uint32Array;
}

const SIZE = 2048;
/** Samples between words, at half of the rate that is pushed. */
const HOP = 64;
const BANDS = 33;
const LOWEST_HZ = 250;
const HIGHEST_HZ = 2300;
/** Steps whose power is this share of the loudest's are silence, whose bits are chance. */
const SILENT = 1e-4;
/** A chosen word is the surest within so many steps to both sides. */
const CHOICE_REACH = 5;

/** Steps a second for audio pushed at `sampleRate`. */
export function printRate(sampleRate: number): number {
  return sampleRate / 2 / HOP;
}

/** Builds the print of a mono mix that is pushed block by block at `sampleRate`, about 11 kHz. */
export function printBuilder(sampleRate: number) {
  const halving = createHalfBand();
  const fft = realFft(SIZE);
  const window = hannWindow(SIZE);
  const edges = Array.from({ length: BANDS + 1 }, (_, i) =>
    Math.round((LOWEST_HZ * (HIGHEST_HZ / LOWEST_HZ) ** (i / BANDS) * SIZE) / (sampleRate / 2)),
  );
  let held = new Float32Array(SIZE * 4);
  let filled = 0;
  let before = new Float64Array(BANDS);
  let bands = new Float64Array(BANDS);
  let begun = false;
  const words: number[] = [];
  const sure: number[] = [];
  const power: number[] = [];
  const take = (block: Float32Array) => {
    if (filled + block.length > held.length) {
      const larger = new Float32Array(filled + block.length + SIZE * 4);
      larger.set(held.subarray(0, filled));
      held = larger;
    }
    held.set(block, filled);
    filled += block.length;
    let at = 0;
    for (; at + SIZE <= filled; at += HOP) {
      const { input } = fft;
      for (let i = 0; i < SIZE; i++) input[i] = held[at + i] * window[i];
      const spectrum = fft.forward();
      bands.fill(0);
      let sum = 0;
      for (let b = 0; b < BANDS; b++) {
        const end = Math.max(edges[b] + 1, edges[b + 1]);
        let band = 0;
        for (let k = edges[b]; k < end; k++)
          band += spectrum[2 * k] * spectrum[2 * k] + spectrum[2 * k + 1] * spectrum[2 * k + 1];
        bands[b] = band;
        sum += band;
      }
      if (begun) {
        let word = 0;
        // The doubt of a word is that of its most uncertain bits: the fourth least margin.
        let [m0, m1, m2, m3] = [1, 1, 1, 1];
        for (let b = 0; b + 1 < BANDS; b++) {
          const grew = bands[b] - bands[b + 1] - (before[b] - before[b + 1]);
          if (grew > 0) word |= 1 << b;
          const scale = bands[b] + bands[b + 1] + before[b] + before[b + 1] + 1e-20;
          const margin = Math.abs(grew) / scale;
          if (margin < m0) [m0, m1, m2, m3] = [margin, m0, m1, m2];
          else if (margin < m1) [m1, m2, m3] = [margin, m1, m2];
          else if (margin < m2) [m2, m3] = [margin, m2];
          else if (margin < m3) m3 = margin;
        }
        words.push(word >>> 0);
        sure.push(m3);
        power.push(sum);
      }
      begun = true;
      [before, bands] = [bands, before];
    }
    held.copyWithin(0, at, filled);
    filled -= at;
  };
  return {
    push(mono: Float32Array) {
      take(halving.push(mono));
    },
    finish(): Print {
      take(halving.finish());
      let loudest = 0;
      for (const value of power) loudest = Math.max(loudest, value);
      const audible = power.map((value) => value > loudest * SILENT && value > 0);
      // Silent steps are noughts: they speak neither for nor against.
      const kept = Uint32Array.from(words, (word, i) => (audible[i] ? word : 0));
      const chosen = new Set<number>();
      for (let i = 0; i < sure.length; i++) {
        if (!audible[i] || kept[i] === 0) continue;
        let surest = true;
        for (let d = -CHOICE_REACH; d <= CHOICE_REACH && surest; d++)
          if (d !== 0 && (sure[i + d] ?? -1) > sure[i]) surest = false;
        if (surest) chosen.add(kept[i]);
      }
      return { words: kept, chosen: Uint32Array.from(chosen) };
    },
  };
}

/** How two prints meet. */
export interface PrintMatch {
  /** Where the second recording begins in the first, in steps; negative when it begins before it. */
  offset: number;
  /** Share of differing bits where either sounds: 0 for the same bits, 0.5 for strangers. */
  difference: number;
  /** Steps in which at least one sounds. */
  overlap: number;
}

/** Offsets that are tried, those with the most equal words first. */
const MOST_OFFSETS = 6;
/** Equal words that stand in more places than this say nothing of the offset. */
const TOO_COMMON = 40;

/** The best way to lay print `b` over print `a`, or null when they have no word in common. */
export function matchPrints(a: Uint32Array, b: Uint32Array): PrintMatch | null {
  const places = new Map<number, number[]>();
  a.forEach((word, i) => {
    if (word === 0) return;
    const list = places.get(word);
    if (list) list.push(i);
    else places.set(word, [i]);
  });
  const votes = new Map<number, number>();
  b.forEach((word, j) => {
    const list = word === 0 ? undefined : places.get(word);
    if (!list || list.length > TOO_COMMON) return;
    for (const i of list) votes.set(i - j, (votes.get(i - j) ?? 0) + 1);
  });
  const offsets = [...votes]
    .sort((x, y) => y[1] - x[1])
    .slice(0, MOST_OFFSETS)
    .flatMap(([offset]) => [offset - 1, offset, offset + 1]);
  let best: PrintMatch | null = null;
  for (const offset of new Set(offsets)) {
    let bits = 0;
    let overlap = 0;
    for (let j = Math.max(0, -offset); j < b.length && j + offset < a.length; j++) {
      const [left, right] = [a[j + offset], b[j]];
      if (left === 0 && right === 0) continue;
      overlap++;
      // Where only one sounds they differ as strangers do.
      bits += left === 0 || right === 0 ? 16 : bitCount(left ^ right);
    }
    if (overlap === 0) continue;
    const difference = bits / (32 * overlap);
    // A long overlap with few differences beats a short one with fewer.
    if (!best || overlap * (0.5 - difference) > best.overlap * (0.5 - best.difference))
      best = { offset, difference, overlap };
  }
  return best;
}

/** Strangers differ in half of their bits, loops of the same few sounds in a third; one recording in up to a fifth. */
const MOST_DIFFERENCE = 0.22;
/** The shorter one must lie within the other for this share of its sound, and for so many steps (1.2 s). */
const LEAST_SHARE = 0.8;
const LEAST_STEPS = 100;

/** Whether two prints are of one recording, however it was trimmed, with how they meet; null when they are not. */
export function sameRecording(a: Uint32Array, b: Uint32Array): PrintMatch | null {
  const match = matchPrints(a, b);
  if (!match || match.difference > MOST_DIFFERENCE || match.overlap < LEAST_STEPS) return null;
  const sounding = (words: Uint32Array) => words.reduce((count, word) => count + (word === 0 ? 0 : 1), 0);
  return match.overlap >= LEAST_SHARE * Math.min(sounding(a), sounding(b)) ? match : null;
}

function bitCount(word: number): number {
  let n = word - ((word >>> 1) & 0x55555555);
  n = (n & 0x33333333) + ((n >>> 2) & 0x33333333);
  return (((n + (n >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}
