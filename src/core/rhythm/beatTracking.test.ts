import { randomFrom } from '@/demo/random';
import { STIFF, SUPPLE, trackBeats } from './beatTracking';
import { FRAME_RATE } from './onsetFeatures';

/** Evidence of one frame's width, `height` high, at each time in seconds. */
function evidenceAt(times: readonly number[], seconds: number, height = 6): Float32Array {
  const evidence = new Float32Array(Math.round(seconds * FRAME_RATE));
  for (const time of times) {
    const frame = Math.round(time * FRAME_RATE);
    for (const [offset, share] of [
      [-1, 0.4],
      [0, 1],
      [1, 0.4],
    ])
      if (frame + offset >= 0 && frame + offset < evidence.length)
        evidence[frame + offset] = Math.max(evidence[frame + offset], height * share);
  }
  return evidence;
}

/** Beats one after the other, each as long as `interval` says. */
function beatsOf(count: number, interval: (k: number) => number, from = 0.3): number[] {
  const times = [from];
  for (let k = 1; k < count; k++) times.push(times[k - 1] + interval(k));
  return times;
}

/** The largest distance from a wanted time to the nearest one that was found. */
const farthest = (wanted: readonly number[], found: Float64Array) =>
  Math.max(...wanted.map((time) => Math.min(...Array.from(found, (other) => Math.abs(other - time)))));

test('a steady pulse is followed to the hundredth', () => {
  const beats = beatsOf(30, () => 0.5);
  const found = trackBeats(evidenceAt(beats, 15.5), 120, STIFF);
  expect(farthest(beats, found)).toBeLessThan(0.011);
  expect(found.length).toBeLessThanOrEqual(32);
});

test('beats that nobody plays are laid where the pulse goes on', () => {
  const beats = beatsOf(40, () => 0.5);
  const played = beats.filter((_, k) => k % 7 !== 3 && k % 7 !== 4);
  const found = trackBeats(evidenceAt(played, 20.5), 120, STIFF);
  expect(farthest(beats, found)).toBeLessThan(0.02);
});

test('a player who slows down from 126 to 105 is followed by supple beats', () => {
  const beats = beatsOf(48, (k) => 60 / (126 - (21 * k) / 48));
  const found = trackBeats(evidenceAt(beats, beats[47] + 0.4), 115, SUPPLE);
  expect(farthest(beats, found)).toBeLessThan(0.025);
});

test('stiff beats do not follow as far as supple ones', () => {
  const beats = beatsOf(48, (k) => 60 / (140 - (46 * k) / 48));
  const evidence = evidenceAt(beats, beats[47] + 0.4);
  const stiff = farthest(beats, trackBeats(evidence, 115, STIFF));
  const supple = farthest(beats, trackBeats(evidence, 115, SUPPLE));
  expect(supple).toBeLessThan(0.05);
  expect(stiff).toBeGreaterThan(3 * supple);
});

test('a player who is loose by ten milliseconds is still followed', () => {
  const random = randomFrom(3);
  const beats = beatsOf(40, () => 0.55);
  const played = beats.map((time) => time + 0.02 * (random() - 0.5));
  const found = trackBeats(evidenceAt(played, 22.5), 60 / 0.55, SUPPLE);
  expect(farthest(beats, found)).toBeLessThan(0.03);
});

test('softer hits between the beats do not draw the beats to them', () => {
  const beats = beatsOf(30, () => 0.6);
  const evidence = evidenceAt(beats, 18.5);
  evidenceAt(
    beats.map((time) => time + 0.3),
    18.5,
    2,
  ).forEach((value, i) => (evidence[i] = Math.max(evidence[i], value)));
  expect(farthest(beats, trackBeats(evidence, 100, STIFF))).toBeLessThan(0.011);
});

test('what is shorter than two beats has one beat or none', () => {
  expect(trackBeats(evidenceAt([0.2], 0.55), 120, STIFF)).toHaveLength(1);
  expect(trackBeats(new Float32Array(10), 120, STIFF)).toHaveLength(0);
});
