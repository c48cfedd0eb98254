import { randomFrom } from '@/demo/random';
import { estimateTaps } from './taps';

/** A person who taps at `bpm` with some milliseconds of unrest. */
function taps(bpm: number, beats: readonly number[], unrestMs = 14, seed = 1): number[] {
  const random = randomFrom(seed);
  const bell = () => random() + random() + random() - 1.5;
  return beats.map((beat) => 5 + (beat * 60) / bpm + (bell() * unrestMs) / 1000);
}

const upTo = (n: number) => Array.from({ length: n }, (_, i) => i);

test('twenty taps give the tempo to half a BPM, with decimals', () => {
  const found = estimateTaps(taps(93.4, upTo(20)))!;
  expect(Math.abs(found.bpm - 93.4)).toBeLessThan(0.5);
  expect(found.bpmError).toBeLessThan(0.6);
  expect(found.sureness).toBeGreaterThan(0.6);
});

test('missed taps do not slow the tempo down', () => {
  const found = estimateTaps(
    taps(
      120,
      upTo(24).filter((beat) => ![5, 11, 12, 18].includes(beat)),
    ),
  )!;
  expect(Math.abs(found.bpm - 120)).toBeLessThan(0.8);
  expect(found.missed).toBe(4);
});

test('a stretch at double time does not double it', () => {
  const beats = [...upTo(10), 9.5, 10, 10.5, 11, 11.5, 12, 13, 14, 15, 16, 17, 18];
  const found = estimateTaps(taps(84, beats, 8))!;
  expect(Math.abs(found.bpm - 84)).toBeLessThan(0.8);
  expect(found.doubled).toBeGreaterThanOrEqual(5);
});

test('one wild tap does not turn the line', () => {
  const times = taps(100, upTo(16), 6);
  times[7] += 0.13;
  expect(Math.abs(estimateTaps(times)!.bpm - 100)).toBeLessThan(0.6);
});

test.each([0.3, -0.22, 0.2])('one tap %s s beside the beat is left out and said', (beside) => {
  const times = taps(100, upTo(21), 6);
  times[7] += beside;
  const found = estimateTaps(times)!;
  expect(Math.abs(found.bpm - 100)).toBeLessThan(0.5);
  expect(found.strays).toBe(1);
  expect(found.taps).toBe(20);
});

test('a tap too many in between is left out as well; half beats are none', () => {
  const times = taps(100, upTo(16), 6);
  const more = [...times, times[9] + 0.17].sort((a, b) => a - b);
  const found = estimateTaps(more)!;
  expect(found.strays).toBe(1);
  expect(Math.abs(found.bpm - 100)).toBeLessThan(0.6);
  expect(estimateTaps(taps(84, [...upTo(10), 9.5, 10, 10.5, 11, 12, 13], 8))!.strays).toBe(0);
});

test('a long pause begins again', () => {
  const times = [...taps(80, upTo(8)), ...taps(140, upTo(10)).map((time) => time + 20)];
  const found = estimateTaps(times)!;
  expect(found.taps).toBe(10);
  expect(Math.abs(found.bpm - 140)).toBeLessThan(2.5);
});

test('more taps make it surer, two are not enough', () => {
  expect(estimateTaps(taps(100, upTo(2)))).toBeNull();
  expect(estimateTaps(taps(100, upTo(5)))!.sureness).toBeLessThan(
    estimateTaps(taps(100, upTo(24)))!.sureness,
  );
});

test('the anchor is a beat near the last tap', () => {
  const found = estimateTaps(taps(100, upTo(20), 5))!;
  const beats = (found.anchor - 5) / 0.6;
  expect(Math.abs(beats - Math.round(beats))).toBeLessThan(0.02);
  expect(Math.round(beats)).toBe(19);
});
