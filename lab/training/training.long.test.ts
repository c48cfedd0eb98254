import { randomFrom } from '@/demo/random';
import { scorerOf } from '@/core/weights/weights';
import { practicePiece } from './practice';
import { practiceOneShot } from './practiceOneShots';
import { fitRanker, fitStages, type Choice } from './ranker';

const random = randomFrom(12);
const gauss = () => random() + random() + random() + random() - 2;

/** Choices of six options where the best `truth(row)` is right. */
function choicesBy(truth: (row: Float32Array) => number, count: number, size: number): Choice[] {
  return Array.from({ length: count }, () => {
    const rows = Array.from({ length: 6 }, () => Float32Array.from({ length: size }, gauss));
    const scores = rows.map(truth);
    return { rows, right: scores.map((score) => score === Math.max(...scores)) };
  });
}

function shareRight(choices: Choice[], score: (row: Float32Array) => number): number {
  const right = choices.filter(({ rows, right: ones }) => {
    const scores = rows.map(score);
    return ones[scores.indexOf(Math.max(...scores))];
  });
  return right.length / choices.length;
}

test('a linear ranker learns a linear preference', () => {
  const truth = (row: Float32Array) => 2 * row[0] - row[1] + 0.5 * row[2];
  const ranker = fitRanker(choicesBy(truth, 400, 4), 4, { hidden: 0, ridge: 0.1, epochs: 30, dropout: 0 });
  expect(shareRight(choicesBy(truth, 300, 4), scorerOf(ranker))).toBeGreaterThan(0.93);
});

test('hidden units learn what a linear ranker cannot', () => {
  const truth = (row: Float32Array) => -Math.abs(row[0] - 0.5) - Math.abs(row[1]);
  const [train, held] = [choicesBy(truth, 600, 3), choicesBy(truth, 300, 3)];
  const linear = fitRanker(train, 3, { hidden: 0, ridge: 0.1, epochs: 40, dropout: 0 });
  const bent = fitRanker(train, 3, { hidden: 8, ridge: 0.1, epochs: 40, dropout: 0 });
  expect(shareRight(held, scorerOf(linear))).toBeLessThan(0.5);
  expect(shareRight(held, scorerOf(bent))).toBeGreaterThan(0.75);
});

test('with dropout, observations that say the same share the weight', () => {
  // The first says it all, the second nearly as much.
  const choices = Array.from({ length: 300 }, () => {
    const values = Array.from({ length: 4 }, gauss);
    const rows = values.map((value) => Float32Array.from([value, value + 0.5 * gauss()]));
    return { rows, right: values.map((value) => value === Math.max(...values)) };
  });
  const evenness = (dropout: number) => {
    const [{ linear }] = fitRanker(choices, 2, { hidden: 0, ridge: 0.1, epochs: 150, dropout }).layers;
    return linear[1] / linear[0];
  };
  const [shared, alone] = [evenness(0.3), evenness(0)];
  expect(shared).toBeGreaterThan(1.4 * Math.abs(alone));
});

test('a context says which way an observation counts', () => {
  // The first is right where the context is high, the second where it is low.
  const choices = Array.from({ length: 400 }, () => {
    const context = [Math.round(gauss()) > 0 ? 1 : -1];
    const values = Array.from({ length: 3 }, gauss);
    const best = context[0] > 0 ? Math.max(...values) : Math.min(...values);
    return {
      rows: [Float32Array.from(values)],
      ways: Int32Array.from([0, 1, 2]),
      right: values.map((value) => value === best),
      context,
    };
  });
  const settings = { hidden: 0, ridge: 0.1, epochs: 30, dropout: 0 };
  const [ranker] = fitStages(choices.slice(0, 300), [{ size: 1, settings }]);
  const found = choices.slice(300).filter(({ rows, right, context }) => {
    const scores = Array.from(rows[0], (value) => scorerOf(ranker, context)([value]));
    return right[scores.indexOf(Math.max(...scores))];
  });
  expect(found.length).toBeGreaterThan(95);
});

test('stages are learned together: what only the sum tells', () => {
  const choices = Array.from({ length: 300 }, () => {
    const outer = Float32Array.from({ length: 4 }, gauss);
    const inner = Float32Array.from({ length: 12 }, gauss);
    const sums = Array.from(inner, (one, i) => outer[Math.floor(i / 3)] + 2 * one);
    return {
      rows: [outer, inner],
      ways: Int32Array.from(sums.flatMap((_, i) => [Math.floor(i / 3), i])),
      right: sums.map((sum) => sum === Math.max(...sums)),
    };
  });
  const settings = { hidden: 0, ridge: 0.1, epochs: 30, dropout: 0 };
  const [outer, inner] = fitStages(choices, [
    { size: 1, settings },
    { size: 1, settings },
  ]);
  const weight = ({ layers, scale }: typeof outer) => layers[0].linear[0] * scale[0];
  expect(weight(inner) / weight(outer)).toBeCloseTo(2, 0);
});

