import type { SampleEntry } from '@/contract/entry';
import { EMPTY_STATE } from '@/contract/settled';
import { renderPlanOf } from '@/core/recipes/renderPlan';
import { piecesOf } from './pieces';

const ONSETS = [0.5, 0.55, 1, 1.5, 2.5, 2.9].map((time) => ({ time, strength: time === 1.5 ? 2 : 9 }));

const entry = {
  summary: {
    ...{
      sampleId: '11111111-1111-4111-8111-111111111111',
      name: 'Parent.wav',
      sha256: 'a'.repeat(64),
      folder: '',
    },
    ...{ kind: 'loop', durationSeconds: 8.5, proof: null, bars: 4 },
  },
  settled: {
    ...EMPTY_STATE,
    grid: { tempoBpm: 120, one: 0.5, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null },
  },
  measurement: { onsets: ONSETS, durationSeconds: 8.5 },
  sequence: 1,
} as unknown as SampleEntry;

const framesOf = (recipe: ReturnType<typeof piecesOf>[number]) => {
  const { first, length } = renderPlanOf(recipe, Math.round(8.5 * 44_100), 44_100);
  return { from: first / 44_100, seconds: length / 44_100 };
};

test('at every two bars: loops that follow each other, numbered', () => {
  const pieces = piecesOf(
    entry,
    { at: 'bars', bars: 2, firstBar: 1, lastBar: 99 },
    {},
    '{name} {number} bar {bar}',
  );
  expect(pieces.map(({ name, kind }) => [name, kind])).toEqual([
    ['Parent 01 bar 1.wav', 'loop'],
    ['Parent 02 bar 3.wav', 'loop'],
  ]);
  expect(pieces.map(framesOf)).toEqual([
    { from: 0.5, seconds: 4 },
    { from: 4.5, seconds: 4 },
  ]);
});

test('at every hit that is strong enough and far enough from the last: one-shots until the next', () => {
  const asked = { at: 'hits', leastSeconds: 0.1, strength: 4, longestSeconds: 1 } as const;
  const pieces = piecesOf(entry, asked, {}, '{name} {number}');
  expect(pieces.every(({ kind }) => kind === 'oneshot')).toBe(true);
  expect(pieces.map(framesOf)).toEqual([
    { from: 0.5, seconds: 0.5 },
    { from: 1, seconds: 1 },
    { from: 2.5, seconds: expect.closeTo(0.4, 4) },
    { from: expect.closeTo(2.9, 4), seconds: 1 },
  ]);
});

test('each piece keeps the hits that it reads, not all of its parent’s', () => {
  const asked = { at: 'bars', bars: 1, firstBar: 1, lastBar: 4 } as const;
  const kept = piecesOf(entry, asked, {}, '{name} {number}').map(({ parent }) => parent.hits);
  expect(kept[0]).toEqual([0.5, 0.55, 1, 2.5, 2.9]);
  // Bar 4 begins at 6.5 s.
  expect(kept[3]).toEqual([]);
});

test('no piece at all is said', () => {
  const asked = { at: 'hits', leastSeconds: 0.1, strength: 99, longestSeconds: 1 } as const;
  expect(() => piecesOf(entry, asked, {}, '{name}')).toThrow('No slices');
});
