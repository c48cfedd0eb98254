import stored from './weights.json' with { type: 'json' };

/** The decisions that are taken by weighing observations. */
export type Decision = 'spans' | 'bars' | 'levels' | 'keys' | 'tonal' | 'oneshot';

/** The observations of one option, in the order of their names. */
export type Observed = Float64Array;

/** How observations count. */
interface Layer {
  linear: ArrayLike<number>;
  /** Units that answer tanh(bias + into · x), weighed by `out`. */
  hidden: { into: ArrayLike<number>; bias: number; out: number }[];
}

/** What fitting gives: observations are brought to zero mean and unit spread, then weighed. */
export interface Ranker {
  mean: ArrayLike<number>;
  /** One over the spread. */
  scale: ArrayLike<number>;
  /**
   * What they count in every recording, and what each number of the context adds to that: a weight is that of the first
   * layer and so many times that of each further one.
   */
  layers: Layer[];
}

/** A ranker as it is stored: layer by layer, observations by name: [linear, into of each hidden unit …]. */
export interface StoredRanker {
  /** What scores are divided by before they become beliefs, so that held-out recordings bear the beliefs out. */
  temperature: number;
  /** Mean and one over the spread of each observation. */
  standard: Record<string, number[]>;
  layers: { hidden: { bias: number; out: number }[]; observations: Record<string, number[]> }[];
}

/** What weights were fitted on and how: with the same commit they come out the same again. */
export interface WeightsMadeBy {
  commit: string;
  /** The version of Node: its elementary functions may differ in the last digit. */
  node: string;
  /** Of the command, without names of files and folders. */
  arguments: string[];
  /** Of the first practice piece and of the first fit; further ones count on from it. */
  seed: number;
  /** The recordings: their truth file by name, and a hash of it and of all their audio. */
  corpora: { name: string; sha256: string }[];
  /** Why they may not come out the same again. */
  remark?: string;
  /** The other fit and how much it counts, where scores are the mean of two (`npm run weights:beside`). */
  beside?: WeightsMadeBy & { share: number };
}

export type StoredWeights = Record<Decision, StoredRanker> & {
  /** Of the decisions about rhythm, and of those about key and kind; they can be fitted by themselves. */
  madeBy: Record<'rhythm' | 'sound', WeightsMadeBy>;
};

const NO_CONTEXT: readonly number[] = [];

let inUse = stored as unknown as StoredWeights;

/**
 * Weighs with these instead of the stored weights from now on: for what cross-validation fits, which has not seen the
 * recordings that it judges.
 */
export function weighWith(weights: StoredWeights) {
  inUse = weights;
}

/** Which observations a decision rests on and what they say together. */
export interface Weighing<Name extends string = string> {
  readonly names: readonly Name[];
  indexOf(name: Name): number;
  /** Observations by name as a vector; those that are left out are 0. Throws RangeError for an unknown name. */
  vector(named: Partial<Record<Name, number>>): Observed;
  /** Natural-log odds, up to a constant that all options share; `context` is what is known of the whole recording. */
  score(observed: Observed, context?: readonly number[]): number;
  /**
   * Of a yes-or-no decision: the belief, 0 … 1, in yes, which is weighed against an option of which nothing is
   * observed.
   */
  belief(observed: Observed): number;
  /** What scores are divided by before they become beliefs (Guo et al. 2017). */
  readonly temperature: number;
}

/**
 * Lays out the observations of a decision. Their weights are fitted by `npm run weights` and stand in a file
 * of their own; an observation that the file does not know weighs nothing.
 */
