import type { Grid } from '@/core/rhythm/grid';
import { beatTime } from '@/core/rhythm/grid';
import { nothing } from '@/core/measurement/measure';
import { applyReading, settleReadings, withItsGrid } from './applyReading';
import type { StoredReading } from '@/contract/entry';
import { EMPTY_STATE } from '@/contract/settled';

const grid: Grid = { tempoBpm: 100, one: 0.5, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
const state = { ...EMPTY_STATE, grid };
const from = (source: string, rank = 0) => ({ source, rank });

test('a tempo keeps the one where it is', () => {
  const changed = applyReading(state, { property: 'tempo', value: 96, ...from('name') }, null);
  expect(changed.grid).toMatchObject({ tempoBpm: 96, one: 0.5, meter: grid.meter });
  expect(Object.keys(changed)).toEqual(['grid']);
});

test('without a grid a tempo makes one at the measured one', () => {
  const measured = { ...nothing(10), theOne: 1.25 };
  const tempo = { property: 'tempo', value: 120, ...from('name') } as const;
  expect(applyReading(EMPTY_STATE, tempo, measured).grid).toMatchObject({ tempoBpm: 120, one: 1.25 });
  expect(applyReading(EMPTY_STATE, tempo, null).grid).toMatchObject({ tempoBpm: 120, one: 0 });
});

test("the detector's moving tempo brings its beats back; anybody else's makes the grid steady", () => {
  const beats = [0.5, 1.1, 1.72, 2.3, 2.9];
  const measured = {
    ...nothing(4),
    beats,
    theOne: 0.5,
    tempo: { bpm: 100, sureness: 0.8, alternatives: [], steady: false, bpmError: null },
  };
  const own = applyReading(state, { property: 'tempo', value: 100, ...from('detector') }, measured);
  expect(own.grid!.movingBeats).toEqual(beats);
  expect(beatTime(own.grid!, 2)).toBeCloseTo(1.72, 9);
  const moving = { ...state, grid: own.grid! };
  const named = applyReading(moving, { property: 'tempo', value: 100, ...from('name') }, measured);
  expect(named.grid!.movingBeats).toBeNull();
  // Its second choice is only a number.
  const second = applyReading(moving, { property: 'tempo', value: 50, ...from('detector', 1) }, measured);
  expect(second.grid!.movingBeats).toBeNull();
});

test('the one and the time signature need a grid; key and tuning need none', () => {
  const one = { property: 'one', value: 2, ...from('hand') } as const;
  const meter = { property: 'meter', value: { beatsPerBar: 3, beatUnit: 4 }, ...from('hand') } as const;
  expect(applyReading(EMPTY_STATE, one, null)).toEqual({});
  expect(applyReading(EMPTY_STATE, meter, null)).toEqual({});
  expect(applyReading(state, one, null).grid).toMatchObject({ one: 2, tempoBpm: 100 });
  expect(applyReading(state, meter, null).grid!.meter.beatsPerBar).toBe(3);
  const key = { property: 'key', value: { tonic: 2, mode: 'minor' }, ...from('name') } as const;
  expect(applyReading(EMPTY_STATE, key, null)).toEqual({ key: { tonic: 2, mode: 'minor' } });
  expect(applyReading(EMPTY_STATE, { property: 'tuning', value: -12, ...from('detector') }, null)).toEqual({
    tuningCents: -12,
  });
});

describe('what a stem set says', () => {
  const stored = (readingId: string, reading: Pick<StoredReading, 'property' | 'value' | 'source'>) =>
    ({
      readingId,
      sureness: 1,
      detail: '',
      rank: 0,
      readAt: '',
      superseded: false,
      ...reading,
    }) as StoredReading;
  const tempo = stored('1', { property: 'tempo', value: 118, source: 'stem set' });
  const one = stored('2', { property: 'one', value: 0.25, source: 'stem set' });
  const meter = stored('3', {
    property: 'meter',
    value: { beatsPerBar: 3, beatUnit: 4 },
    source: 'stem set',
  });
  const named = stored('4', { property: 'tempo', value: 59, source: 'file name' });
  const early = { ...one, readingId: '5', superseded: true };
  const all = [named, tempo, early, one, meter];

  test('is taken as a whole grid', () => {
    expect(withItsGrid(tempo, all)).toEqual([tempo, one, meter]);
    expect(withItsGrid(named, all)).toEqual([named]);
    expect(withItsGrid(one, all)).toEqual([one]);
  });

  test.each([state, EMPTY_STATE])('is settled with where it came from', (before) => {
    const patch = settleReadings(before, withItsGrid(tempo, all), null);
    expect(patch.grid).toMatchObject({ tempoBpm: 118, one: 0.25, meter: { beatsPerBar: 3, beatUnit: 4 } });
    expect(patch.chosen).toEqual({ tempo: '1', one: '2', meter: '3' });
  });
});
