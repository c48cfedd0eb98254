import { bpmText, keyText, lengthText, percentText, signedText, sizeText, spanText } from './figures';

test.each([
  [96, '96'],
  [88.402, '88.402'],
  [88.4019999, '88.402'],
  [120.0004, '120'],
])('a tempo of %d is written %s', (bpm, text) => expect(bpmText(bpm)).toBe(text));

test.each([
  [7.4, '0:07.4'],
  [61, '1:01.0'],
  [599.9, '9:59.9'],
  [723.9, '12:03'],
])('%d seconds of audio are %s', (seconds, text) => expect(lengthText(seconds)).toBe(text));

test('what is rounded to nothing has no sign', () => {
  expect(signedText(3.24, 1, 'ms')).toBe('+3.2 ms');
  expect(signedText(-3.24, 1, 'ms')).toBe('−3.2 ms');
  expect(signedText(-0.04, 1, 'ms')).toBe('±0.0 ms');
});

test.each([
  [0.2, '1 s'],
  [89, '89 s'],
  [600, '10 min'],
  [7800, '2 h 10 min'],
])('something that takes %d seconds takes %s', (seconds, text) => expect(spanText(seconds)).toBe(text));

test.each([
  [4200, '4 kB'],
  [999_999, '1000 kB'],
  [1_250_000, '1.3 MB'],
  [2_500_000_000, '2.50 GB'],
])('%d bytes are %s', (bytes, text) => expect(sizeText(bytes)).toBe(text));

test('keys, none, and shares', () => {
  expect(keyText({ none: true })).toBe('no key');
  expect(keyText({ tonic: 10, mode: 'major' })).toBe('B♭ major');
  expect(percentText(0.966)).toBe('97 %');
});
