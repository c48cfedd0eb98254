import { randomFrom } from '@/demo/random';
import { lowPassedLoop } from '../signal/lowPass';
import { bandsOf } from './bands';
import { fitted } from './voice';

const RATE = 44100;
const BEAT = 22050;
/** A drum whose body sounds on through the beat, and cymbals on each quarter of it. */
const BODY_HZ = 70;

/** Four beats, looping: `body` and `cymbal` by themselves, and where each is struck. */
function drums() {
  const size = 4 * BEAT;
  const random = randomFrom(7);
  const body = new Float32Array(size);
  const cymbal = new Float32Array(size);
  const bodies = [0, 1, 2, 3].map((beat) => beat * BEAT);
  const cymbals = Array.from({ length: 16 }, (_, i) => (i * BEAT) / 4);
  for (const at of bodies)
    for (let i = 0; i < BEAT; i++)
      body[at + i] = 0.5 * Math.sin((2 * Math.PI * BODY_HZ * i) / RATE) * Math.exp(-i / (0.3 * RATE));
  for (const at of cymbals) {
    let last = 0;
    for (let i = 0; i < 2000; i++) {
      const value = random() - 0.5;
      // Twice the difference: next to nothing is left below two kilohertz.
      cymbal[at + i] += 0.2 * (value - last) * Math.exp(-i / 600);
      last = value;
    }
  }
  // Twice through the same, to be rid of what noise has in the low.
  for (let n = 0; n < 6; n++) for (let i = size - 1; i > 0; i--) cymbal[i] -= 0.95 * cymbal[i - 1];
  return { body, cymbal, both: body.map((value, i) => value + cymbal[i]), bodies, cymbals };
}

/** Energy of a piece of a signal. */
const energy = (samples: Float32Array) => samples.reduce((sum, value) => sum + value * value, 0);

test('where cymbals are struck the bodies of the drums are left alone, and the bands are the sound', () => {
  const { both, body, bodies, cymbals } = drums();
  const bands = bandsOf([both], cymbals, RATE);
  expect(bands.map(({ stride }) => stride)).toEqual([1, 8]);
  const [high, low] = bands;
  expect(high.attacks).toEqual(cymbals);
  expect(low.attacks).toEqual(bodies);
  const beside = both.map((value, i) => value - high.source[0][i] - low.source[0][i]);
  expect(Math.max(...beside.map(Math.abs))).toBeLessThan(1e-6);
  expect(energy(low.source[0].map((value, i) => value - body[i]))).toBeLessThan(0.02 * energy(body));
});

test('where all that is struck reaches low, and where tones stand in the crossing, it is one band', () => {
  const { body, both, bodies, cymbals } = drums();
  expect(bandsOf([both], bodies, RATE)).toHaveLength(1);
  const tone = body.map((_, i) => 0.3 * Math.sin((2 * Math.PI * 1500 * i) / RATE));
  expect(bandsOf([both.map((value, i) => value + tone[i])], cymbals, RATE)).toHaveLength(1);
  expect(bandsOf([both], [0], RATE)).toHaveLength(1);
  expect(bandsOf([new Float32Array(8000)], [0, 100], RATE)).toHaveLength(1);
});

test.each([0.8, 1.3])(
  'what lies in the crossing keeps its level where the bands go apart: at %d',
  (ratio) => {
    const { both, cymbals } = drums();
    const random = randomFrom(11);
    const noisy = both.map((value) => value + 0.1 * (random() - 0.5));
    expect(bandsOf([noisy], cymbals, RATE)).toHaveLength(2);
    const length = Math.round(noisy.length * ratio);
    const [out] = fitted([noisy], {
      rate: RATE,
      length,
      attacks: cymbals,
      semitones: 0,
      isLoop: true,
      holdFormants: false,
    });
    const levelIn = (samples: Float32Array, from: number, to: number) =>
      10 *
      Math.log10(
        energy(lowPassedLoop(samples, RATE, [to, to + 100])) -
          energy(lowPassedLoop(samples, RATE, [from - 100, from])),
      );
    const change = levelIn(out, 1350, 1650) - levelIn(noisy, 1350, 1650) - 10 * Math.log10(ratio);
    // They would lose 2 to 3 dB.
    expect(Math.abs(change)).toBeLessThan(0.8);
  },
);

test.each([
  ['shorter', 0.8],
  ['longer', 1.3],
])('the body of a drum made %s sounds on evenly under cymbals', (_, ratio) => {
  const { both, body, cymbals, bodies } = drums();
  const asked = {
    rate: RATE,
    length: Math.round(both.length * ratio),
    semitones: 0,
    isLoop: true,
    holdFormants: false,
  };
  const under = fitted([both], { ...asked, attacks: cymbals })[0];
  const alone = fitted([body], { ...asked, attacks: bodies })[0];
  // The level of the body's tone in the second half of its beat, piece by piece, against the drum by itself.
  const levelAt = (samples: Float32Array, from: number) => {
    const count = Math.round((3 * RATE) / BODY_HZ);
    let [re, im] = [0, 0];
    for (let i = 0; i < count; i++) {
      const angle = (2 * Math.PI * BODY_HZ * i) / RATE;
      re += samples[from + i] * Math.cos(angle);
      im += samples[from + i] * Math.sin(angle);
    }
    return Math.hypot(re, im);
  };
  for (let share = 0.2; share < 0.75; share += 0.05) {
    const from = Math.round((1 + share) * BEAT * ratio);
    // Cut at each cymbal it would go up and down by 0.4 dB.
    expect(Math.abs(20 * Math.log10(levelAt(under, from) / levelAt(alone, from)))).toBeLessThan(0.1);
  }
});
