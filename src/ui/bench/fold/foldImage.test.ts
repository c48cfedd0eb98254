import { foldRows } from '@/core/rhythm/fold';
import { beatTime, type Grid } from '@/core/rhythm/grid';
import { peakBuilder } from '@/core/signal/peaks';
import { BANDS, type Band, type BandStrength } from '@/core/traces/bandStrength';
import type { Inks } from '../../trace/useInks';
import { foldImage, LANES_FROM, type FoldPicture } from './foldImage';
import { DRIFT_WIDTH, foldScale, GUTTER, RULER, rowOfY, xOfBeat, yOfRow } from './foldScale';

const RATE = 200;
const SECONDS = 16;
const INKS = {
  sheet: '#ffffff',
  trace: '#102030',
  'band-low': '#aa0000',
  'band-middle': '#00aa00',
  'band-high': '#0000aa',
} as unknown as Inks;
const grid = (patch: Partial<Grid> = {}): Grid => ({
  tempoBpm: 120,
  one: 0,
  meter: { beatsPerBar: 4, beatUnit: 4 },
  movingBeats: null,
  ...patch,
});

/** Hits of full strength in one band. */
function hitsAt(times: readonly number[], band: Band = 'low'): BandStrength {
  const bands = BANDS.map(() => new Uint8Array(SECONDS * RATE));
  for (const time of times) bands[BANDS.indexOf(band)][Math.floor(time * RATE + 1e-6)] = 255;
  return { rate: RATE, bands };
}

const everyBeat = (bpm: number, from = 0) =>
  Array.from({ length: Math.ceil(((SECONDS - from) * bpm) / 60) }, (_, k) => from + (k * 60) / bpm);

function silentPeaks(sample: (i: number) => number = () => 0) {
  const builder = peakBuilder(8000);
  builder.push([Float32Array.from({ length: SECONDS * 8000 }, (_, i) => sample(i))]);
  return builder.finish();
}

/** Draws the fold by bars into a panel, and tells which columns of a row have ink. */
function draw(picture: Partial<FoldPicture> & { grid: Grid; strength: BandStrength }, tall = 20) {
  const rows = foldRows(picture.grid, 4, SECONDS);
  // Just as high as its rows.
  const height = RULER + tall * (rows.last - rows.first + 1);
  const scale = foldScale(rows, { width: 1100 + GUTTER + DRIFT_WIDTH, height }, tall, 0);
  const width = Math.round(scale.width);
  const image = {
    width,
    height: height - RULER,
    data: new Uint8ClampedArray(4 * width * (height - RULER)),
    colorSpace: 'srgb',
  };
  foldImage(
    image as unknown as ImageData,
    scale,
    { peaks: silentPeaks(), drawing: 'hits', bands: BANDS, gain: 1, ...picture },
    INKS,
    1,
  );
  const colour = (x: number, y: number) => [
    ...image.data.subarray(4 * (y * width + x), 4 * (y * width + x) + 3),
  ];
  const inkIn = (row: number, share = 0.5) => {
    const y = Math.round(yOfRow(scale, row) - RULER + share * scale.rowHeight);
    return Array.from({ length: width }, (_, x) => x).filter((x) =>
      colour(x, y).some((value) => value < 250),
    );
  };
  return { scale, image, colour, inkIn };
}

/** Middles of the runs of neighbouring columns. */
function middles(columns: readonly number[]): number[] {
  const runs: number[][] = [];
  for (const x of columns) {
    const run = runs[runs.length - 1];
    if (run && x - run[run.length - 1] <= 2) run.push(x);
    else runs.push([x]);
  }
  return runs.map((run) => (run[0] + run[run.length - 1]) / 2);
}

test('hits on the beats of a fitting grid stand straight under each other', () => {
  const { inkIn, scale } = draw({ grid: grid(), strength: hitsAt(everyBeat(120)) });
  for (const row of [1, 3, 6]) {
    const found = middles(inkIn(row));
    // The first beat of the next row is shown again beyond the end of this one.
    const wanted = [0, 1, 2, 3, 4].map((beat) => xOfBeat(scale, beat));
    expect(found).toHaveLength(wanted.length);
    found.forEach((x, i) => expect(Math.abs(x - wanted[i])).toBeLessThan(4));
  }
});

test('with a tempo that is too slow by a hundredth they walk to the left, row by row', () => {
  const { inkIn, scale } = draw({ grid: grid({ tempoBpm: 118.8 }), strength: hitsAt(everyBeat(120)) });
  const second = (row: number) => {
    const near = middles(inkIn(row)).filter((x) => Math.abs(x - xOfBeat(scale, 2)) < 60);
    expect(near).toHaveLength(1);
    return near[0];
  };
  const perBeat = xOfBeat(scale, 1) - xOfBeat(scale, 0);
  // Four beats a row, each a hundredth of a beat early.
  expect((second(5) - second(1)) / 4).toBeCloseTo(-0.04 * perBeat, -0.5);
});

