import { beatTime, type Grid } from '@/core/rhythm/grid';
import { peakColumns, type PeakPyramid } from '@/core/signal/peaks';
import { BANDS, type Band, type BandStrength } from '@/core/traces/bandStrength';
import type { Inks } from '../../trace/useInks';
import { INK, LEVEL, LEVELS, mixtures, packed, ramp, rgb } from './foldColours';
import { beatOfX, GAP_FROM, rowOfY, RULER, yOfRow, type FoldScale } from './foldScale';

/** Rows this tall give each band a lane of its own, high above low: the band is then told by its place. */
export const LANES_FROM = 30;

/** What repeats from bar to bar, all hits alike, or the waveform. */
export type FoldDrawing = 'repeats' | 'hits' | 'waveform';

export interface FoldPicture {
  grid: Grid;
  strength: BandStrength;
  peaks: PeakPyramid;
  drawing: FoldDrawing;
  bands: readonly Band[];
  gain: number;
}

/**
 * Fills the picture of the visible rows, opaque, on the paper's colour. The image has `density` pixels to a CSS
 * pixel of the scale; its upper left corner is that of the first row's place under the ruler.
 */
export function foldImage(
  image: ImageData,
  scale: FoldScale,
  { grid, strength, peaks, drawing, bands, gain }: FoldPicture,
  inks: Inks,
  density: number,
) {
  const { width } = image;
  const pixels = new Uint32Array(image.data.buffer);
  pixels.fill(packed(rgb(inks.sheet)));
  const used = BANDS.map((_, b) => b).filter((b) => bands.includes(BANDS[b]));
  const colours = coloursOf(strength, bands, inks);
  const first = rowOfY(scale, RULER) ?? scale.rows.first;
  const steps = new Int32Array(width + 1);
  const values = used.map(() => new Uint8Array(width));
  const y = (row: number) => Math.round((yOfRow(scale, row) - RULER) * density);
  for (let row = first; row <= scale.rows.last; row++) {
    const top = y(row);
    const bottom = y(row + 1) - (scale.rowHeight >= GAP_FROM ? Math.round(density) : 0);
    if (top >= image.height) break;
    if (drawing === 'waveform') {
      const times = columnTimes(grid, scale, row, width);
      waveRow(pixels, image, { top, bottom }, times, peaks, gain, colours.trace);
      continue;
    }
    const lanes = bottom - top >= LANES_FROM * density;
    if (!lanes && longestColumn(grid, scale, row, width) * strength.rate <= 1) {
      fineRow(pixels, image, { top, bottom }, grid, scale, row, strength.rate, colours.ofSteps);
      continue;
    }
    columnSteps(grid, scale, row, strength.rate, steps);
    used.forEach((b, k) => strongestIn(strength.bands[b], steps, values[k]));
    if (lanes) {
      used.forEach((_, k) => {
        const from = bottom - ((k + 1) * (bottom - top)) / used.length;
        const to = bottom - (k * (bottom - top)) / used.length;
        barRow(pixels, image, from + 1, to, values[k], colours.ramps[k]);
      });
    } else mixRow(pixels, image, { top, bottom }, values, colours.mixture);
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

/** Seconds of the longest column of a row. */
function longestColumn(grid: Grid, scale: FoldScale, row: number, width: number): number {
  let most = 0;
  eachBeat(grid, scale, row, width, (_from, _to, _time, perColumn) => (most = Math.max(most, perColumn)));
  return most;
}

/** A row whose columns are finer than the steps of the strength: each has the colour of the step it stands in. */
function fineRow(
  pixels: Uint32Array,
  { width, height }: ImageData,
  { top, bottom }: { top: number; bottom: number },
  grid: Grid,
  scale: FoldScale,
  row: number,
  rate: number,
  ofSteps: Uint32Array,
) {
  const from = Math.max(0, top);
  const to = Math.min(height, Math.max(bottom, top + 1));
  if (from >= to) return;
  const line = from * width;
  const last = ofSteps.length - 1;
  eachBeat(grid, scale, row, width, (begin, end, time, perColumn) => {
    const slope = perColumn * rate;
    // Outside the file there is only paper.
    const a = Math.max(begin, begin + Math.ceil((0 - time * rate) / slope));
    const b = Math.min(end, width, begin + Math.ceil((ofSteps.length - time * rate) / slope));
    for (let c = a, step = time * rate + (a - begin) * slope; c < b; c++, step += slope)
      pixels[line + c] = ofSteps[Math.min(last, step | 0)];
  });
  copyLine(pixels, width, from, to);
}

/** Makes lines `from + 1` … `to − 1` like line `from`. */
function copyLine(pixels: Uint32Array, width: number, from: number, to: number) {
  for (let y = from + 1; y < to; y++) pixels.copyWithin(y * width, from * width, (from + 1) * width);
}

/** All bands in one line of ink. */
function mixRow(
  pixels: Uint32Array,
  { width, height }: ImageData,
  { top, bottom }: { top: number; bottom: number },
  values: readonly Uint8Array[],
  mixture: Uint32Array,
) {
  const from = Math.max(0, top);
  const to = Math.min(height, Math.max(bottom, top + 1));
  if (from >= to) return;
  for (let c = 0; c < width; c++) pixels[from * width + c] = mixture[mixOf(values, c)];
  copyLine(pixels, width, from, to);
}

interface Colours {
  chosen: string;
  trace: number;
  /** Of each chosen band by its byte. */
  ramps: Uint32Array[];
  /** Of all chosen bands together, by `mixOf`. */
  mixture: Uint32Array;
  /** Of each step of the strength, all chosen bands together. */
  ofSteps: Uint32Array;
}

const known = new WeakMap<BandStrength, Colours>();

/** The colours of a strength with the chosen bands in the present inks; made once per choice. */
function coloursOf(strength: BandStrength, bands: readonly Band[], inks: Inks): Colours {
  const chosen = [...bands, inks.sheet, inks.trace, ...BANDS.map((band) => inks[`band-${band}`])].join();
  const before = known.get(strength);
  if (before?.chosen === chosen) return before;
  const paper = rgb(inks.sheet);
  const used = BANDS.filter((band) => bands.includes(band)).map((band) => rgb(inks[`band-${band}`]));
  const mixture = mixtures(paper, used);
  const values = strength.bands.filter((_, b) => bands.includes(BANDS[b]));
  const colours: Colours = {
    chosen,
    trace: packed(rgb(inks.trace)),
    ramps: used.map((ink) => ramp(paper, ink)),
    mixture,
    ofSteps: Uint32Array.from({ length: strength.bands[0].length }, (_, i) => mixture[mixOf(values, i)]),
  };
  known.set(strength, colours);
  return colours;
}

function mixOf(values: readonly Uint8Array[], i: number): number {
  let at = 0;
  for (let k = values.length - 1; k >= 0; k--) at = at * LEVELS + LEVEL[values[k][i]];
  return at;
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
