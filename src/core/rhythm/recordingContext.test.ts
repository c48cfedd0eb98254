import { recordingContext } from './recordingContext';

test('loops and songs lie at the ends, what is between them between', () => {
  expect(recordingContext(4, false)).toEqual([-1, 0]);
  expect(recordingContext(25, false)[0]).toBeCloseTo(0, 12);
  expect(recordingContext(180, false)).toEqual([1, 0]);
  const rising = [10, 16, 22, 30, 40, 60].map((seconds) => recordingContext(seconds, false)[0]);
  expect(rising).toEqual([...rising].sort((a, b) => a - b));
});

test('a performance is known as one, a file without length has a context as well', () => {
  expect(recordingContext(30, true)[1]).toBe(1);
  expect(recordingContext(0, false)).toEqual([-1, 0]);
});
