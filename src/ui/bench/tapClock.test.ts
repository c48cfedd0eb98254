import { estimateTaps } from '@/core/rhythm/taps';
import { NO_TAPS, tapped } from './tapClock';

/** Somebody taps at 120 BPM while two seconds of the audio loop. */
function roundTaps(count: number, speed = 1) {
  let row = NO_TAPS;
  for (let i = 0; i < count; i++) {
    const at = 100 + i / (2 * speed);
    row = tapped(row, { at, position: 4 + ((i / 2) % 2), speed });
  }
  return row;
}

test('where playback loops the row goes on: no tap is lost', () => {
  const row = roundTaps(24);
  const found = estimateTaps(row.times)!;
  expect(found.taps).toBe(24);
  expect(found.bpm).toBeCloseTo(120, 6);
  // The first stands where it was heard.
  expect(row.times[0]).toBe(4);
});

test('slower playback counts as the audio goes', () => {
  expect(estimateTaps(roundTaps(12, 0.5).times)!.bpm).toBeCloseTo(120, 6);
});

test('when it stops in the middle the row goes on as well', () => {
  let row = roundTaps(8);
  for (let i = 0; i < 8; i++) row = tapped(row, { at: row.lastAt + 0.5, position: null, speed: 1 });
  expect(estimateTaps(row.times)!.taps).toBe(16);
});

test('taps before a long pause are left out, and how many is told', () => {
  let row = roundTaps(21);
  row = tapped(row, { at: row.lastAt + 4, position: 5, speed: 1 });
  for (const gap of [0.5, 0.5]) row = tapped(row, { at: row.lastAt + gap, position: 5, speed: 1 });
  expect(estimateTaps(row.times)).toMatchObject({
    taps: 3,
    leftOut: { taps: 21, pauseSeconds: expect.closeTo(4, 6) },
  });
});

test('uneven taps say how uneven they are', () => {
  let row = NO_TAPS;
  let at = 10;
  for (const gap of [0.262, 0.928, 0.4, 0.7, 0.31, 0.85, 0.5, 0.6])
    row = tapped(row, { at: (at += gap), position: null, speed: 1 });
  const { taps, gapsMs, sureness } = estimateTaps(row.times)!;
  expect([taps, Math.round(gapsMs[0]), Math.round(gapsMs[1])]).toEqual([8, 310, 928]);
  expect(sureness).toBeLessThan(0.5);
});
