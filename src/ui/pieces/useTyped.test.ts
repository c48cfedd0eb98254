import { numberIn } from './useTyped';

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
