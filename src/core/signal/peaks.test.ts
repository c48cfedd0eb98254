import { randomFrom } from '@/demo/random';
import { peakBuilder, peakColumns, peakPyramid } from './peaks';

const random = randomFrom(9);
const channel = Float32Array.from(
  { length: 50_000 },
  (_, i) => (random() - 0.5) * Math.abs(Math.sin(i / 3000)),
);

test('columns hold the extremes of their stretch', () => {
  const pyramid = peakPyramid([channel], 44100);
  const columns = 20;
  const found = peakColumns(pyramid, 0, channel.length / 44100, columns);
  for (let c = 0; c < columns; c++) {
    const part = channel.subarray(
      Math.floor((c * channel.length) / columns),
      Math.floor(((c + 1) * channel.length) / columns),
    );
    // A column may import the rest of a bin at its edges, never less than its stretch.
    expect(found[2 * c]).toBeLessThanOrEqual(Math.min(...part));
    expect(found[2 * c + 1]).toBeGreaterThanOrEqual(Math.max(...part));
  }
});

test('a pyramid built from blocks is that of the whole', () => {
  const builder = peakBuilder(44100);
  for (let at = 0; at < channel.length; at += 1234) builder.push([channel.subarray(at, at + 1234)]);
  expect(builder.finish()).toEqual(peakPyramid([channel], 44100));
});

test('outside the recording there is nothing to draw', () => {
  const found = peakColumns(peakPyramid([channel], 44100), -1, 0, 4);
  expect([...found].slice(0, 6).every(Number.isNaN)).toBe(true);
  expect(() => peakColumns(peakPyramid([channel], 44100), 1, 1, 4)).toThrow(RangeError);
});