export function weighing<Name extends string>(decision: Decision, names: readonly Name[]): Weighing<Name> {
  const index = new Map(names.map((name, i) => [name, i]));
  const indexOf = (name: Name) => {
    const i = index.get(name);
    if (i === undefined) throw new RangeError(`${decision} have no observation ${name}`);
    return i;
  };
  let from: StoredWeights | null = null;
  let of: readonly number[] = [];
  let scorer: (observed: ArrayLike<number>) => number;
  let nothing = 0;
  const score = (observed: ArrayLike<number>, context: readonly number[] = NO_CONTEXT) => {
    // All options of a recording share one context.
    if (from !== inUse || of !== context) {
      from = inUse;
      of = context;
      scorer = scorerOf(rankerOf(decision, names), context);
      nothing = scorer(new Float64Array(names.length));
    }
    return scorer(observed);
  };
  return {
    names,
    indexOf,
    vector(named) {
      const observed = new Float64Array(names.length);
      for (const name in named) observed[indexOf(name)] = named[name]!;
      return observed;
    },
    score,
    belief(observed) {
      const yes = score(observed);
      return 1 / (1 + Math.exp((nothing - yes) / inUse[decision].temperature));
    },
    get temperature() {
      return inUse[decision].temperature;
    },
  };
}

/** Scores with a ranker in a context; its scaling is worked into the weights once. */
export function scorerOf(
  { mean, scale, layers }: Ranker,
  context: readonly number[] = NO_CONTEXT,
): (observed: ArrayLike<number>) => number {
  const size = mean.length;
  const used = layers.slice(0, 1 + context.length);
  const leaning = (of: (layer: Layer) => number) =>
    used.reduce((sum, layer, c) => sum + (c ? context[c - 1] : 1) * of(layer), 0);
  const folded = (of: (layer: Layer) => ArrayLike<number>) =>
    Float64Array.from({ length: size }, (_, i) => leaning((layer) => of(layer)[i]) * scale[i]);
  const shiftOf = (weights: Float64Array) => weights.reduce((sum, weight, i) => sum + weight * mean[i], 0);
  const linear = folded((layer) => layer.linear);
  const shift = shiftOf(linear);
  const hidden = layers[0].hidden.map((_, h) => {
    const weights = folded((layer) => layer.hidden[h].into);
    return {
      weights,
      bias: leaning((layer) => layer.hidden[h].bias) - shiftOf(weights),
      out: leaning((layer) => layer.hidden[h].out),
    };
  });
  return (observed) => {
    let score = -shift;
    for (let i = 0; i < size; i++) score += linear[i] * observed[i];
    for (const { weights, bias, out } of hidden) {
      let sum = bias;
      for (let i = 0; i < size; i++) sum += weights[i] * observed[i];
      score += out * Math.tanh(sum);
    }
    return score;
  };
}

/** The ranker of a decision that is in use. */
export function rankerOf(decision: Decision, names: readonly string[]): Ranker {
  const { standard, layers } = inUse[decision];
  return {
    mean: names.map((name) => standard[name]?.[0] ?? 0),
    scale: names.map((name) => standard[name]?.[1] ?? 1),
    layers: layers.map(({ hidden, observations }) => {
      const column = (c: number) => names.map((name) => observations[name]?.[c] ?? 0);
      return {
        linear: column(0),
        hidden: hidden.map(({ bias, out }, h) => ({ into: column(1 + h), bias, out })),
      };
    }),
  };
}

/** A ranker in the form in which it is stored, to four digits. */
export function toStored(
  { mean, scale, layers }: Ranker,
  names: readonly string[],
  temperature = 1,
): StoredRanker {
  const short = (value: number) => Number(value.toPrecision(4));
  const byName = (of: (i: number) => number[]) =>
    Object.fromEntries(names.map((name, i) => [name, of(i).map(short)]));
  return {
    temperature: short(temperature),
    standard: byName((i) => [mean[i], scale[i]]),
    layers: layers.map(({ linear, hidden }) => ({
      hidden: hidden.map(({ bias, out }) => ({ bias: short(bias), out: short(out) })),
      observations: byName((i) => [linear[i], ...hidden.map(({ into }) => into[i])]),
    })),
  };
}
