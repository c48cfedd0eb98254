import { growingArray } from './growingArray';

/** One level of the pyramid: extremes of the mono mix over bins of `binFrames` sample frames. */
export interface PeakLevel {
  binFrames: number;
  min: Float32Array;
  max: Float32Array;
}

/** Waveform extremes at rising coarseness, finest first. The last bin of a level may be shorter. */
export interface PeakPyramid {
  sampleRate: number;
  frames: number;
  levels: PeakLevel[];
}

const FINEST_BIN = 128;
const LEVEL_FACTOR = 4;

/** Builds the finest level while blocks of samples arrive; `finish` derives the others. */
export function peakBuilder(sampleRate: number) {
  const min = growingArray();
  const max = growingArray();
  let frames = 0;
  let low = Infinity;
  let high = -Infinity;
  let filled = 0;
  const one = new Float32Array(1);
  const flush = () => {
    one[0] = low;
    min.append(one);
    one[0] = high;
    max.append(one);
    low = Infinity;
    high = -Infinity;
    filled = 0;
  };
  return {
    push(channels: readonly Float32Array[]) {
      const count = channels[0]?.length ?? 0;
      for (let i = 0; i < count; i++) {
        let value = 0;
        for (const channel of channels) value += channel[i];
        value /= channels.length;
        if (value < low) low = value;
        if (value > high) high = value;
        if (++filled === FINEST_BIN) flush();
      }
      frames += count;
    },
    finish(): PeakPyramid {
      if (filled > 0) flush();
      const finest = { binFrames: FINEST_BIN, min: min.view().slice(), max: max.view().slice() };
      return { sampleRate, frames, levels: peakLevels(finest) };
    },
  };
}

/** The levels of a pyramid over its finest one. */
export function peakLevels(finest: PeakLevel): PeakLevel[] {
  const levels = [finest];
  while (levels[levels.length - 1].min.length > 256) levels.push(coarser(levels[levels.length - 1]));
  return levels;
}

/** Extremes over `factor` bins of a level each. */
export function coarser(fine: PeakLevel, factor = LEVEL_FACTOR): PeakLevel {
  const bins = Math.ceil(fine.min.length / factor);
  const min = new Float32Array(bins).fill(Infinity);
  const max = new Float32Array(bins).fill(-Infinity);
  for (let i = 0; i < fine.min.length; i++) {
    const bin = Math.floor(i / factor);
    min[bin] = Math.min(min[bin], fine.min[i]);
    max[bin] = Math.max(max[bin], fine.max[i]);
  }
  return { binFrames: fine.binFrames * factor, min, max };
}

/** The pyramid of a whole recording. */
export function peakPyramid(channels: readonly Float32Array[], sampleRate: number): PeakPyramid {
  const builder = peakBuilder(sampleRate);
  builder.push(channels);
  return builder.finish();
}

/**
 * Extremes for `columns` equal columns between two times, from the coarsest level that is still fine
 * enough. Columns outside the recording are NaN. Returns interleaved [min, max, min, max, …].
 */
export function peakColumns(pyramid: PeakPyramid, from: number, to: number, columns: number): Float32Array {
  if (!(to > from) || columns < 1)
    throw new RangeError('peakColumns needs a stretch and at least one column');
  const framesPerColumn = ((to - from) * pyramid.sampleRate) / columns;
  let level = pyramid.levels[0];
  for (const next of pyramid.levels) if (next.binFrames <= framesPerColumn) level = next;
  const out = new Float32Array(columns * 2);
  for (let c = 0; c < columns; c++) {
    const start = (from * pyramid.sampleRate + c * framesPerColumn) / level.binFrames;
    const end = start + framesPerColumn / level.binFrames;
    let low = Infinity;
    let high = -Infinity;
    const last = Math.min(level.min.length, Math.max(Math.ceil(end), Math.floor(start) + 1));
    for (let bin = Math.max(0, Math.floor(start)); bin < last; bin++) {
      if (level.min[bin] < low) low = level.min[bin];
      if (level.max[bin] > high) high = level.max[bin];
    }
    out[2 * c] = low === Infinity ? NaN : low;
    out[2 * c + 1] = low === Infinity ? NaN : high;
  }
  return out;
}
