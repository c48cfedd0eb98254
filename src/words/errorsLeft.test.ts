import { errorsLeftWords } from './errorsLeft';

const errors = { guesses: 4210, expected: 37.2, low: 28.1, high: 46.3, first: 60, expectedInFirst: 28.8 };

test('how many are wrong, how far that may be off, and where to look first', () => {
  expect(errorsLeftWords('tempo', errors)).toBe(
    'About 37 ± 9 of 4,210 measured tempi are wrong; the 60 least certain hold 29 of them.',
  );
});

test('of few samples all are looked at; an interval that begins at none has an end only', () => {
  const few = { guesses: 22, expected: 1.2, low: 0, high: 3.4, first: 22, expectedInFirst: 1.2 };
  expect(errorsLeftWords('key', few)).toBe('About 1 (3 at most) of 22 measured keys is wrong.');
});
