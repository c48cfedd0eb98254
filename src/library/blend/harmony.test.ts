import { emptyBlend, newLane } from '@/contract/blend';
import {
  agreementOf,
  clashOf,
  harmonyOf,
  moved,
  movesOf,
  notesOf,
  sharedOf,
  type LaneHarmony,
} from './harmony';
import { keyChanges } from './keyChanges';
import type { LaneFacts } from './parts';
import { scoreOf } from './score';

/** Chroma of a triad as it is measured: three notes, and a little of all others. */
const triad = (root: number, mode: 'major' | 'minor') => {
  const chroma = new Float64Array(12).fill(0.02);
  for (const interval of [0, mode === 'major' ? 4 : 3, 7]) chroma[(root + interval) % 12] = 0.27;
  return chroma;
};
const notes = (root: number, mode: 'major' | 'minor') => notesOf(triad(root, mode));
const scale = (tonic: number) => {
  const chroma = new Float64Array(12).fill(0.01);
  for (const step of [0, 2, 4, 5, 7, 9, 11]) chroma[(tonic + step) % 12] = 0.135;
  return notesOf(chroma);
};

test('two of the same are as near as can be, a semitone apart as far', () => {
  expect(clashOf(notes(0, 'major'), notes(0, 'major'))).toBe(0);
  expect(sharedOf(notes(0, 'major'), notes(0, 'major'))).toBeCloseTo(1);
  expect(clashOf(notes(0, 'major'), notes(1, 'major'))).toBeGreaterThan(0.9);
});

test('known chords come in the order of the ear', () => {
  const c = notes(0, 'major');
  const figures = [
    clashOf(c, notes(9, 'minor')),
    clashOf(c, notes(7, 'major')),
    clashOf(c, notes(3, 'minor')),
    clashOf(c, notes(6, 'major')),
    clashOf(c, notes(1, 'major')),
  ];
  expect(figures[0]).toBe(0);
  expect([...figures].sort((a, b) => a - b)[0]).toBe(figures[0]);
  expect(figures[1]).toBeLessThan(figures[4]);
  expect(figures[2]).toBeGreaterThan(0.25);
});

test('a scale has two semitones of its own and does not clash with itself', () => {
  expect(clashOf(scale(0), scale(0))).toBeLessThan(0.05);
  expect(clashOf(scale(0), scale(7))).toBeLessThan(clashOf(scale(0), scale(1)));
});

const lane = (laneId: string, bars: Float64Array[]): LaneHarmony => ({
  ...{ laneId, bars, isSilent: false },
  whole: notesOf(
    bars
      .reduce((sum, one) => sum.map((value, i) => value + one[i]), new Float64Array(12))
      .map((value) => value + 1e-9),
  ),
});

test('a clash is told with its notes and its bars', () => {
  const a = lane('a', [notes(2, 'minor'), notes(2, 'minor'), notes(10, 'major'), notes(10, 'major')]);
  const b = lane('b', [notes(2, 'minor'), notes(5, 'major'), notes(7, 'major'), notes(7, 'major')]);
  const { clashes, bars, clash } = agreementOf([a, b], { tonic: 2, mode: 'minor' });
  expect(bars[0]).toBe(0);
  expect(bars[2]).toBeGreaterThan(0.25);
  expect(clash).toBeGreaterThan(0);
  expect(clashes[0]).toMatchObject({ lanes: ['a', 'b'], from: 3, to: 4, count: 2 });
  expect(clashes[0].notes).toEqual(['B♭', 'B']);
});

test('fewer than two with a pitch are not judged', () => {
  const silent = { ...lane('b', [notes(0, 'major')]), isSilent: true };
  expect(agreementOf([lane('a', [notes(0, 'major')]), silent], null)).toMatchObject({
    clash: null,
    shared: null,
    clashes: [],
  });
});

test.each([
  [3, -3],
  [10, 2],
  [5, -5],
])('a lane that is %i semitones too high is to be moved by %i first', (wrong, right) => {
  const bars = [notes(0, 'minor'), notes(8, 'major'), notes(3, 'major'), notes(10, 'major')];
  const others = [lane('a', bars)];
  const found = movesOf(
    lane(
      'b',
      bars.map((one) => moved(one, wrong)),
    ),
    others,
    0,
    1,
  );
  expect(found[0].semitones).toBe(right);
  expect(found[0].clash).toBe(0);
});

test('a change of key is found where it is', () => {
  const chords = (tonic: number) => [
    notes(tonic, 'major'),
    notes((tonic + 5) % 12, 'major'),
    notes((tonic + 7) % 12, 'major'),
    notes(tonic, 'major'),
  ];
  const bars = [...Array(4)].flatMap(() => chords(0)).concat([...Array(4)].flatMap(() => chords(2)));
  const found = keyChanges(lane('a', bars));
  expect(found).toHaveLength(1);
  expect(found[0].key).toEqual({ tonic: 2, mode: 'major' });
  expect(Math.abs(found[0].bar - 17)).toBeLessThanOrEqual(4);
  expect(keyChanges(lane('a', bars.slice(0, 16)))).toEqual([]);
});

test('chroma of a sample is read where it is heard, at its transposition', () => {
  const meter = { beatsPerBar: 4, beatUnit: 4 };
  const grid = { tempoBpm: 120, one: 0, meter, movingBeats: null };
  const facts: LaneFacts = {
    settled: { kind: 'loop', durationSeconds: 4, grid, loop: null, hits: [], isVoice: false },
    fittable: {
      ...{ kind: 'loop', tempoBpm: 120, bars: 2, beatsPerBar: 4, key: { tonic: 0, mode: 'major' } },
      ...{ tuningCents: 0, isUnpitched: false },
    },
  };
  const sampleId = '00000000-0000-4000-8000-000000000001';
  const one = newLane({ laneId: 'a', sampleId, name: 'a', times: 2, semitones: 2 });
  const score = scoreOf({ ...emptyBlend('x'), tempoBpm: 60, lanes: [one] }, new Map([[sampleId, facts]]));
  // A row a second: C in the first bar, F in the second.
  const rows = [0, 0, 5, 5].flatMap((root) => [...triad(root, 'major')]);
  const heard = harmonyOf({ ...score.lanes[0] }, score, { rate: 1, rows }, false);
  const loudest = (bar: Float64Array) => [...bar.keys()].filter((i) => bar[i] > 0.2);
  expect(score.lanes[0].bend.level).toBe(0.5);
  expect(heard.bars).toHaveLength(score.bars);
  const roots = heard.bars.map((bar) => loudest(bar).join());
  expect(roots[0]).toContain('2');
});
