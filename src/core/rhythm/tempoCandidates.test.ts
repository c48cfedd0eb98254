import { randomFrom } from '@/demo/random';
import { FRAME_RATE } from './onsetFeatures';
import { combSalience, tempoCandidates } from './tempoCandidates';
import { periodicity } from './tempogram';

/** Evidence with a hit at every period, each so loud as `gain` says. */
function hits(bpm: number, seconds: number, gain: (k: number) => number = () => 1): Float32Array {
  const strength = new Float32Array(seconds * FRAME_RATE);
  for (let k = 0; ; k++) {
    const frame = Math.round((k * 60 * FRAME_RATE) / bpm);
    if (frame >= strength.length) return strength;
    strength[frame] = gain(k);
  }
}
const candidates = (strength: Float32Array, limit = 5) => tempoCandidates(periodicity(strength), limit);

test.each([72, 96.5, 128, 174])('the tempo of even hits is the best candidate or its half: %d BPM', (bpm) => {
  const [best] = candidates(hits(bpm, 24));
  const near = [1, 1 / 2, 2].map((ratio) => Math.abs(best.bpm / (bpm * ratio) - 1));
  expect(Math.min(...near)).toBeLessThan(0.006);
});

test('both the beat and its loud half are among them, best first, no more than asked for', () => {
  const found = candidates(
    hits(140, 30, (k) => (k % 2 ? 0.5 : 1)),
    6,
  );
  for (const bpm of [70, 140]) expect(found.some((one) => Math.abs(one.bpm / bpm - 1) < 0.01)).toBe(true);
  for (let i = 1; i < found.length; i++) expect(found[i].salience).toBeLessThanOrEqual(found[i - 1].salience);
  expect(found.length).toBeLessThanOrEqual(6);
  expect(candidates(hits(140, 30), 2)).toHaveLength(2);
});

test('a tempo is more salient than those beside it, and noise is less salient than a beat', () => {
  const even = periodicity(hits(110, 30));
  for (const off of [1.05, 0.95, 1.2])
    expect(combSalience(even, 110)).toBeGreaterThan(3 * combSalience(even, 110 * off));
  const random = randomFrom(3);
  const noise = periodicity(Float32Array.from({ length: 30 * FRAME_RATE }, () => random()));
  expect(tempoCandidates(noise, 1)[0]?.salience ?? 0).toBeLessThan(0.5 * combSalience(even, 110));
});
