import { randomFrom } from '@/demo/random';
import { attackEnvelopeBuilder, attackRise, attackTime } from './attack';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';

const random = randomFrom(8);
/** A decaying burst of noise at `at` seconds over what is there, with a rise in seconds. */
function withHit(samples: Float32Array, at: number, gain: number, rise = 0.0005) {
  const first = Math.round(at * ANALYSIS_RATE);
  for (let i = 0; first + i < samples.length; i++) {
    const t = i / ANALYSIS_RATE;
    samples[first + i] += gain * (random() * 2 - 1) * Math.min(1, t / rise) * Math.exp(-t / 0.05);
  }
  return samples;
}

function envelopeOf(samples: Float32Array) {
  const builder = attackEnvelopeBuilder(ANALYSIS_RATE, 6);
  builder.push(samples.subarray(0, 1001));
  builder.push(samples.subarray(1001));
  return builder.finish();
}

const seconds = (s: number) => new Float32Array(Math.round(s * ANALYSIS_RATE));

test.each([0.1, 0.25037, 0.333, 0.41999])('a hit at %d s is found to a millisecond from 30 ms away', (at) => {
  const envelope = envelopeOf(withHit(seconds(0.6), at, 0.5));
  for (const off of [-0.03, 0, 0.03])
    expect(Math.abs(attackTime(envelope, at + off, 0.05) - at)).toBeLessThan(0.001);
});

test('noise before the hit does not move it', () => {
  const samples = seconds(0.6).map(() => 0.004 * (random() * 2 - 1));
  withHit(samples, 0.3, 0.6);
  expect(Math.abs(attackTime(envelopeOf(samples), 0.29, 0.05) - 0.3)).toBeLessThan(0.001);
});

test('the tail of an earlier hit does not draw it', () => {
  const samples = withHit(withHit(seconds(0.6), 0.2, 0.3), 0.32, 0.6);
  expect(Math.abs(attackTime(envelopeOf(samples), 0.33, 0.05) - 0.32)).toBeLessThan(0.001);
});

test('loudness does not move it', () => {
  for (const gain of [1, 0.1, 0.001]) {
    const envelope = envelopeOf(withHit(seconds(0.6), 0.3, gain));
    expect(Math.abs(attackTime(envelope, 0.3, 0.04) - 0.3)).toBeLessThan(0.001);
  }
});

test.each([0.2, 0.2007, 0.2013, 0.2021])(
  'a hit of a millisecond over a tone, at %d s, is no earlier found',
  (at) => {
    const samples = seconds(0.5).map((_, i) => 0.12 * Math.sin((2 * Math.PI * 220 * i) / ANALYSIS_RATE));
    const first = Math.round(at * ANALYSIS_RATE);
    for (let i = 0; i < 30; i++) samples[first + i] += 0.7 * Math.cos(i) * Math.exp(-i / 8);
    expect(Math.abs(attackTime(envelopeOf(samples), at + 0.002, 0.05) - at)).toBeLessThan(0.0007);
  },
);

test('in silence the place that was asked for comes back', () => {
  expect(attackTime(envelopeOf(seconds(0.5)), 0.2, 0.05)).toBe(0.2);
});

/** A note with all partials up to 4 kHz, that rises over `rise` seconds (raised cosine) and is held. */
function withNote(samples: Float32Array, at: number, hz: number, rise: number, phase: number) {
  const first = Math.round(at * ANALYSIS_RATE);
  for (let i = 0; first + i < samples.length; i++) {
    const t = i / ANALYSIS_RATE;
    let value = 0;
    for (let partial = 1; partial * hz < 4000 && partial <= 8; partial++)
      value += Math.sin(2 * Math.PI * hz * partial * t + phase * partial) / partial;
    samples[first + i] += 0.3 * (0.5 - 0.5 * Math.cos(Math.PI * Math.min(1, t / rise))) * value;
  }
  return samples;
}

/** Of a turn that is as long as what is judged only a part may sound before the pulse of the next one. */
test.each([
  [41.2, 9],
  [55, 2],
  [82.4, 2],
  [110, 2],
  [220, 2],
])('a plucked note of %d Hz is placed where it begins to %d ms, not at one of its own turns', (hz, ms) => {
  for (const phase of [0, 1, 2])
    for (const off of [-0.02, 0.02]) {
      const envelope = envelopeOf(withNote(seconds(0.6), 0.3, hz, 0.001, phase));
      expect(Math.abs(attackTime(envelope, 0.3 + off, 0.05) - 0.3)).toBeLessThan(ms / 1000);
    }
});

test.each([12, 25, 50, 80])(
  'a note that rises over %d ms is placed within the first half of its rise',
  (ms) => {
    for (const hz of [110, 220, 440]) {
      const at = attackTime(envelopeOf(withNote(seconds(0.8), 0.3, hz, ms / 1000, 0)), 0.32, 0.05) - 0.3;
      expect(at).toBeGreaterThanOrEqual(0);
      expect(at).toBeLessThan((0.5 * ms) / 1000 + 0.001);
    }
  },
);

test('the slower a note comes up, the softer its attack; what is plucked has none', () => {
  for (const hz of [110, 220, 440]) {
    const rises = [1, 25, 50, 80, 120].map((ms) => {
      const envelope = envelopeOf(withNote(seconds(0.8), 0.3, hz, ms / 1000, 0));
      return attackRise(envelope, attackTime(envelope, 0.32, 0.05));
    });
    expect(rises).toEqual([...rises].sort((a, b) => a - b));
    expect(rises[0]).toBeLessThan(0.001);
    expect(rises[3]).toBeGreaterThan(0.012);
    expect(rises[4]).toBeLessThan(0.06);
  }
});

test('in silence and at the very end of a recording an attack has no length', () => {
  expect(attackRise(envelopeOf(seconds(0.5)), 0.2)).toBe(0);
  expect(attackRise(envelopeOf(withNote(seconds(0.5), 0.49, 220, 0.05, 0)), 0.49)).toBe(0);
});
