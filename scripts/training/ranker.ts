import { randomFrom } from '../../src/demo/random';
import { logSumExp } from '../../src/core/weights/logSumExp';
import type { Ranker } from '../../src/core/weights/weights';

/** One decision: options, each a row of observations, of which at least one is right. */
export interface Choice {
  right: boolean[];
  rows: Float32Array[];
  /** How much the choice counts; 1 where it is not given. */
  weight?: number;
}

/**
 * One decision over pairs: an outer option and one of its inner options; their scores add up. At least one
 * pair is right.
 */
export interface PairChoice {
  outer: Float32Array[];
  inner: Float32Array[][];
  right: boolean[][];
  weight?: number;
}

export interface RankerSettings {
  /** Units of the hidden layer; 0 for a plain conditional logit. */
  hidden: number;
  /** Pull of all weights towards 0, per choice of weight 1. */
  ridge: number;
  epochs: number;
  /**
   * Share of the observations that are hidden from each choice while it is learned from, others every time, so that
   * no weight rests on another (Srivastava et al. 2014).
   */
  dropout: number;
}

const BATCH = 16;

/**
 * Fits a ranker: the share of belief (softmax over a choice's options) that goes to right options is
 * maximised. Without hidden units this is a conditional logit (McFadden 1974); with them each option's score
 * also has a layer of tanh units on the same observations (a ranking network after Cao et al. 2007).
 */
export function fitRanker(
  choices: readonly Choice[],
  size: number,
  settings: RankerSettings,
  seed = 0,
): Ranker {
  const pairs = choices.map(({ right, rows, weight }) => ({
    outer: rows,
    inner: rows.map(() => [NOTHING]),
    right: right.map((one) => [one]),
    weight,
  }));
  return fitPairs(pairs, { size, settings }, { size: 0, settings: { ...settings, hidden: 0 } }, seed).outer;
}

const NOTHING = new Float32Array(0);

/**
 * Rankers that were fitted on the same rows as one whose score is the mean of theirs: what they got by chance
 * of their beginnings cancels (Hansen & Salamon 1990).
 */
export function together(rankers: readonly Ranker[]): Ranker {
  const [{ mean, scale, linear }] = rankers;
  const n = rankers.length;
  return {
    mean,
    scale,
    linear: Float64Array.from(linear, (_, i) => rankers.reduce((sum, one) => sum + one.linear[i], 0) / n),
    hidden: rankers.flatMap(({ hidden }) => hidden.map((unit) => ({ ...unit, out: unit.out / n }))),
  };
}

