import { DEMO_LIBRARY } from '@/demo/library';
import { opening } from '../../../tests/support/bytes';
import { measureStream } from '../measurement/measureStream';
import type { Grid } from '../rhythm/grid';
import { planOfMeasurement } from '@/library/samples/aims';
import { beatsOf, timeStretchOf, heardAt, planOf, type Settled } from './plan';
import { proposalFor, type Target } from './proposal';
import { toResult } from './timeMap';

const GRID: Grid = {
  ...{ tempoBpm: 120, one: 0.25, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null },
};
const LOOP: Settled = {
  ...{
    kind: 'loop',
    durationSeconds: 8.3,
    grid: GRID,
    loop: null,
    hits: [0.1, 0.25, 0.75, 8.26],
    isVoice: false,
  },
};
const planAt = (sample: Settled, target: Partial<Target>) => {
  const full: Target = { tempoBpm: null, key: null, isTape: false, ...target };
  const { kind, grid } = sample;
  const facts = {
    kind,
    tempoBpm: grid?.tempoBpm ?? null,
    bars: null,
    beatsPerBar: null,
    key: null,
    tuningCents: null,
  };
  return planOf(sample, proposalFor({ ...facts, isUnpitched: false }, full), full);
};

test('a loop’s whole bars loop from its one, exactly as long as bars of the target are', () => {
  const plan = planAt(LOOP, { tempoBpm: 93 });
  expect(plan).toMatchObject({ from: 0.25, to: 8.25, loops: true, one: 0, pickup: 0, hits: [0, 0.5] });
  expect(plan.seconds).toBeCloseTo((16 * 60) / 93, 12);
  expect(beatsOf(plan)).toBeCloseTo(16, 9);
  expect(plan.grid).toMatchObject({ tempoBpm: 93, movingBeats: null });
});

test('a song is played through, and its pickup stands before its bar', () => {
  const plan = planAt({ ...LOOP, kind: 'song' }, { tempoBpm: 100 });
  expect(plan).toMatchObject({ from: 0, to: 8.3, loops: false });
  expect(plan.one).toBeCloseTo(0.3, 12);
  expect(plan.pickup).toBeCloseTo(0.3, 12);
  // A long silence before the one is no pickup: no more than a bar of it is heard.
  const late = planAt({ ...LOOP, kind: 'song', grid: { ...GRID, one: 5 } }, { tempoBpm: 120 });
  expect(late.pickup).toBeCloseTo(2, 12);
});

test('what drifts plays steadily at a tempo, beat for beat, and keeps its movement without one', () => {
  const movingBeats = [0.3, 0.84, 1.3, 1.86, 2.3, 2.9, 3.38, 3.9];
  const sample: Settled = { ...LOOP, kind: 'song', grid: { ...GRID, one: 0.3, movingBeats } };
  const steady = planAt(sample, { tempoBpm: 100 });
  movingBeats.forEach((time, i) =>
    expect(toResult(steady.map, time) - steady.one).toBeCloseTo((i * 60) / 100, 9),
  );
  expect(steady.grid?.movingBeats).toBeNull();
  planAt(sample, {}).grid!.movingBeats!.forEach((time, i) => expect(time).toBeCloseTo(movingBeats[i], 9));
});

test('half the speed: every other beat of the target is one of the sample', () => {
  const plan = planAt({ ...LOOP, grid: { ...GRID, tempoBpm: 164, one: 0 } }, { tempoBpm: 82 });
  expect(toResult(plan.map, 60 / 164)).toBeCloseTo(30 / 82, 12);
});

test('where nothing can be brought to a tempo it keeps its length', () => {
  const plan = planAt({ ...LOOP, kind: 'oneshot', grid: null }, { tempoBpm: 60 });
  expect(plan).toMatchObject({ seconds: 8.3, grid: null, loops: false });
  expect(beatsOf(plan)).toBeNull();
});

test('what is heard now is a place of the sample, also on later rounds', () => {
  const plan = planAt(LOOP, { tempoBpm: 100 });
  expect(heardAt(plan, 1.2)).toBeCloseTo(1.25, 12);
  expect(heardAt(plan, 1.2 + 3 * plan.seconds)).toBeCloseTo(1.25, 9);
  expect(heardAt(plan, -1.2)).toBeCloseTo(7.25, 9);
});

test('in frames the ends are whole, and everything between stands where it stood', () => {
  const { first, size, timeStretch } = timeStretchOf(planAt(LOOP, { tempoBpm: 93 }), 44_100);
  expect(first).toBe(Math.round(0.25 * 44_100));
  expect(size).toBe(8 * 44_100);
  expect(timeStretch.length).toBe(Math.round(((16 * 60) / 93) * 44_100));
  expect(timeStretch.map?.source.at(-1)).toBe(size);
  expect(timeStretch.map?.result.at(-1)).toBe(timeStretch.length);
  expect(timeStretch.attacks).toEqual([0, 22_050]);
});

test('what is only measured is planned like what is settled', async () => {
  const { bytes } = DEMO_LIBRARY.find(({ name }) => name.startsWith('Rope Walk'))!.make();
  const { measurement } = await measureStream(opening(bytes, 65_536));
  const plan = planOfMeasurement(measurement, {
    ...{ tempoBpm: 96, key: { tonic: 11, mode: 'minor' }, isTape: false },
  });
  // Four bars of 4/4 that begin after a little air; A minor becomes B minor.
  expect(plan).toMatchObject({ loops: true, semitones: expect.closeTo(2, 0) as number });
  expect(plan.from).toBeCloseTo(0.183, 2);
  expect(plan.seconds).toBeCloseTo(10, 6);
});
