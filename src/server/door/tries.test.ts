import { throttle } from './tries';

test('a few wrong tries are free; then each waits twice as long, up to a minute, by who makes them', () => {
  let now = 0;
  const tries = throttle(() => now);
  for (let i = 0; i < 5; i++) {
    expect(tries.wait('a')).toBe(0);
    tries.wrong('a');
  }
  const waits: number[] = [];
  for (let i = 0; i < 9; i++) {
    waits.push(tries.wait('a'));
    now += tries.wait('a');
    expect(tries.wait('a')).toBe(0);
    tries.wrong('a');
  }
  expect(waits).toEqual([1, 2, 4, 8, 16, 32, 60, 60, 60].map((seconds) => seconds * 1000));
  expect(tries.wait('b')).toBe(0);
  tries.right('a');
  expect(tries.wait('a')).toBe(0);
  for (let i = 0; i < 7; i++) tries.wrong('a');
  now += 16 * 60_000;
  expect(tries.wait('a')).toBe(0);
});