/** Fits the rankers of outer and inner options together: one conditional logit over all pairs. */
export function fitPairs(
  all: readonly PairChoice[],
  outer: { size: number; settings: RankerSettings },
  inner: { size: number; settings: RankerSettings },
  seed = 0,
): { outer: Ranker; inner: Ranker } {
  const choices = all.filter(({ right }) => {
    const flat = right.flat();
    return flat.includes(true) && flat.includes(false);
  });
  const random = randomFrom(4711 + seed);
  const outerNet = makeNet(
    choices.map((choice) => choice.outer),
    outer.size,
    outer.settings.hidden,
    random,
  );
  const innerNet = makeNet(
    choices.map((choice) => choice.inner.flat()),
    inner.size,
    inner.settings.hidden,
    random,
  );
  const total = choices.reduce((sum, { weight = 1 }) => sum + weight, 0);
  const order = choices.map((_, i) => i);
  const { epochs } = outer.settings;
  const steps = epochs * Math.ceil(choices.length / BATCH);
  let step = 0;
  for (let epoch = 0; epoch < epochs; epoch++) {
    for (let i = order.length - 1; i > 0; i--) {
      const j = Math.floor(random() * (i + 1));
      [order[i], order[j]] = [order[j], order[i]];
    }
    for (let from = 0; from < order.length; from += BATCH) {
      step++;
      let batchWeight = 0;
      for (const c of order.slice(from, from + BATCH)) {
        const { right, weight = 1 } = choices[c];
        const outerRows = outerNet.data[c];
        const innerRows = innerNet.data[c];
        batchWeight += weight;
        outerNet.drop(outer.settings.dropout);
        innerNet.drop(inner.settings.dropout);
        const outerSeen = outerNet.scores(outerRows);
        const innerSeen = innerNet.scores(innerRows);
        const outerScores = outerSeen.scores;
        const innerScores = innerSeen.scores;
        let top = -Infinity;
        let at = 0;
        right.forEach((ones, o) =>
          ones.forEach(() => {
            top = Math.max(top, outerScores[o] + innerScores[at++]);
          }),
        );
        const beliefs = new Float64Array(innerScores.length);
        let sum = 0;
        let sumRight = 0;
        at = 0;
        right.forEach((ones, o) =>
          ones.forEach((isRight) => {
            const belief = Math.exp(outerScores[o] + innerScores[at] - top);
            beliefs[at++] = belief;
            sum += belief;
            if (isRight) sumRight += belief;
          }),
        );
        at = 0;
        right.forEach((ones, o) => {
          let pullOuter = 0;
          for (const isRight of ones) {
            const belief = beliefs[at] / sum;
            const pull = weight * ((isRight ? beliefs[at] / Math.max(1e-300, sumRight) : 0) - belief);
            pullOuter += pull;
            if (Math.abs(pull) > 1e-5) innerNet.learn(innerRows, innerSeen, at, pull);
            at++;
          }
          if (Math.abs(pullOuter) > 1e-5) outerNet.learn(outerRows, outerSeen, o, pullOuter);
        });
        outerNet.learned();
        innerNet.learned();
      }
      const rate = 0.008 * Math.min(1, 2.5 * (1 - step / (steps + 1)));
      outerNet.step(step, rate, (outer.settings.ridge * batchWeight) / total);
      innerNet.step(step, rate, (inner.settings.ridge * batchWeight) / total);
    }
  }
  return { outer: outerNet.ranker(), inner: innerNet.ranker() };
}

interface NetRows {
  rows: number;
  flat: Float32Array;
}
interface NetScores {
  scores: Float64Array;
  active: Float64Array;
}