test('a way that leaves a stage out takes no score from it', () => {
  // The first option goes on to one of two, the second ends there; the first is right where the better of the two is
  // high, so that the second has to be worth what lies between.
  const choices = Array.from({ length: 400 }, () => {
    const inner = Float32Array.from([gauss(), gauss()]);
    const high = Math.max(...inner) > 1;
    return {
      rows: [Float32Array.from([0, 1]), inner],
      ways: Int32Array.from([0, 0, 0, 1, 1, -1]),
      right: [high && inner[0] > inner[1], high && inner[1] > inner[0], !high],
    };
  });
  const settings = { hidden: 0, ridge: 0.1, epochs: 60, dropout: 0 };
  const [outer, inner] = fitStages(choices, [
    { size: 1, settings },
    { size: 1, settings },
  ]);
  const weight = ({ layers, scale }: typeof outer) => layers[0].linear[0] * scale[0];
  const threshold = weight(outer) / weight(inner);
  expect(threshold + inner.mean[0]).toBeGreaterThan(0.8);
  expect(threshold + inner.mean[0]).toBeLessThan(1.3);
});

test('choices that are all right or all wrong teach nothing', () => {
  const rows = [Float32Array.from([1]), Float32Array.from([2])];
  const ranker = fitRanker(
    [
      { rows, right: [true, true] },
      { rows, right: [false, false] },
    ],
    1,
    { hidden: 0, ridge: 1, epochs: 5, dropout: 0 },
  );
  expect(Math.abs(ranker.layers[0].linear[0])).toBeLessThan(1e-9);
});

describe('practice pieces', () => {
  test('are the same for the same seed', () => {
    const [{ samples, ...one }, { samples: again, ...other }] = [practicePiece(7), practicePiece(7)];
    expect(other).toEqual(one);
    // As bytes: a matcher takes ten seconds to go through them.
    for (const [a, b] of [
      [samples, again],
      [practiceOneShot(7), practiceOneShot(7)],
    ])
      expect(Buffer.from(a.buffer).equals(Buffer.from(b.buffer))).toBe(true);
  });

  test.each([0, 1, 2, 3, 4, 5, 6, 7])('seed %i has a truth that fits its audio', (seed) => {
    const { truth, samples, rate } = practicePiece(seed);
    const seconds = samples.length / rate;
    const beats = truth.beats!;
    expect(beats.length).toBeGreaterThan(1);
    for (let k = 1; k < beats.length; k++) expect(beats[k]).toBeGreaterThan(beats[k - 1]);
    expect(truth.downbeats!.every((time) => beats.includes(time))).toBe(true);
    expect(beats.at(-1)!).toBeLessThan(seconds);
    if (truth.loopEnd != null) {
      expect(truth.loopStart!).toBeCloseTo(beats[0], 6);
      expect(truth.loopEnd).toBeLessThanOrEqual(seconds + 0.01);
    }
    expect(samples.every((value) => Math.abs(value) <= 1.01)).toBe(true);
  });

  test.each([
    [1, 36],
    [2, 54],
    [4, 12],
    [8, 2],
    [16, 19],
  ])('loops have up to sixteen bars: %i of seed %i', (bars, seed) => {
    const { truth } = practicePiece(seed);
    expect(truth.bars).toBe(bars);
    expect(truth.downbeats).toHaveLength(bars);
    const seconds = truth.loopEnd! - truth.loopStart!;
    expect(seconds / bars).toBeCloseTo((60 / truth.bpm!) * truth.beatsPerBar!, 1);
    expect(seconds).toBeLessThan(40);
  });

  test.each([
    [1, 59],
    [4, 72],
    [7, 93],
  ])('a stem is silent for its first bars, which are bars of it: %i of seed %i', (silent, seed) => {
    const { truth, samples, rate } = practicePiece(seed);
    const heard = samples.findIndex((value) => Math.abs(value) > 0.01) / rate;
    expect(truth.loopStart).toBe(0);
    expect(truth.downbeats![0]).toBeCloseTo(0, 6);
    expect(Math.abs(heard - truth.downbeats![silent])).toBeLessThan(0.05);
  });
});
