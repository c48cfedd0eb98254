import { randomFrom } from '@/demo/random';
import { expectedErrors, sumsOf } from './expectedErrors';

test('certain guesses have no errors, a coin toss has half of one', () => {
  expect(expectedErrors(sumsOf([1, 1, 1], 60))).toEqual({
    ...{ guesses: 3, expected: 0, low: 0, high: 0 },
    ...{ first: 3, expectedInFirst: 0 },
  });
  const tosses = expectedErrors(sumsOf(new Array(100).fill(0.5), 60));
  expect(tosses).toMatchObject({ guesses: 100, expected: 50, first: 60, expectedInFirst: 30 });
  expect(tosses.low).toBeGreaterThan(30);
  expect(tosses.high).toBeLessThan(70);
});

test('the least certain ones are looked at first and hold the most errors', () => {
  const { expected, first, expectedInFirst } = expectedErrors(sumsOf([0.9, 0.2, 0.99, 0.4, 0.95], 2));
  expect(first).toBe(2);
  expect(expectedInFirst).toBeCloseTo(0.8 + 0.6, 10);
  expect(expected).toBeCloseTo(0.1 + 0.8 + 0.01 + 0.6 + 0.05, 10);
});

test('of guesses that are as often right as they say, 19 of 20 libraries have as many errors as expected', () => {
  const random = randomFrom(12);
  let within = 0;
  const draws = 400;
  for (let draw = 0; draw < draws; draw++) {
    const confidences = Array.from({ length: 150 }, () => 1 - 0.6 * random() ** 3);
    const wrong = confidences.filter((confidence) => random() > confidence).length;
    const { low, high } = expectedErrors(sumsOf(confidences, 60));
    if (wrong >= low && wrong <= high) within++;
  }
  expect(within / draws).toBeGreaterThan(0.95);
  // An interval that holds everything would say nothing.
  const { expected, low, high } = expectedErrors(sumsOf(new Array(1000).fill(0.9), 60));
  expect((high - low) / expected).toBeLessThan(0.8);
});

test('an empty library has no errors', () => {
  expect(expectedErrors(sumsOf([], 60))).toMatchObject({
    guesses: 0,
    expected: 0,
    low: 0,
    high: 0,
    first: 0,
  });
});
