import { FRAME_RATE } from './onsetFeatures';
import { foldedPeriod } from './steadyFit';
import { tempoCandidates } from './tempoCandidates';
import { periodicity } from './tempogram';

/** Onset evidence with a pulse every `period` seconds (and weaker ones between), on a floor. */
function pulses(seconds: number, period: number, between = 0): Float32Array {
  const evidence = new Float32Array(Math.round(seconds * FRAME_RATE)).fill(0.1);
  const put = (time: number, value: number) => {
    const at = time * FRAME_RATE;
    const i = Math.floor(at);
    if (i + 1 >= evidence.length) return;
    evidence[i] += value * (1 - (at - i));
    evidence[i + 1] += value * (at - i);
  };
  for (let k = 0; k * period < seconds; k++) {
    put(k * period, 10);
    if (between) put((k + 0.5) * period, between);
  }
  return evidence;
}

test('autocorrelation is one at nought, high at the period, low between', () => {
  const periodic = periodicity(pulses(20, 0.5));
  expect(periodic.at(0.5)).toBeGreaterThan(0.8);
  expect(periodic.at(1)).toBeGreaterThan(0.7);
  expect(periodic.at(0.3)).toBeLessThan(0.1);
});

test('the spectrum is blind to multiples of the period, where the autocorrelation is not', () => {
  const periodic = periodicity(pulses(20, 0.5));
  expect(periodic.fourierAt(0.5)).toBeGreaterThan(5 * periodic.fourierAt(1));
});

test.each([71.3, 90, 128.7, 173.02])(
  'the strongest candidate of pulses at %d BPM is theirs or a multiple',
  (bpm) => {
    const [best] = tempoCandidates(periodicity(pulses(24, 60 / bpm, 4)), 5);
    const ratio = best.bpm / bpm;
    expect([0.5, 1, 2].some((known) => Math.abs(ratio / known - 1) < 0.01)).toBe(true);
  },
);

test('folding the whole recording finds a period to a few parts in ten thousand', () => {
  const period = 60 / 123.45;
  const found = foldedPeriod(periodicity(pulses(60, period)), period * 1.006, 60);
  expect(Math.abs(found / period - 1)).toBeLessThan(3e-4);
});

test('silence and a constant have no candidates', () => {
  expect(tempoCandidates(periodicity(new Float32Array(1000)), 5)).toEqual([]);
  expect(tempoCandidates(periodicity(new Float32Array(1000).fill(2)), 5)).toEqual([]);
});
