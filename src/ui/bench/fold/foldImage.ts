import { beatTime, type Grid } from '@/core/rhythm/grid';
import { peakColumns, type PeakPyramid } from '@/core/signal/peaks';
import { BANDS, strengthOf, type Band, type BandStrength } from '@/core/traces/bandStrength';
import type { Inks } from '../../trace/useInks';
import { beatOfX, GAP_FROM, rowOfY, RULER, yOfRow, type FoldScale } from './foldScale';

/** Rows this tall give each band a lane of its own, high above low: the band is then told by its place. */
export const LANES_FROM = 30;

export type FoldDrawing = 'hits' | 'waveform';

export interface FoldPicture {
  grid: Grid;
  strength: BandStrength;
  peaks: PeakPyramid;
  drawing: FoldDrawing;
  bands: readonly Band[];
  gain: number;
}

/** Strength below this is floor, above that full ink. */
const FLOOR = 1.8;
const FULL = 13;
const INK = Float32Array.from(
  { length: 256 },
  (_, byte) => Math.max(0, Math.min(1, (strengthOf(byte) - FLOOR) / (FULL - FLOOR))) ** 0.7,
);

/** Levels of ink per band in a mixture of bands: more are not told apart. */
const LEVELS = 16;
const LEVEL = Uint8Array.from(INK, (ink) => (ink === 0 ? 0 : 1 + Math.floor(ink * (LEVELS - 1.001))));

/** Fills the picture of the visible rows: one pixel per column and line, opaque, on the paper's colour. */
export function foldImage(
  image: ImageData,
  scale: FoldScale,
  { grid, strength, peaks, drawing, bands, gain }: FoldPicture,
  inks: Inks,
) {
  const { width } = image;
  const paper = rgb(inks.sheet);
  const pixels = new Uint32Array(image.data.buffer);
  pixels.fill(packed(paper));
  const used = BANDS.map((band, b) => ({
    ink: rgb(inks[`band-${band}`]),
    b,
    on: bands.includes(band),
  })).filter(({ on }) => on);
  const trace = packed(rgb(inks.trace));
  const ramps = used.map(({ ink }) => ramp(paper, ink));
  const mixture = mixtures(
    paper,
    used.map(({ ink }) => ink),
  );
  const mixed = mixedSteps(strength, bands);
  const first = rowOfY(scale, RULER) ?? scale.rows.first;
  const steps = new Int32Array(width + 1);
  const values = used.map(() => new Uint8Array(width));
  for (let row = first; row <= scale.rows.last; row++) {
    const top = Math.round(yOfRow(scale, row) - RULER);
    const bottom = Math.round(yOfRow(scale, row + 1) - RULER) - (scale.rowHeight >= GAP_FROM ? 1 : 0);
    if (top >= image.height) break;
    if (drawing === 'waveform') {
      waveRow(pixels, image, { top, bottom }, columnTimes(grid, scale, row, width), peaks, gain, trace);
      continue;
    }
    columnSteps(grid, scale, row, strength.rate, steps);
    if (bottom - top < LANES_FROM && steps[width] - steps[0] <= width) {
      mixRow(pixels, image, { top, bottom }, steps, mixed, mixture);
      continue;
    }
    used.forEach(({ b }, k) => strongestIn(strength.bands[b], steps, values[k]));
    if (bottom - top >= LANES_FROM) {
      used.forEach((_, k) => {
        const from = bottom - ((k + 1) * (bottom - top)) / used.length;
        const to = bottom - (k * (bottom - top)) / used.length;
        barRow(pixels, image, from + 1, to, values[k], ramps[k]);
      });
    } else {
      const joined = Uint16Array.from({ length: width }, (_, c) => mixOf(values, c));
      mixRow(pixels, image, { top, bottom }, COUNTING.subarray(0, width + 1), joined, mixture);
    }
  }
}

/** Calls `stretch` for each run of columns within one beat, over which time runs evenly. */
function eachBeat(
  grid: Grid,
  scale: FoldScale,
  row: number,
  width: number,
  stretch: (from: number, to: number, time: number, perColumn: number) => void,
) {
  const begin = row * scale.rows.rowBeats;
  const beatAt = (c: number) => begin + beatOfX(scale, (c * scale.width) / width);
  const perColumn = beatAt(1) - beatAt(0);
  for (let c = 0; c <= width;) {
    const beat = beatAt(c);
    const whole = Math.floor(beat + 1e-9);
    const to = Math.min(width + 1, Math.max(c + 1, c + Math.ceil((whole + 1 - beat) / perColumn - 1e-9)));
    const time = beatTime(grid, whole);
    const seconds = beatTime(grid, whole + 1) - time;
    stretch(c, to, time + (beat - whole) * seconds, perColumn * seconds);
    c = to;
  }
}

/** Times of the edges of all columns of a row: width + 1 of them. */
function columnTimes(grid: Grid, scale: FoldScale, row: number, width: number): Float64Array {
  const times = new Float64Array(width + 1);
  eachBeat(grid, scale, row, width, (from, to, time, perColumn) => {
    for (let c = from; c < to; c++) times[c] = time + (c - from) * perColumn;
  });
  return times;
}

/** Steps of the strength at the edges of all columns of a row. */
function columnSteps(grid: Grid, scale: FoldScale, row: number, rate: number, out: Int32Array) {
  eachBeat(grid, scale, row, out.length - 1, (from, to, time, perColumn) => {
    const step = time * rate;
    const slope = perColumn * rate;
    for (let c = from; c < to; c++) out[c] = Math.floor(step + (c - from) * slope);
  });
}

