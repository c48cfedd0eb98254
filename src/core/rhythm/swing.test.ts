import { measureSwing } from './swing';

const BEATS = Array.from({ length: 17 }, (_, k) => 0.2 + k / 2);
const hitsAt = (places: readonly number[], strength = 4) =>
  BEATS.slice(0, -1)
    .flatMap((beat) => places.map((place) => ({ time: beat + place / 2, strength })))
    .sort((a, b) => a.time - b.time);

test.each([0.5, 0.55, 0.62, 0.667])('off-beats at %d of the beat', (place) => {
  expect(measureSwing(hitsAt([0, place]), BEATS)).toBeCloseTo(place, 3);
});

test('sixteenths beside the off-beat do not draw it', () => {
  expect(measureSwing(hitsAt([0, 0.25, 0.58, 0.8]), BEATS)).toBeCloseTo(0.58, 3);
});

test('stronger hits count for more than softer ones', () => {
  const mixed = [...hitsAt([0.6], 8), ...hitsAt([0.5], 3)].sort((a, b) => a.time - b.time);
  expect(measureSwing(mixed, BEATS)).toBeCloseTo(0.6, 3);
});

test('on a moving grid the place is a share of each beat', () => {
  const beats = [0];
  for (let k = 1; k < 20; k++) beats.push(beats[k - 1] + 0.4 + 0.01 * k);
  const onsets = beats.slice(0, -1).flatMap((beat, k) => [
    { time: beat, strength: 5 },
    { time: beat + 0.63 * (beats[k + 1] - beat), strength: 5 },
  ]);
  expect(measureSwing(onsets, beats)).toBeCloseTo(0.63, 3);
});

test('too few off-beats say nothing', () => {
  expect(measureSwing(hitsAt([0]), BEATS)).toBeNull();
  expect(measureSwing([...hitsAt([0]), { time: 0.45, strength: 9 }], BEATS)).toBeNull();
  expect(measureSwing([], BEATS)).toBeNull();
});

test('hits before the first and after the last beat are not looked at', () => {
  const outside = [0.05, 0.1, 0.15, 8.5, 8.6].map((time) => ({ time, strength: 9 }));
  expect(measureSwing(outside, BEATS)).toBeNull();
});
