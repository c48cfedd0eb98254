import { counted, plural } from './plural';

test.each([
  [0, 'bars'],
  [1, 'bar'],
  [1.5, 'bars'],
  [2, 'bars'],
])('with %s stands %s', (count, word) => expect(plural(count, 'bar')).toBe(word));

test('thousands are set apart; words with forms of their own are given both', () => {
  expect(counted(12_400, 'sample')).toBe('12,400 samples');
  expect(counted(1, 'sample is', 'samples are')).toBe('1 sample is');
  expect(counted(3, 'sample is', 'samples are')).toBe('3 samples are');
});
