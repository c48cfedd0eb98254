import { randomFrom } from '@/demo/random';
import { shareAsExpected } from './errorsLeft';

const random = randomFrom(3);
const answers = (tell: (right: number) => number) =>
  Array.from({ length: 300 }, () => {
    const right = 1 - 0.5 * random() ** 2;
    return { sureness: tell(right), isRight: random() < right };
  });

test('of honest confidences the errors are as many as expected', () => {
  expect(
    shareAsExpected(
      answers((right) => right),
      60,
    ),
  ).toBeGreaterThan(0.93);
});

test('of boasting ones they are more', () => {
  expect(
    shareAsExpected(
      answers((right) => 1 - (1 - right) / 5),
      120,
    ),
  ).toBeLessThan(0.3);
});

test('where nothing was judged nothing is said', () => {
  expect(shareAsExpected([], 60)).toBeNull();
});
