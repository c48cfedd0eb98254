import { throttle } from './throttle';

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

test('however many addresses somebody has, only some tries are heard; later it is as before', () => {
  let now = 0;
  const tries = throttle(() => now);
  let heard = 0;
  for (let i = 0; i < 5000; i++) {
    if (tries.wait(`address ${i}`) === 0) {
      heard++;
      tries.wrong(`address ${i}`);
    }
    now += 10;
  }
  // 50 seconds in all.
  expect(heard).toBeLessThan(70);
  expect(tries.wait('another name')).toBeGreaterThan(0);
  now += 15_000;
  expect(tries.wait('another name')).toBe(0);
  tries.right('another name');
  now += 20 * 60_000;
  for (let i = 0; i < 50; i++) {
    expect(tries.wait(`${i}`)).toBe(0);
    tries.wrong(`${i}`);
  }
});
