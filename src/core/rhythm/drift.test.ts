import { randomFrom } from '@/demo/random';
import { deviations, driftFigures, heardBesideMs, judgeGrid, proofPlaces } from './drift';
import { steadyAt, type Grid } from './grid';

const grid: Grid = { tempoBpm: 100, one: 0.2, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };

/** Hits of a player at 100 BPM, `offMs` beside the grid, loose by ±`looseMs`. */
function hits(beats: number, offMs: number, looseMs: number, bpm = 100) {
  const random = randomFrom(beats + looseMs);
  return Array.from({ length: beats }, (_, k) => ({
    time: 0.2 + (k * 60) / bpm + offMs / 1000 + ((random() * 2 - 1) * looseMs) / 1000,
    strength: 5,
  }));
}

test('hits that lie on the grid are called fitting', () => {
  const figures = driftFigures(deviations(hits(64, 0, 4), grid, 40), grid);
  expect(figures.hits).toBe(64);
  expect(Math.abs(figures.medianMs!)).toBeLessThan(1.5);
  expect(judgeGrid(figures, 16)).toBe('fits');
});

test('a late one shows as the same distance everywhere', () => {
  const figures = driftFigures(deviations(hits(64, 35, 3), grid, 40), grid);
  expect(figures.medianMs).toBeCloseTo(35, -0.5);
  expect(judgeGrid(figures, 16)).toBe('place');
});

test('a tempo that is off by 0.1 BPM shows as a slope and is measured to a hundredth', () => {
  const figures = driftFigures(deviations(hits(64, 0, 2, 100.1), grid, 40), grid);
  expect(figures.tempoErrorBpm).toBeCloseTo(0.1, 1.7);
  expect(judgeGrid(figures, 16)).toBe('tempo');
  const level = driftFigures(
    deviations(hits(64, 0, 2, 100.1), steadyAt(grid, 100.1), 40),
    steadyAt(grid, 100.1),
  );
  expect(judgeGrid(level, 16)).toBe('fits');
});

test('a loose player is called loose, and a few stray hits do not tilt the line', () => {
  expect(judgeGrid(driftFigures(deviations(hits(80, 0, 55), grid, 60), grid), 20)).toBe('loose');
  const stray = hits(64, 0, 2).map((hit, k) => (k % 9 === 4 ? { ...hit, time: hit.time + 0.05 } : hit));
  const figures = driftFigures(deviations(stray, grid, 40), grid);
  expect(Math.abs(figures.slopeMsPerBar!)).toBeLessThan(0.1);
});

test('two hits are too few to judge', () => {
  expect(judgeGrid(driftFigures(deviations(hits(2, 0, 0), grid, 10), grid), 2)).toBe('unknown');
});

test('a proof listens at the beginning, the middle and the end of where hits are', () => {
  // The first 12 beats are an intro without hits.
  const late = hits(100, 0, 0).slice(12);
  const places = proofPlaces(late, grid, 62);
  expect(places.map(({ label }) => label)).toEqual(['beginning', 'middle', 'end']);
  expect(places[0].from).toBeCloseTo(late[0].time - 0.05, 3);
  expect(places[2].to).toBeGreaterThan(late[late.length - 1].time);
  for (const place of places) {
    expect(place.hits).toBeGreaterThanOrEqual(8);
    expect(place.medianMs).toBeCloseTo(0, 6);
  }
});

test('a player who wanders around one tempo is called moving, not leaning', () => {
  const wandering = hits(96, 0, 3).map((hit, k) => ({
    ...hit,
    time: hit.time + 0.03 * Math.sin((2 * Math.PI * k) / 96),
  }));
  const figures = driftFigures(deviations(wandering, grid, 60), grid);
  expect(figures.wanderMs).toBeGreaterThan(30);
  expect(['moving', 'tempo']).toContain(judgeGrid(figures, 24));
  const there = hits(96, 0, 3).map((hit, k) => ({
    ...hit,
    time: hit.time + 0.03 * Math.cos((4 * Math.PI * k) / 96),
  }));
  expect(judgeGrid(driftFigures(deviations(there, grid, 60), grid), 24)).toBe('moving');
});

test('single hits beside the line are counted and change nothing else', () => {
  const some = hits(64, 0, 3).map((hit, k) => ({
    ...hit,
    time: hit.time + (k === 20 || k === 41 ? 0.045 : 0),
  }));
  const figures = driftFigures(deviations(some, grid, 40), grid);
  expect(figures.strays).toBe(2);
  expect(judgeGrid(figures, 16)).toBe('fits');
});

test('long files and moving grids have more places than three', () => {
  const long = hits(400, 0, 3);
  expect(proofPlaces(long, grid, 241)).toHaveLength(5);
  const movingBeats = Array.from({ length: 401 }, (_, k) => 0.2 + k * 0.6);
  expect(proofPlaces(long, { ...grid, movingBeats }, 241)).toHaveLength(7);
});

test('hits that come up slowly are allowed some lateness, but never so much that any place would fit', () => {
  const late = (ms: number) => driftFigures(deviations(hits(64, ms, 2), grid, 40), grid);
  expect(judgeGrid(late(20), 16)).toBe('place');
  expect(judgeGrid(late(20), 16, 15)).toBe('fits');
  expect(judgeGrid(late(40), 16, 15)).toBe('place');
  expect(judgeGrid(late(40), 16, 150)).toBe('place');
  expect(heardBesideMs(0)).toBe(12);
  expect(heardBesideMs(150)).toBe(heardBesideMs(20));
});