/** For each column the largest byte among the steps that it touches; nothing outside the file. */
function strongestIn(band: Uint8Array, steps: Int32Array, out: Uint8Array) {
  const { length } = band;
  for (let c = 0; c < out.length; c++) {
    const first = steps[c];
    const last = steps[c + 1];
    if (first < 0 || first >= length) {
      out[c] = 0;
      continue;
    }
    let most = band[first];
    for (let i = first + 1; i < last && i < length; i++) if (band[i] > most) most = band[i];
    out[c] = most;
  }
}

/** Ticks that stand on the lower edge of a lane, tall and dark with their strength. */
function barRow(
  pixels: Uint32Array,
  { width, height }: ImageData,
  top: number,
  bottom: number,
  values: Uint8Array,
  colours: Uint32Array,
) {
  const lowest = Math.min(height, Math.round(bottom));
  for (let c = 0; c < width; c++) {
    const byte = values[c];
    const ink = INK[byte];
    if (ink <= 0) continue;
    const from = Math.max(0, Math.round(bottom - (0.25 + 0.75 * ink) * (bottom - top)));
    for (let y = from; y < lowest; y++) pixels[y * width + c] = colours[byte];
  }
}

/** All bands in one line of ink: for column c the mixture `mixed[steps[c]]`. */
function mixRow(
  pixels: Uint32Array,
  { width, height }: ImageData,
  { top, bottom }: { top: number; bottom: number },
  steps: Int32Array,
  mixed: Uint16Array,
  mixture: Uint32Array,
) {
  const from = Math.max(0, top);
  const to = Math.min(height, Math.max(bottom, top + 1));
  for (let c = 0; c < width; c++) {
    // Outside the file there is nothing, and most of a fold is paper.
    const at = mixed[steps[c]];
    if (!at) continue;
    const colour = mixture[at];
    for (let y = from; y < to; y++) pixels[y * width + c] = colour;
  }
}

const COUNTING = Int32Array.from({ length: 8192 }, (_, i) => i);
const known = new WeakMap<BandStrength, { bands: string; mixed: Uint16Array }>();

/** For each step of a strength its place among the mixtures of the chosen bands; made once per choice. */
function mixedSteps(strength: BandStrength, bands: readonly Band[]): Uint16Array {
  const chosen = bands.join();
  const before = known.get(strength);
  if (before?.bands === chosen) return before.mixed;
  const used = strength.bands.filter((_, b) => bands.includes(BANDS[b]));
  const mixed = new Uint16Array(strength.bands[0].length);
  for (let i = 0; i < mixed.length; i++) mixed[i] = mixOf(used, i);
  known.set(strength, { bands: chosen, mixed });
  return mixed;
}

function mixOf(values: readonly Uint8Array[], i: number): number {
  let at = 0;
  for (let k = values.length - 1; k >= 0; k--) at = at * LEVELS + LEVEL[values[k][i]];
  return at;
}

/** Colours of all mixtures of the inks in LEVELS steps each, the first ink's step fastest. */
function mixtures(paper: Rgb, inks: readonly Rgb[]): Uint32Array {
  return Uint32Array.from({ length: LEVELS ** inks.length }, (_, at) => {
    const colour: [number, number, number] = [...paper];
    // The last ink first: the low hits, which carry the bar, are printed over the others.
    for (let k = inks.length - 1; k >= 0; k--) {
      const level = Math.floor(at / LEVELS ** k) % LEVELS;
      const share = level / (LEVELS - 1);
      for (let i = 0; i < 3; i++) colour[i] += (inks[k][i] - colour[i]) * share;
    }
    return packed(colour);
  });
}

function waveRow(
  pixels: Uint32Array,
  { width, height }: ImageData,
  { top, bottom }: { top: number; bottom: number },
  times: Float64Array,
  peaks: PeakPyramid,
  gain: number,
  colour: number,
) {
  const middle = (top + bottom) / 2;
  const half = ((bottom - top) / 2) * gain;
  // The stretch of a row runs evenly but for moving grids, whose bends within a row are read piece by piece.
  const pieces = 8;
  for (let piece = 0; piece < pieces; piece++) {
    const a = Math.round((piece * width) / pieces);
    const b = Math.round(((piece + 1) * width) / pieces);
    if (b <= a) continue;
    const extremes = peakColumns(peaks, times[a], times[b], b - a);
    for (let c = a; c < b; c++) {
      const low = extremes[2 * (c - a)];
      if (Number.isNaN(low)) continue;
      const from = Math.max(0, Math.max(top, Math.round(middle - extremes[2 * (c - a) + 1] * half)));
      const to = Math.min(height, Math.min(bottom, Math.max(from + 1, Math.round(middle - low * half))));
      for (let y = from; y < to; y++) pixels[y * width + c] = colour;
    }
  }
}

type Rgb = readonly [number, number, number];

/** A colour of the style sheet, "#rrggbb". */
function rgb(hex: string): Rgb {
  const value = parseInt(hex.slice(1), 16);
  return [(value >> 16) & 255, (value >> 8) & 255, value & 255];
}

/** As the pixels of a little-endian machine have it. */
function packed([r, g, b]: Rgb): number {
  return (255 << 24) | (Math.round(b) << 16) | (Math.round(g) << 8) | Math.round(r);
}

function ramp(paper: Rgb, ink: Rgb): Uint32Array {
  return Uint32Array.from(INK, (a) => {
    const share = a === 0 ? 0 : 0.35 + 0.65 * a;
    return packed([0, 1, 2].map((i) => paper[i] + (ink[i] - paper[i]) * share) as unknown as Rgb);
  });
}
