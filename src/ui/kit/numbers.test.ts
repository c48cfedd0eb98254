import { amountIn, numberIn, whyNotNumber, type Measure } from './numbers';

test.each([
  ['96', 96],
  [' 88,402 ', 88.402],
  ['−9', -9],
  ['+3', 3],
  ['±0', 0],
  ['', null],
  ['  ', null],
  ['fast', null],
  ['1e999', null],
])('“%s” is the number %s', (typed, number) => expect(numberIn(typed)).toBe(number));

test.each<[string, Measure, number | null]>([
  ['120', { unit: 'BPM' }, 120],
  ['120 bpm', { unit: 'BPM' }, 120],
  ['-8%', { unit: 'BPM', of: 100 }, 92],
  ['+3,5 %', { unit: 'BPM', of: 200 }, 207],
  ['92 %', { unit: 'BPM', of: 100 }, 92],
  ['x0.5', { unit: 'BPM', of: 170 }, 85],
  ['2×', { unit: 'BPM', of: 85 }, 170],
  ['-8%', { unit: 'BPM', of: null }, null],
  ['50 %', { unit: '%', of: 80 }, 50],
  ['30:00', { unit: 'min' }, 30],
  ['1:30', { unit: 's' }, 90],
  ['1:00:00', { unit: 'min' }, 60],
  ['2 min', { unit: 's' }, 120],
  ['90 s', { unit: 'min' }, 1.5],
  ['0.02 s', { unit: 'ms' }, 20],
  ['+5 st', { unit: 'st' }, 5],
  ['−5 semitones', { unit: 'st' }, -5],
  ['50 cents', { unit: 'st' }, 0.5],
  ['64 bars', { unit: 'min', also: { bar: 0.03125 } }, 2],
  ['4 bars', { unit: 'bars' }, 4],
  ['4 bars', { unit: 'BPM' }, null],
  ['30:00', { unit: 'BPM' }, null],
  ['fast', { unit: 'BPM', of: 100 }, null],
  ['%', { unit: 'BPM', of: 100 }, null],
])('“%s” in %j is %s', (typed, measure, amount) => expect(amountIn(typed, measure)).toBe(amount));

test('why a number is refused says what is allowed', () => {
  const bounds = { least: 20, most: 400, unit: 'BPM' };
  expect(whyNotNumber('120', bounds)).toBeNull();
  expect(whyNotNumber('12', bounds)).toBe('20 to 400 BPM is allowed, not 12.');
  expect(whyNotNumber('fast', bounds)).toBe('“fast” is not a number; 20 to 400 BPM.');
  expect(whyNotNumber('20.5', { ...bounds, whole: true })).toBe('Whole numbers, 20 to 400 BPM.');
  expect(whyNotNumber('-8%', bounds)).toBe('There is nothing yet that “-8%” could be of; 20 to 400 BPM.');
  expect(whyNotNumber('-8%', { ...bounds, of: 100 })).toBeNull();
});
