import { nothing } from '@/core/measurement/measure';
import type { Measurement } from '@/core/measurement/schema';
import { judged } from './doubts';

const measured: Measurement = {
  ...nothing(8),
  kind: 'loop',
  tempo: { bpm: 120, sureness: 0.9, alternatives: [], steady: true, bpmError: 0 },
  downbeats: [0.5, 2.5, 4.5],
  key: { tonic: 'D', mode: 'minor', sureness: 0.9, alternatives: [] },
  meter: { beatsPerBar: 4, beatUnit: 4, sureness: 0.9 },
  loop: { start: 0.5, end: 6.5, bars: 3, sureness: 0.9 },
};
const truth = {
  ...{ id: 'x', file: 'x.wav', kind: 'loop', bpm: 120, downbeats: [0.5, 2.5, 4.5] },
  key: { tonic: 'D', mode: 'minor' as const },
  ...{ beatsPerBar: 4, beatUnit: 4, bars: 3 },
};

test('what agrees with the truth is right', () => {
  const all = { tempo: 'right', one: 'right', meter: 'right', bars: 'right', key: 'right', kind: 'right' };
  expect(judged(truth, measured)).toEqual(all);
});

test('another time signature and another count of bars are wrong; where nobody knows them nothing is said', () => {
  expect(judged({ ...truth, beatsPerBar: 3 }, measured).meter).toBe('wrong');
  expect(judged({ ...truth, bars: 6 }, measured).bars).toBe('wrong');
  expect(judged({ ...truth, beatsPerBar: null, bars: null }, measured)).toMatchObject({
    meter: null,
    bars: null,
  });
});

test('another level is wrong, and then nothing is said of the one; two defensible levels say nothing', () => {
  expect(judged({ ...truth, bpm: 60 }, measured)).toMatchObject({ tempo: 'wrong', one: null });
  expect(judged({ ...truth, bpm: 60, bpmAlt: [120] }, measured)).toMatchObject({ tempo: 'right' });
  expect(judged({ ...truth, bpm: 60, tempoAmbiguous: true }, measured)).toMatchObject({
    tempo: null,
    one: null,
  });
});

test('another beat for the one, another key, a key for drums and another kind are wrong', () => {
  expect(judged({ ...truth, downbeats: [1, 3, 5] }, measured).one).toBe('wrong');
  expect(judged({ ...truth, key: { tonic: 'F', mode: 'major' } }, measured).key).toBe('wrong');
  expect(judged({ ...truth, key: null }, measured).key).toBe('wrong');
  expect(judged({ ...truth, key: null, keyUnknown: true }, measured).key).toBeNull();
  expect(judged(truth, { ...measured, kind: 'oneshot' }).kind).toBe('wrong');
});
