import { rankerOf, scorerOf, weighWith, type StoredRanker, type StoredWeights } from '@/core/weights/weights';
import stored from '@/core/weights/weights.json' with { type: 'json' };
import { randomFrom } from '@/demo/random';
import { besideEachOther, weightsBeside } from './beside';

// Other suites of this process weigh with what is stored.
afterAll(() => weighWith(stored as unknown as StoredWeights));

const random = randomFrom(11);
const number = () => 2 * random() - 1;

/** A fit of some observations with hidden units, and with what numbers of a context add. */
function fitOf(names: readonly string[], units: number, contexts: number): StoredRanker {
  const layer = () => ({
    hidden: Array.from({ length: units }, () => ({ bias: number(), out: number() })),
    observations: Object.fromEntries(
      names.map((name) => [name, Array.from({ length: 1 + units }, () => number())]),
    ),
  });
  return {
    temperature: 1 + random(),
    standard: Object.fromEntries(names.map((name) => [name, [number(), 0.5 + random()]])),
    layers: Array.from({ length: 1 + contexts }, layer),
  };
}

function scoresOf(fit: StoredRanker, names: readonly string[], rows: number[][], context: number[]) {
  weighWith({ levels: fit } as StoredWeights);
  return rows.map(scorerOf(rankerOf('levels', names), context));
}

test('two fits beside each other score as the weighted mean of both, in every context, also where one knows less', () => {
  const names = ['density', 'repeats', 'tempo', 'accents'];
  const rows = Array.from({ length: 12 }, () => names.map(() => 3 * number()));
  const one = fitOf(names.slice(0, 3), 2, 0);
  const other = fitOf(names.slice(1), 5, 2);
  const both = besideEachOther(one, other, 0.7);
  for (const context of [[], [1, 0], [0.4, -0.7]]) {
    const [a, b, mean] = [one, other, both].map((fit) => scoresOf(fit, names, rows, context));
    // Scores of options stand beside each other: what all of them share is of no account.
    rows.forEach((_, r) =>
      expect(mean[r] - mean[0]).toBeCloseTo(0.7 * (a[r] - a[0]) + 0.3 * (b[r] - b[0]), 2),
    );
  }
  const temperatures = [one.temperature, other.temperature].sort();
  expect(both.temperature).toBeGreaterThan(temperatures[0] - 0.001);
  expect(both.temperature).toBeLessThan(temperatures[1] + 0.001);
});

test('the file says how both were made', () => {
  const made = (commit: string) => ({ commit, node: '', arguments: [], seed: 0, corpora: [] });
  const weights = (commit: string) =>
    ({
      ...Object.fromEntries(
        ['spans', 'bars', 'levels', 'keys', 'tonal', 'oneshot'].map((name) => [name, fitOf(['one'], 1, 0)]),
      ),
      madeBy: { rhythm: made(commit), sound: made(commit) },
    }) as unknown as StoredWeights;
  const { madeBy } = weightsBeside(weights('first'), weights('second'), 0.7);
  expect(madeBy.rhythm).toMatchObject({ commit: 'second', beside: { commit: 'first', share: 0.7 } });
  expect(madeBy.sound.beside!.commit).toBe('first');
});