/** A linear score with `hidden` tanh units beside it, fitted by Adam (Kingma & Ba 2015) on standardised rows. */
function makeNet(
  rowsOfChoices: readonly (readonly Float32Array[])[],
  size: number,
  hidden: number,
  random: () => number,
) {
  const { mean, scale } = standardOf(rowsOfChoices, size);
  // One stretch of memory per choice: its rows one after the other.
  const data = rowsOfChoices.map((rows) => {
    const flat = new Float32Array(rows.length * size);
    rows.forEach((row, r) => {
      for (let i = 0, at = r * size; i < size; i++, at++) flat[at] = (row[i] - mean[i]) * scale[i];
    });
    return { rows: rows.length, flat };
  });
  // One list of parameters: linear, hidden inputs, biases, outputs.
  const count = size + hidden * (size + 2);
  const parameters = new Float64Array(count);
  const biasAt = size + hidden * size;
  const outAt = biasAt + hidden;
  for (let i = size; i < biasAt; i++)
    parameters[i] = ((random() + random() + random() - 1.5) * 1.2) / Math.sqrt(size);
  for (let h = 0; h < hidden; h++) parameters[outAt + h] = (random() - 0.5) * 0.4;
  // What is hidden counts nothing, what is seen as much more. `seen` are the parameters under that.
  const mask = new Float64Array(size).fill(1);
  const seen = new Float64Array(count);
  const ofChoice = new Float64Array(count);
  const gradient = new Float64Array(count);
  const momentum = new Float64Array(count);
  const square = new Float64Array(count);

  return {
    data,
    /** Hides a share of the observations from the next choice. */
    drop(share: number) {
      if (share > 0) for (let i = 0; i < size; i++) mask[i] = random() < share ? 0 : 1 / (1 - share);
      seen.set(parameters);
      for (let p = 0, i = 0; p < biasAt; p++, i = i + 1 < size ? i + 1 : 0) seen[p] *= mask[i];
    },
    /** Scores of all rows of a choice, and what the hidden units answered to each. */
    scores({ rows, flat }: NetRows): NetScores {
      const scores = new Float64Array(rows);
      const active = new Float64Array(rows * hidden);
      for (let r = 0; r < rows; r++) {
        const from = r * size;
        let sum = 0;
        for (let i = 0; i < size; i++) sum += seen[i] * flat[from + i];
        for (let h = 0, p = size; h < hidden; h++) {
          let input = seen[biasAt + h];
          for (let i = 0; i < size; i++, p++) input += seen[p] * flat[from + i];
          const answer = Math.tanh(input);
          active[r * hidden + h] = answer;
          sum += seen[outAt + h] * answer;
        }
        scores[r] = sum;
      }
      return { scores, active };
    },
    learn({ flat }: NetRows, { active }: NetScores, row: number, pull: number) {
      const from = row * size;
      for (let i = 0; i < size; i++) ofChoice[i] += pull * flat[from + i];
      for (let h = 0, p = size; h < hidden; h++) {
        const answer = active[row * hidden + h];
        ofChoice[outAt + h] += pull * answer;
        const back = pull * seen[outAt + h] * (1 - answer * answer);
        ofChoice[biasAt + h] += back;
        for (let i = 0; i < size; i++, p++) ofChoice[p] += back * flat[from + i];
      }
    },
    /** Ends a choice. */
    learned() {
      for (let p = 0, i = 0; p < biasAt; p++, i = i + 1 < size ? i + 1 : 0)
        gradient[p] += ofChoice[p] * mask[i];
      for (let p = biasAt; p < count; p++) gradient[p] += ofChoice[p];
      ofChoice.fill(0);
    },
    step(step: number, rate: number, shrink: number) {
      for (let i = 0; i < count; i++) {
        const slope = gradient[i] - shrink * parameters[i];
        gradient[i] = 0;
        momentum[i] = 0.9 * momentum[i] + 0.1 * slope;
        square[i] = 0.999 * square[i] + 0.001 * slope * slope;
        const m = momentum[i] / (1 - 0.9 ** step);
        const v = square[i] / (1 - 0.999 ** step);
        parameters[i] += (rate * m) / (Math.sqrt(v) + 1e-6);
      }
    },
    ranker: (): Ranker => ({
      mean,
      scale,
      linear: parameters.slice(0, size),
      hidden: Array.from({ length: hidden }, (_, h) => ({
        into: parameters.slice(size + h * size, size + (h + 1) * size),
        bias: parameters[biasAt + h],
        out: parameters[outAt + h],
      })),
    }),
  };
}

/** Mean of each observation, and one over its spread about the mean of its choice. */
function standardOf(rowsOfChoices: readonly (readonly Float32Array[])[], size: number) {
  const mean = new Float64Array(size);
  const within = new Float64Array(size);
  let rowCount = 0;
  for (const rows of rowsOfChoices) {
    const own = new Float64Array(size);
    for (const row of rows) for (let i = 0; i < size; i++) own[i] += row[i] / rows.length;
    for (const row of rows) for (let i = 0; i < size; i++) within[i] += (row[i] - own[i]) ** 2 / rows.length;
    for (let i = 0; i < size; i++) mean[i] += own[i] * rows.length;
    rowCount += rows.length;
  }
  for (let i = 0; i < size; i++) mean[i] /= Math.max(1, rowCount);
  // A floor, so that an observation that hardly ever differs does not get an enormous weight.
  const scale = within.map((sum) => 1 / Math.max(0.05, Math.sqrt(sum / Math.max(1, rowsOfChoices.length))));
  return { mean, scale };
}

/** Scores that options got, and which of them are right. */
export interface Judged {
  scores: number[];
  right: boolean[];
}

/**
 * The temperature under which beliefs of held-out decisions fit best: the likelihood of what is right is
 * largest (temperature scaling, Guo et al. 2017).
 */
export function fitTemperature(decisions: readonly Judged[]): number {
  const usable = decisions.filter(({ right }) => right.includes(true));
  const loss = (temperature: number) =>
    usable.reduce((sum, { scores, right }) => {
      const tempered = scores.map((score) => score / temperature);
      return sum + logSumExp(tempered) - logSumExp(tempered.filter((_, o) => right[o]));
    }, 0);
  let best = 1;
  for (let temperature = 0.5; temperature < 6; temperature *= 1.04)
    if (loss(temperature) < loss(best)) best = temperature;
  return usable.length ? best : 1;
}
