import { TEMPO_BINS, tempoBin } from '@/contract/overview';
import {
  binAt,
  FASTEST,
  ghostsOf,
  placeOf,
  SLOWEST,
  tempoAt,
  windowBetween,
  windowOfBin,
} from './tempoWindow';

test('an octave is as wide everywhere, and a place leads back to its tempo', () => {
  expect(placeOf(80) - placeOf(40)).toBeCloseTo(placeOf(160) - placeOf(80), 10);
  for (const bpm of [41, 93, 120, 174, 233]) expect(tempoAt(placeOf(bpm))).toBe(bpm);
  expect(tempoAt(-1)).toBe(SLOWEST);
  expect(tempoAt(2)).toBe(Math.round(FASTEST));
});

test('a window is the same pulled to the left as to the right', () => {
  expect(windowBetween(placeOf(130), placeOf(95))).toEqual({ from: 95, to: 130 });
  expect(windowBetween(0.5, 0.5).to).toBe(windowBetween(0.5, 0.5).from);
});

test('the window of a bin holds the whole bin', () => {
  for (let bin = 0; bin < TEMPO_BINS.count; bin++) {
    const [from, to] = tempoBin(bin);
    const window = windowOfBin(bin);
    expect(window.from).toBeLessThanOrEqual(from);
    expect(window.to).toBeGreaterThanOrEqual(to);
    expect(window.to - window.from).toBeLessThan(to - from + 0.21);
    expect(binAt(placeOf((from + to) / 2))).toBe(bin);
  }
});

test('half and double are shown where they are on the picture', () => {
  expect(ghostsOf({ from: 90, to: 100 })).toEqual([
    { from: 45, to: 50 },
    { from: 180, to: 200 },
  ]);
  expect(ghostsOf({ from: 60, to: 70 })).toEqual([{ from: 120, to: 140 }]);
  expect(ghostsOf({ from: 150, to: 170 })).toEqual([{ from: 75, to: 85 }]);
});
