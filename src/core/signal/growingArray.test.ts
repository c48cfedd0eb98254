import { growingArray } from './growingArray';

const upTo = (from: number, count: number) => Float32Array.from({ length: count }, (_, i) => from + i);

test('what is appended stands one after the other, however long the blocks are', () => {
  const array = growingArray();
  let length = 0;
  for (const block of [0, 1, 1000, 24, 3, 5000, 1]) {
    array.append(upTo(length, block));
    length += block;
    expect(array.length).toBe(length);
  }
  expect(array.view()).toEqual(upTo(0, length));
});

test('where the length is known nothing is copied', () => {
  let made = 0;
  const array = growingArray(3000, (length) => {
    made++;
    return new Float32Array(length);
  });
  for (let i = 0; i < 3; i++) array.append(upTo(i * 1000, 1000));
  expect([made, array.whole().length]).toEqual([1, 3000]);
  array.append(upTo(3000, 1));
  expect(made).toBe(2);
  expect(array.view()).toEqual(upTo(0, 3001));
});

test('a view holds what there was when it was taken', () => {
  const array = growingArray(4);
  array.append(upTo(0, 4));
  const before = array.view();
  array.append(upTo(4, 4));
  expect(before).toEqual(upTo(0, 4));
});
