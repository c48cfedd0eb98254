import { createResampler, resample, resampleLoop } from './resample';

const sine = (hz: number, rate: number, seconds: number) =>
  Float32Array.from({ length: Math.round(rate * seconds) }, (_, i) =>
    Math.sin((2 * Math.PI * hz * i) / rate),
  );

test.each([
  [44100, 22050],
  [48000, 44100],
  [96000, 44100],
  [8000, 22050],
])('a tone keeps its place and height from %i to %i Hz', (from, to) => {
  const out = resample(sine(1000, from, 0.5), from, to);
  const wanted = sine(1000, to, 0.5);
  expect(out.length).toBe(wanted.length);
  let worst = 0;
  for (let i = 400; i < out.length - 400; i++) worst = Math.max(worst, Math.abs(out[i] - wanted[i]));
  expect(worst).toBeLessThan(2e-3);
});

test('an impulse stays at its time', () => {
  const input = new Float32Array(44100);
  input[22050] = 1;
  const out = resample(input, 44100, 22050);
  const peak = out.reduce((best, value, i) => (value > out[best] ? i : best), 0);
  expect(peak).toBe(11025);
});

test('blocks of any size give the same samples as one call', () => {
  const input = sine(440, 48000, 0.3);
  const whole = resample(input, 48000, 44100);
  const resampler = createResampler(48000, 44100);
  const parts: number[] = [];
  for (let at = 0; at < input.length; at += 997) parts.push(...resampler.push(input.subarray(at, at + 997)));
  parts.push(...resampler.finish());
  expect(parts.length).toBe(whole.length);
  for (let i = 0; i < whole.length; i += 101) expect(parts[i]).toBeCloseTo(whole[i], 6);
});

test('a tone above the new limit disappears instead of folding down', () => {
  const out = resample(sine(15000, 44100, 0.3), 44100, 22050);
  expect(Math.max(...out.subarray(500, out.length - 500).map(Math.abs))).toBeLessThan(1e-3);
});

test('impossible rates are refused', () => {
  expect(() => createResampler(44100, 0)).toThrow(RangeError);
  expect(() => createResampler(44100.5, 22050)).toThrow(RangeError);
});

describe('what is written', () => {
  /** Level of a sine of so many Hz after resampling, dB, and of all that is not it. */
  const levelOf = (wanted: number, from: number, to: number) => {
    // Whole cycles fill the stretch that is looked at.
    const hz = 5 * Math.round(wanted / 5);
    const input = Float32Array.from(
      { length: from },
      (_, n) => 0.9 * Math.sin((2 * Math.PI * hz * n) / from),
    );
    const out = resample(input, from, to, 'fine').subarray(0.2 * to, 0.8 * to);
    const rms = Math.sqrt(out.reduce((sum, value) => sum + value * value, 0) / out.length);
    return 20 * Math.log10(rms / (0.9 / Math.SQRT2));
  };

  test('what loops stays seamless: a sine that fits goes on over the turn', () => {
    const [from, to] = [44_100, 48_000];
    const round = Float32Array.from(
      { length: from },
      (_, n) => 0.5 * Math.cos((2 * Math.PI * 440 * n) / from),
    );
    const wanted = (n: number) => 0.5 * Math.cos((2 * Math.PI * 440 * n) / to);
    const worst = (samples: Float32Array) =>
      samples.reduce((most, value, n) => Math.max(most, Math.abs(value - wanted(n))), 0);
    const turning = resampleLoop(round, from, to);
    expect(turning).toHaveLength(to);
    expect(worst(turning)).toBeLessThan(1e-5);
    // Read as if silence stood around it, it is not.
    expect(worst(resample(round, from, to, 'fine'))).toBeGreaterThan(1e-3);
  });

  test.each([
    [96_000, 44_100],
    [48_000, 44_100],
    [44_100, 48_000],
  ])('%i to %i Hz: flat where it is heard, nothing folded back', (from, to) => {
    const half = Math.min(from, to) / 2;
    for (const share of [0.01, 0.3, 0.7, 0.9])
      expect(Math.abs(levelOf(share * half, from, to))).toBeLessThan(0.001);
    if (from > to)
      for (const share of [1.005, 1.05, 1.08]) expect(levelOf(share * half, from, to)).toBeLessThan(-117);
  });
});
