import { TONAL } from '../harmony/key';
import { ONESHOT } from '../measurement/kind';
import { logSumExp } from './logSumExp';
import stored from './weights.json' with { type: 'json' };
import { scorerOf, toStored, weighing, weighWith, type Ranker, type StoredWeights } from './weights';

const TONAL_OR_KIND = { tonal: TONAL.names, oneshot: ONESHOT.names };
const ranker: Ranker = {
  mean: [1, -2],
  scale: [0.5, 4],
  layers: [{ linear: [3, -1], hidden: [{ into: [0.3, 0.2], bias: -0.4, out: 2 }] }],
};

test('a score is the weighing of standardised observations and of the hidden unit', () => {
  const [a, b] = [(5 - 1) * 0.5, (-1.5 + 2) * 4];
  const expected = 3 * a - b + 2 * Math.tanh(-0.4 + 0.3 * a + 0.2 * b);
  expect(scorerOf(ranker)([5, -1.5])).toBeCloseTo(expected, 10);
});

test('observations at their mean move nothing but the hidden bias', () => {
  expect(scorerOf(ranker)([1, -2])).toBeCloseTo(2 * Math.tanh(-0.4), 10);
});

test('a context makes observations count more or less', () => {
  const leaning: Ranker = {
    ...ranker,
    layers: [...ranker.layers, { linear: [0, 1], hidden: [{ into: [0.1, 0], bias: 0.5, out: -1 }] }],
  };
  const [a, b] = [(5 - 1) * 0.5, (-1.5 + 2) * 4];
  const by = (c: number) =>
    3 * a + (c - 1) * b + (2 - c) * Math.tanh(-0.4 + 0.5 * c + (0.3 + 0.1 * c) * a + 0.2 * b);
  for (const c of [-1, 0, 0.7]) expect(scorerOf(leaning, [c])([5, -1.5])).toBeCloseTo(by(c), 10);
  expect(scorerOf(leaning)([5, -1.5])).toBeCloseTo(by(0), 10);
  // Weights that know of no context are the same in all.
  expect(scorerOf(ranker, [3])([5, -1.5])).toBeCloseTo(by(0), 10);
});

test('what is stored has the observations by name, to four digits', () => {
  const [layer] = ranker.layers;
  expect(
    toStored({ ...ranker, layers: [{ ...layer, linear: [3.14159265, -1] }] }, ['rise', 'fall'], 1.5),
  ).toEqual({
    temperature: 1.5,
    standard: { rise: [1, 0.5], fall: [-2, 4] },
    layers: [
      {
        hidden: [{ bias: -0.4, out: 2 }],
        observations: { rise: [3.142, 0.3], fall: [-1, 0.2] },
      },
    ],
  });
});

test('observations are laid out by name, unknown names are refused', () => {
  const layout = weighing('spans', ['exact', 'before']);
  expect(Array.from(layout.vector({ before: 2 }))).toEqual([0, 2]);
  expect(layout.indexOf('before')).toBe(1);
  expect(() => layout.indexOf('nothing' as 'exact')).toThrow(RangeError);
});

test('an observation that was never fitted weighs nothing', () => {
  const layout = weighing('spans', ['never fitted']);
  expect(layout.score(Float64Array.from([1000]))).toBe(0);
});

test('other weights can be put in the place of the stored ones, and back', () => {
  const layout = weighing('spans', ['never fitted']);
  const own = stored as unknown as StoredWeights;
  const spans = toStored(
    { mean: [1], scale: [2], layers: [{ linear: [3], hidden: [] }] },
    ['never fitted'],
    1.5,
  );
  try {
    weighWith({ ...own, spans });
    expect(layout.score(Float64Array.from([5]))).toBeCloseTo(3 * 2 * (5 - 1), 10);
    expect(layout.belief(Float64Array.from([1.5]))).toBeCloseTo(1 / (1 + Math.exp(-(3 * 2 * 1.5) / 1.5)), 10);
  } finally {
    weighWith(own);
  }
  expect(layout.score(Float64Array.from([5]))).toBe(0);
});

test('where nothing is observed, yes and no are even', () => {
  for (const decision of ['tonal', 'oneshot'] as const) {
    const layout = weighing(decision, TONAL_OR_KIND[decision]);
    expect(layout.belief(new Float64Array(layout.names.length))).toBeCloseTo(0.5, 12);
  }
});

describe('the logarithm of a sum of exponentials', () => {
  test('is exact where the sum is', () => {
    expect(logSumExp([Math.log(2), Math.log(3)])).toBeCloseTo(Math.log(5), 12);
  });
  test('does not overflow', () => {
    expect(logSumExp([1000, 1000])).toBeCloseTo(1000 + Math.log(2), 9);
  });
  test('of nothing is minus infinity', () => {
    expect(logSumExp([])).toBe(-Infinity);
  });
});