test('a moving grid straightens what its player does', () => {
  const beats = [0];
  while (beats[beats.length - 1] < SECONDS) beats.push(beats[beats.length - 1] + 0.45 + 0.004 * beats.length);
  const moving = grid({ movingBeats: beats, tempoBpm: 100 });
  const { inkIn, scale } = draw({ grid: moving, strength: hitsAt(beats.slice(0, -1)) });
  for (const row of [0, 2, 4])
    for (const beat of [1, 2, 3]) {
      expect(beatTime(moving, 4 * row + beat)).toBeLessThan(SECONDS);
      expect(inkIn(row).some((x) => Math.abs(x - xOfBeat(scale, beat)) < 4)).toBe(true);
    }
});

test('each band has its ink, and only chosen bands are drawn', () => {
  const strength = hitsAt([2.5], 'high');
  const all = draw({ grid: grid(), strength });
  const x = middles(all.inkIn(1))[0];
  expect(all.colour(Math.round(x), Math.round(1.5 * all.scale.rowHeight))).toEqual([0, 0, 0xaa]);
  expect(draw({ grid: grid(), strength, bands: ['low', 'middle'] }).inkIn(1)).toEqual([]);
});

test('tall rows give each band a lane of its own, high above low', () => {
  const low = draw({ grid: grid(), strength: hitsAt([2.5], 'low') }, 2 * LANES_FROM);
  expect(low.inkIn(1, 0.85)).not.toEqual([]);
  expect(low.inkIn(1, 0.5)).toEqual([]);
  const high = draw({ grid: grid(), strength: hitsAt([2.5], 'high') }, 2 * LANES_FROM);
  expect(high.inkIn(1, 0.25)).not.toEqual([]);
  expect(high.inkIn(1, 0.85)).toEqual([]);
});

test('outside the file there is only paper', () => {
  const noisy: BandStrength = {
    rate: RATE,
    bands: BANDS.map(() => new Uint8Array(SECONDS * RATE).fill(255)),
  };
  const { inkIn, scale } = draw({ grid: grid({ one: 1 }), strength: noisy });
  const pickup = inkIn(-1);
  // The file begins half-way through the row before the one: one second, two beats.
  expect(pickup[0]).toBeGreaterThan(xOfBeat(scale, 2) - 4);
  expect(Math.abs(pickup[0] - xOfBeat(scale, 2))).toBeLessThan(4);
});

test('as a waveform a row shows the extremes of its time', () => {
  const peaks = silentPeaks((i) =>
    i / 8000 >= 2 && i / 8000 < 4 && i % 8 < 4 ? 0.9 : i / 8000 >= 2 && i / 8000 < 4 ? -0.9 : 0,
  );
  const { inkIn } = draw({ grid: grid(), strength: hitsAt([]), peaks, drawing: 'waveform' }, 40);
  // Row 1 is the second bar, two to four seconds: loud from edge to edge.
  expect(inkIn(1, 0.2).length).toBeGreaterThan(900);
  expect(inkIn(3, 0.2)).toEqual([]);
  // Silence is a line.
  expect(inkIn(3, 0.5).length).toBeGreaterThan(900);
});

describe('the scale of the fold', () => {
  const rows = foldRows(grid(), 4, SECONDS);
  const panel = { width: 1000, height: 400 };

  test('a place of a row is found again from its x, also a little before and after the row', () => {
    const scale = foldScale(rows, panel, null, 0);
    for (const beat of [-0.1, 0, 1.25, 4, 4.1])
      expect((xOfBeat(scale, beat) / scale.width) * 1.07 - 0.035).toBeCloseTo(beat / 4, 9);
    expect(xOfBeat(scale, 0)).toBeGreaterThan(0);
    expect(xOfBeat(scale, 4)).toBeLessThan(scale.width);
  });

  test('all rows fit unless taller ones are wanted, which then scroll to the last and no further', () => {
    const whole = foldScale(rows, panel, null, 500);
    expect(whole.scroll).toBe(0);
    expect(yOfRow(whole, rows.last) + whole.rowHeight).toBeLessThanOrEqual(panel.height + 1e-9);
    const tall = foldScale(rows, panel, 90, 1e6);
    expect(tall.rowHeight).toBe(90);
    expect(yOfRow(tall, rows.last) + 90).toBeCloseTo(RULER + tall.height, 6);
  });

  test('the row under a y', () => {
    const scale = foldScale(rows, panel, null, 0);
    for (const row of [rows.first, 3, rows.last]) {
      expect(rowOfY(scale, yOfRow(scale, row) + 1)).toBe(row);
      expect(rowOfY(scale, yOfRow(scale, row) + scale.rowHeight - 1)).toBe(row);
    }
    expect(rowOfY(scale, RULER - 1)).toBeNull();
    expect(rowOfY(scale, yOfRow(scale, rows.last + 1) + 2)).toBeNull();
  });
});
