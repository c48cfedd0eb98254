import { beatOfX, foldScale, GUTTER, RULER, rowOfY, xOfBeat, yOfRow } from './foldScale';

const rows = { rowBeats: 4, first: -1, last: 30 };
const panel = { width: 900, height: 500 };

test('all rows fit when no height is wanted, and nothing is scrolled', () => {
  const scale = foldScale(rows, panel, null, 400);
  expect(scale.rowHeight * 32).toBeCloseTo(scale.height, 6);
  expect(scale.scroll).toBe(0);
  expect(scale.width).toBeLessThan(panel.width - GUTTER);
});

test('tall rows scroll as far as the last one and no further', () => {
  const scale = foldScale(rows, panel, 60, 1e6);
  expect(scale.rowHeight).toBe(60);
  expect(yOfRow(scale, rows.last) + 60).toBeCloseTo(RULER + scale.height, 6);
  expect(foldScale(rows, panel, 60, -50).scroll).toBe(0);
});

test('few rows are no taller than a hand is wide, many no thinner than a pixel', () => {
  expect(foldScale({ ...rows, first: 0, last: 0 }, panel, null, 0).rowHeight).toBeLessThanOrEqual(110);
  expect(foldScale({ ...rows, last: 3000 }, panel, null, 0).rowHeight).toBe(1);
});

test('places and pixels are each other’s inverse, and a row begins a little inside the picture', () => {
  const scale = foldScale(rows, panel, 40, 100);
  for (const beat of [-0.1, 0, 1.37, 4]) expect(beatOfX(scale, xOfBeat(scale, beat))).toBeCloseTo(beat, 9);
  expect(xOfBeat(scale, 0)).toBeGreaterThan(0);
  expect(xOfBeat(scale, 4)).toBeLessThan(scale.width);
  for (const row of [2, 7, 13]) expect(rowOfY(scale, yOfRow(scale, row) + 20)).toBe(row);
  // The ruler covers rows that are scrolled away; below the last there is none.
  expect(rowOfY(scale, RULER - 1)).toBeNull();
  expect(rowOfY(foldScale(rows, { width: 900, height: 3000 }, null, 0), 2999)).not.toBe(31);
});
