import { randomFrom } from '@/demo/random';
import { createListener, type Heard } from '../measurement/listening';
import { explainRhythm, type MeasureOptions } from '../measurement/measure';
import { logSumExp } from '../weights/logSumExp';
import { BARS } from './bars';
import { LEVELS, type RhythmHypothesis } from './hypotheses';
import { ANALYSIS_RATE } from './onsetFeatures';

/** Kick, hat, snare, hat at every half beat, with times of the beats in seconds. */
function listenTo(beats: readonly number[], seconds: number): Heard {
  const random = randomFrom(5);
  const samples = new Float32Array(Math.round(seconds * ANALYSIS_RATE));
  const add = (time: number, sound: (t: number) => number, decay: number) => {
    const first = Math.round(time * ANALYSIS_RATE);
    for (let i = 0; i < 6 * decay * ANALYSIS_RATE && first + i < samples.length; i++)
      samples[first + i] += sound(i / ANALYSIS_RATE) * Math.exp(-i / ANALYSIS_RATE / decay);
  };
  beats.forEach((time, k) => {
    if (k % 2 === 0) add(time, (t) => 0.8 * Math.sin(2 * Math.PI * (50 + 80 * Math.exp(-t / 0.02)) * t), 0.1);
    else add(time, () => 0.5 * (random() * 2 - 1), 0.05);
    const next = beats[k + 1] ?? time + (time - beats[k - 1]);
    add((time + next) / 2, () => 0.15 * (random() * 2 - 1), 0.015);
  });
  const listener = createListener();
  listener.push(samples);
  return listener.finish();
}

const steadyBeats = (count: number, bpm: number, from = 0.1) =>
  Array.from({ length: count }, (_, k) => from + (k * 60) / bpm);
const loop = listenTo(steadyBeats(32, 124), 16);
const explain = (options: MeasureOptions = {}, heard = loop) => explainRhythm(heard, options);
const near = ({ bpm }: RhythmHypothesis, wanted: number) => Math.abs(bpm / wanted - 1) < 0.005;

test('beliefs are shares of one, the best first', () => {
  const found = explain();
  expect(found.reduce((sum, { sureness }) => sum + sureness, 0)).toBeCloseTo(1, 9);
  for (let i = 1; i < found.length; i++) expect(found[i].score).toBeLessThanOrEqual(found[i - 1].score);
  for (const { bars, bar } of found) {
    expect(bar).toBe(bars[0]);
    for (let i = 1; i < bars.length; i++) expect(bars[i].score).toBeLessThanOrEqual(bars[i - 1].score);
    expect(bars.reduce((sum, { belief }) => sum + belief, 0)).toBeCloseTo(1, 9);
    for (const { belief } of bars) expect(belief).toBeLessThanOrEqual(bar.belief);
  }
});

test('the true beats are among the explanations, and their half and double', () => {
  const found = explain();
  for (const bpm of [62, 124, 248]) expect(found.some((one) => near(one, bpm))).toBe(true);
  const exact = found.filter(
    (one) =>
      near(one, 124) && one.steady && Array.from(one.beats).some((beat) => Math.abs(beat - 0.1) < 0.005),
  );
  expect(exact.length).toBeGreaterThan(0);
});

test('a range leaves nothing outside', () => {
  const found = explain({ range: { low: 90, high: 140 } });
  expect(found.length).toBeGreaterThan(0);
  for (const { bpm } of found) {
    expect(bpm).toBeGreaterThanOrEqual(89.9);
    expect(bpm).toBeLessThanOrEqual(140.1);
  }
  expect(explain({ range: { low: 299, high: 299.5 } }).every(({ bpm }) => bpm > 298)).toBe(true);
});

test.each([
  [{ beatsPerBar: 3, beatUnit: 4 }, 3],
  [{ beatsPerBar: 6, beatUnit: 8 }, 2],
  [{ beatsPerBar: 7, beatUnit: 8 }, 7],
  [{ beatsPerBar: 5, beatUnit: 4 }, 5],
])('a meter that is given is the only one: %j', (meter, felt) => {
  for (const { bars } of explain({ meter })) {
    expect(bars).toHaveLength(felt);
    for (const { beatsPerBar } of bars) expect(beatsPerBar).toBe(felt);
  }
});

test('what somebody says of the tempo adds to the belief in it, the more the surer they are', () => {
  const beliefIn = (bpm: number, found: readonly RhythmHypothesis[]) =>
    found.filter((one) => near(one, bpm)).reduce((sum, { sureness }) => sum + sureness, 0);
  const alone = beliefIn(62, explain());
  const unsure = beliefIn(62, explain({ expected: { tempo: { bpm: 62, sureness: 0.3 } } }));
  const sure = beliefIn(62, explain({ expected: { tempo: { bpm: 62, sureness: 1 } } }));
  expect(unsure).toBeGreaterThan(alone);
  expect(sure).toBeGreaterThan(unsure);
});

test('spans of whole bars lie in a short recording; nobody asks where a long one would loop', () => {
  for (const { bars } of explain())
    for (const { spans } of bars)
      for (const { start, end } of spans) {
        expect(start).toBeGreaterThan(-0.04);
        expect(end).toBeLessThan(16.04);
      }
  expect(explain().some(({ bar }) => bar.spans.length > 0)).toBe(true);
  const long = listenTo(steadyBeats(140, 124), 68);
  expect(explain({}, long).every(({ bars }) => bars.every(({ spans }) => spans.length === 0))).toBe(true);
});

test('a bar is believed with all its spans; of what is played freely they are offered and not weighed', () => {
  const noSpan = BARS.indexOf('noSpan');
  for (const { bars, context } of explain())
    for (const { score, observed, spans } of bars) {
      const ofSpans = spans.length ? logSumExp(spans.map((span) => span.score)) : 0;
      expect(score).toBeCloseTo(BARS.score(observed, context) + ofSpans, 9);
      expect(observed[noSpan]).toBe(spans.length ? 0 : 1);
    }
  const free = explain({ performance: true }).flatMap(({ bars, context }) =>
    bars.map((bar) => ({ ...bar, context })),
  );
  expect(free.some(({ spans }) => spans.length > 1)).toBe(true);
  for (const { score, observed, context } of free) {
    expect(score).toBeCloseTo(BARS.score(observed, context), 9);
    expect(observed[noSpan]).toBe(0);
  }
});

test('steady beats and followed ones look at each other: who explains more is told', () => {
  const beats = [0.1];
  while (beats[beats.length - 1] < 29) beats.push(beats[beats.length - 1] + 0.42 + 0.0035 * beats.length);
  const gain = (found: readonly RhythmHypothesis[], name: 'movingGain' | 'steadyLoss') =>
    Math.max(...found.map(({ observed }) => observed[LEVELS.indexOf(name)]));
  const drifting = explain({}, listenTo(beats, 29.5));
  expect(gain(drifting, 'movingGain')).toBeGreaterThan(0.1);
  const still = explain();
  expect(gain(still, 'movingGain')).toBeLessThan(0.1);
});

test('a file that is whole bars long has explanations that fill it', () => {
  const cut = listenTo(steadyBeats(16, 96, 0), (16 * 60) / 96);
  const filling = explain({}, cut).filter(({ origin }) => origin === 'length');
  const exact = filling.find(({ bpm }) => Math.abs(bpm - 96) < 0.02);
  expect(exact?.beats).toHaveLength(16);
  expect(exact?.beats[0]).toBe(0);
});

test('silence has no explanation', () => {
  const listener = createListener();
  listener.push(new Float32Array(5 * ANALYSIS_RATE));
  expect(explainRhythm(listener.finish())).toEqual([]);
});
