import { refusalWords } from './refusals';

const figures = {
  ...{ medianMs: 2, spreadMs: 3, slopeMsPerBar: 18, barsUntil20Ms: 1.1, wanderMs: null, strays: 0 },
};

test('what speaks against a grid is said with its figures', () => {
  const refusal = { code: 'grid does not fit', fault: 'tempo', figures: figures as never } as const;
  expect(refusalWords(refusal)).toBe('The tempo is off: the hits fall behind the click, 20 ms after 1 bar.');
});

test('who changed it elsewhere, and how, is said where it is known', () => {
  expect(refusalWords({ code: 'changed elsewhere', by: 'Ben', words: 'tempo' })).toBe(
    'It has been changed elsewhere by Ben (“tempo”); the latest state is shown.',
  );
  expect(refusalWords({ code: 'changed elsewhere', by: null, words: null })).toBe(
    'It has been changed elsewhere; the latest state is shown.',
  );
});

test('impossible values are said as figures that can be read', () => {
  expect(refusalWords({ code: 'impossible tempo', bpm: 7.5 })).toBe('8 BPM is outside the range of tempos.');
  expect(refusalWords({ code: 'one out of reach', one: 123.456, reachSeconds: 30 })).toContain('123.46 s');
});
