import { EMPTY_STATE, type SettledState } from '@/contract/settled';
import { gridReadings, keyReadings, type SpeakingStem } from './setReadings';

const state: SettledState = {
  ...EMPTY_STATE,
  grid: { tempoBpm: 118, one: 0.5, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null },
  key: { tonic: 11, mode: 'minor' },
  tuningCents: -4,
};
const stem: SpeakingStem = { name: '1 Drums', state, measurement: null, chosen: { tempo: 0.9, key: 0.7 } };

test('a stem tells the others its grid and its key', () => {
  expect(gridReadings(stem)).toEqual([
    { property: 'tempo', value: 118, source: 'stem set', sureness: 0.9, detail: 'of “1 Drums”' },
    { property: 'one', value: 0.5, source: 'stem set', sureness: 0, detail: 'of “1 Drums”' },
    expect.objectContaining({ property: 'meter', value: { beatsPerBar: 4, beatUnit: 4 } }),
  ]);
  expect(keyReadings(stem)).toEqual([
    expect.objectContaining({ property: 'key', value: { tonic: 11, mode: 'minor' }, sureness: 0.7 }),
    expect.objectContaining({ property: 'tuning', value: -4 }),
  ]);
});

test('what a curator has accepted is sure', () => {
  const accepted = { ...stem, state: { ...state, accepted: true } };
  expect(gridReadings(accepted).map(({ sureness }) => sureness)).toEqual([1, 1, 1]);
});

test('a stem without grid or key tells nothing of it', () => {
  expect(gridReadings({ ...stem, state: { ...state, grid: null } })).toEqual([]);
  expect(keyReadings({ ...stem, state: { ...state, key: { none: true } } })).toEqual([]);
  expect(keyReadings({ ...stem, state: { ...state, key: null, tuningCents: null } })).toEqual([]);
});
