import { AS_RECORDED, PlainReader, Voice } from './voice';

const counting = Float32Array.from({ length: 1000 }, (_, i) => i / 1000);

function heard(voice: Voice, from: number, count: number): [Float32Array, Float32Array] {
  const out: [Float32Array, Float32Array] = [new Float32Array(count), new Float32Array(count)];
  voice.addTo(...out, from, count);
  return out;
}

test('a stretch of the audio stands on the clock from its start on, silence before and after', () => {
  const voice = new Voice(new PlainReader([counting], 200, 300), 50, AS_RECORDED);
  expect(voice.end).toBe(150);
  const [left, right] = heard(voice, 0, 200);
  expect(left[49]).toBe(0);
  expect(left[50]).toBeCloseTo(0.2);
  expect(left[149]).toBeCloseTo(0.299);
  expect(left[150]).toBe(0);
  expect(right).toEqual(left);
  // From anywhere, and back again.
  expect(heard(voice, 140, 20)[0][0]).toBeCloseTo(0.29);
  expect(heard(voice, -10, 100)[0][70]).toBeCloseTo(0.21);
});

test('what is read ends where the audio does', () => {
  expect(new PlainReader([counting], 900, 5000).frames).toBe(100);
  expect(new PlainReader([], 0, 100).frames).toBe(0);
});

test('level, side and mute; what changes while it sounds glides over the block', () => {
  const ones = new Float32Array(1000).fill(1);
  const voice = new Voice(new PlainReader([ones, ones], 0, 1000), 0, { level: 0.5, pan: 1, muted: false });
  expect(heard(voice, 0, 10).map((side) => side[5])).toEqual([0, 0.5]);
  voice.hear({ level: 0.5, pan: 0, muted: true });
  const [, right] = heard(voice, 10, 100);
  expect(right[0]).toBeCloseTo(0.5);
  expect(right[50]).toBeCloseTo(0.25);
  expect(right[99]).toBeLessThan(0.01);
  expect(heard(voice, 110, 10)).toEqual([new Float32Array(10), new Float32Array(10)]);
  voice.hear({ level: 1, pan: -0.25, muted: false });
  heard(voice, 120, 10);
  expect(heard(voice, 130, 10).map((side) => side[0])).toEqual([1, 0.75]);
});

test('voices add up', () => {
  const ones = new Float32Array(100).fill(1);
  const out: [Float32Array, Float32Array] = [new Float32Array(10), new Float32Array(10)];
  for (const level of [0.5, 0.25])
    new Voice(new PlainReader([ones], 0, 100), 0, { ...AS_RECORDED, level }).addTo(...out, 0, 10);
  expect(out[0][9]).toBeCloseTo(0.75);
});

test('memory that fills while it plays is heard as far as it is filled', () => {
  const filling = new Float32Array(100);
  const voice = new Voice(new PlainReader([filling], 0, 100), 0, AS_RECORDED);
  expect(heard(voice, 0, 10)[0][5]).toBe(0);
  filling.fill(1);
  expect(heard(voice, 10, 10)[0][5]).toBe(1);
});
