import type { StoredRanker, StoredWeights, WeightsMadeBy } from '@/core/weights/weights';

const DECISIONS = ['spans', 'bars', 'levels', 'keys', 'tonal', 'oneshot'] as const;
/** Digits that are stored. */
const short = (value: number) => Number(value.toPrecision(4));
/** Of an observation that a fit does not know. */
const UNKNOWN = [0, 1];

/**
 * The fit that scores as the weighted mean of two (an ensemble, Hansen & Salamon 1990). Fits of other recordings err in other
 * places; where one of them is unsure, the other has its say. `share`: how much the first counts, 0 … 1.
 */
export function besideEachOther(one: StoredRanker, other: StoredRanker, share: number): StoredRanker {
  const shares = [share, 1 - share];
  const names = [...new Set([...Object.keys(one.standard), ...Object.keys(other.standard)])];
  const standard = Object.fromEntries(
    names.map((name) => [name, one.standard[name] ?? other.standard[name]]),
  );
  const both = [one, other].map((fit) => restandardised(fit, standard));
  const layers = Array.from({ length: Math.max(one.layers.length, other.layers.length) }, (_, c) => {
    const parts = both.map((fit) => fit[c] ?? silentLayer(fit[0], names));
    return {
      hidden: parts.flatMap(({ hidden }, p) =>
        hidden.map(({ bias, out }) => ({ bias: short(bias), out: short(shares[p] * out) })),
      ),
      observations: Object.fromEntries(
        names.map((name) => {
          const columns = parts.map(({ observations }) => observations[name]);
          const linear = columns.reduce((sum, [first], p) => sum + shares[p] * first, 0);
          return [name, [linear, ...columns.flatMap(([, ...into]) => into)].map(short)];
        }),
      ),
    };
  });
  return {
    temperature: short(one.temperature ** share * other.temperature ** (1 - share)),
    standard,
    layers,
  };
}

type Layers = StoredRanker['layers'];

/** A fit's layers when observations are brought to another mean and spread: it scores as before, up to a constant. */
function restandardised({ standard: from, layers }: StoredRanker, to: StoredRanker['standard']): Layers {
  return layers.map(({ hidden, observations }) => {
    const moved = Object.keys(to).map((name) => {
      const [mean, scale] = from[name] ?? UNKNOWN;
      const columns = observations[name] ?? new Array<number>(1 + hidden.length).fill(0);
      return {
        name,
        columns: columns.map((weight) => (weight * scale) / to[name][1]),
        shifts: columns.map((weight) => weight * scale * (to[name][0] - mean)),
      };
    });
    return {
      hidden: hidden.map(({ bias, out }, h) => ({
        bias: moved.reduce((sum, { shifts }) => sum + shifts[1 + h], bias),
        out,
      })),
      observations: Object.fromEntries(moved.map(({ name, columns }) => [name, columns])),
    };
  });
}

/** What a context adds in a fit that knows none. */
const silentLayer = ({ hidden }: Layers[number], names: readonly string[]): Layers[number] => ({
  hidden: hidden.map(() => ({ bias: 0, out: 0 })),
  observations: Object.fromEntries(names.map((name) => [name, new Array<number>(1 + hidden.length).fill(0)])),
});

/** Weights whose every decision is the mean of two fits, of which the first counts `share`; they say how both were made. */
export function weightsBeside(one: StoredWeights, other: StoredWeights, share: number): StoredWeights {
  const made = (part: 'rhythm' | 'sound'): WeightsMadeBy => ({
    ...other.madeBy[part],
    beside: { share, ...one.madeBy[part] },
  });
  return {
    ...(Object.fromEntries(
      DECISIONS.map((decision) => [decision, besideEachOther(one[decision], other[decision], share)]),
    ) as Pick<StoredWeights, (typeof DECISIONS)[number]>),
    madeBy: { rhythm: made('rhythm'), sound: made('sound') },
  };
}
