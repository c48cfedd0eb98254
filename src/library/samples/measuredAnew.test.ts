import type { Reading, ReadingValue } from '@/core/readings/reading';
import { doubtWords } from '@/words/doubts';
import { measuredAnew, worthKeeping } from './measuredAnew';

const FOUR = { beatsPerBar: 4, beatUnit: 4 };
/** A bar is two seconds. */
const settled = {
  grid: { tempoBpm: 120, one: 0.5, meter: FOUR, movingBeats: null },
  key: { tonic: 2, mode: 'minor' as const },
};
const newer = (value: ReadingValue, sureness = 0.9) =>
  ({ ...value, source: 'newer measurement', sureness, detail: '' }) as Reading;
const detector = (value: ReadingValue) => ({ ...newer(value), source: 'detector' }) as Reading;
const words = (readings: Reading[], of: Parameters<typeof measuredAnew>[1] = settled) =>
  measuredAnew(readings, of).map(doubtWords);

test('the same values are no news, in whichever bar the one was found', () => {
  expect(
    words([
      newer({ property: 'tempo', value: 120.3 }),
      newer({ property: 'one', value: 6.51 }),
      newer({ property: 'meter', value: FOUR }),
      newer({ property: 'key', value: { tonic: 2, mode: 'minor' } }),
    ]),
  ).toEqual([]);
});

test('another tempo, one, time signature or key is told with both and how sure it is', () => {
  const three = newer({ property: 'meter', value: { beatsPerBar: 3, beatUnit: 4 } });
  expect(
    words([newer({ property: 'tempo', value: 60 }), newer({ property: 'one', value: 1.5 }), three]),
  ).toEqual(['newer measurement: 60 BPM for 120, half (90 %)']);
  expect(words([newer({ property: 'one', value: 4.4 }, 0.5)])).toEqual([
    'newer measurement: the one 100 ms earlier (50 %)',
  ]);
  expect(words([three])).toEqual(['newer measurement: 3/4 (90 %)']);
  expect(words([newer({ property: 'key', value: { none: true } })])).toEqual([
    'newer measurement: no key for D minor (90 %)',
  ]);
  expect(words([newer({ property: 'tempo', value: 97 })], { grid: null, key: null })).toEqual([
    'newer measurement: 97 BPM (90 %)',
  ]);
});

test('only other sources’ disagreements are theirs', () => {
  expect(words([detector({ property: 'tempo', value: 60 })])).toEqual([]);
});

test('of what was measured the first choices that differ are kept; another tempo with its bars', () => {
  const found = [
    detector({ property: 'tempo', value: 60 }),
    detector({ property: 'tempo', value: 120 }),
    detector({ property: 'one', value: 0.5 }),
    detector({ property: 'meter', value: FOUR }),
    detector({ property: 'key', value: { tonic: 2, mode: 'minor' } }),
    detector({ property: 'tuning', value: 3 }),
  ];
  const kept = worthKeeping(found, settled);
  expect(kept.map(({ property, value, source }) => [property, value, source])).toEqual([
    ['tempo', 60, 'newer measurement'],
    ['one', 0.5, 'newer measurement'],
    ['meter', FOUR, 'newer measurement'],
  ]);
  expect(worthKeeping(found.slice(1), settled)).toEqual([]);
});
