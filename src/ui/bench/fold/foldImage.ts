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
  const trace = rgb(inks.trace);
  const ramps = used.map(({ ink }) => ramp(paper, ink));
  const first = rowOfY(scale, RULER) ?? scale.rows.first;
  const column = { low: new Float32Array(width), values: used.map(() => new Uint8Array(width)) };
  for (let row = first; row <= scale.rows.last; row++) {
    const top = Math.round(yOfRow(scale, row) - RULER);
    const bottom = Math.round(yOfRow(scale, row + 1) - RULER) - (scale.rowHeight >= GAP_FROM ? 1 : 0);
    if (top >= image.height) break;
    const times = columnTimes(grid, scale, row, width);
    if (drawing === 'waveform') {
      waveRow(pixels, image, { top, bottom }, times, peaks, gain, packed(trace));
      continue;
    }
    used.forEach(({ b }, k) => strongestIn(strength.bands[b], strength.rate, times, column.values[k]));
    if (bottom - top >= LANES_FROM && used.length > 1) {
      used.forEach((_, k) => {
        const from = bottom - ((k + 1) * (bottom - top)) / used.length;
        const to = bottom - (k * (bottom - top)) / used.length;
        barRow(pixels, image, from + 1, to, column.values[k], ramps[k]);
      });
    } else if (bottom - top >= LANES_FROM) barRow(pixels, image, top + 1, bottom, column.values[0], ramps[0]);
    else
      mixRow(
        pixels,
        image,
        { top, bottom },
        column.values,
        used.map(({ ink }) => ink),
        paper,
      );
  }
}

/** Times of the edges of all columns of a row: width + 1 of them. Within a beat time runs evenly. */
function columnTimes(grid: Grid, scale: FoldScale, row: number, width: number): Float64Array {
  const times = new Float64Array(width + 1);
  const begin = row * scale.rows.rowBeats;
  let whole = NaN;
  let at = 0;
  let next = 0;
  for (let c = 0; c <= width; c++) {
    const beat = begin + beatOfX(scale, (c * scale.width) / width);
    const floor = Math.floor(beat);
    if (floor !== whole) {
      whole = floor;
      at = beatTime(grid, floor);
      next = beatTime(grid, floor + 1);
    }
    times[c] = at + (beat - floor) * (next - at);
  }
  return times;
}

/** For each column the largest byte among the steps that it touches. */
function strongestIn(band: Uint8Array, rate: number, times: Float64Array, out: Uint8Array) {
  for (let c = 0; c < out.length; c++) {
    const first = Math.max(0, Math.floor(times[c] * rate));
    const last = Math.min(band.length, Math.max(first + 1, Math.floor(times[c + 1] * rate)));
    let most = 0;
    for (let i = first; i < last; i++) if (band[i] > most) most = band[i];
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

/** All bands in one line of ink: what is stronger covers more. */
function mixRow(
  pixels: Uint32Array,
  { width, height }: ImageData,
  { top, bottom }: { top: number; bottom: number },
  values: readonly Uint8Array[],
  inks: readonly Rgb[],
  paper: Rgb,
) {
  const from = Math.max(0, top);
  const to = Math.min(height, Math.max(bottom, top + 1));
  for (let c = 0; c < width; c++) {
    let [r, g, b] = paper;
    // High first: the low hits, which carry the bar, are printed over it.
    for (let k = values.length - 1; k >= 0; k--) {
      const a = INK[values[k][c]];
      if (a === 0) continue;
      const ink = inks[k];
      r += (ink[0] - r) * a;
      g += (ink[1] - g) * a;
      b += (ink[2] - b) * a;
    }
    const value = packed([r, g, b]);
    for (let y = from; y < to; y++) pixels[y * width + c] = value;
  }
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
