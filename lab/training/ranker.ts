import { randomFrom } from '@/demo/random';
import type { Ranker } from '@/core/weights/weights';
import { makeNet } from './net';

/** One decision: options, each a row of observations, of which at least one is right. */
export interface Choice {
  right: boolean[];
  rows: Float32Array[];
  /** How much the choice counts; 1 where it is not given. */
  weight?: number;
}

/**
 * One decision in stages, as of a level, a bar on it and a span of such bars: the scores of what is chosen add up. At
 * least one way through the stages is right.
 */
export interface StagedChoice {
  /** What is observed of the options of each stage: row after row, since there are very many. */
  rows: Float32Array[];
  /** Every way through the stages: the option of each stage, or -1 where it takes none; way after way. */
  ways: Int32Array;
  right: boolean[];
  /** What is known of the whole recording, by which the weights lean one way or the other; the same for all stages. */
  context?: readonly number[];
  /** How much the choice counts; 1 where it is not given. */
  weight?: number;
}

/** What is observed in a stage, and how it is fitted. */
export interface StageSettings {
  size: number;
  settings: RankerSettings;
}

export interface RankerSettings {
  /** Units of the hidden layer; 0 for a plain conditional logit. */
  hidden: number;
  /** Pull of all weights towards 0, per choice of weight 1. */
  ridge: number;
  /** How much harder what a context adds to the weights is pulled; 1 where it is not given. */
  contextRidge?: number;
  epochs: number;
  /**
   * Share of the observations that are hidden from each choice while it is learned from, others every time, so that
   * no weight rests on another (Srivastava et al. 2014).
   */
  dropout: number;
}

const BATCH = 16;
/**
 * Of so many wrong options of the first stage a choice is learned from, others every time: a conditional logit may be
 * fitted on a sample (McFadden 1978), and most wrong ones are wrong beyond doubt.
 */
const WRONG_SEEN = 40;

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
  const staged = choices.map(({ right, rows, weight }): StagedChoice => {
    const flat = new Float32Array(rows.length * size);
    rows.forEach((row, r) => flat.set(row, r * size));
    return { rows: [flat], ways: Int32Array.from(rows.keys()), right, weight };
  });
  return fitStages(staged, [{ size, settings }], seed)[0];
}

/**
 * Rankers that were fitted on the same rows as one whose score is the mean of theirs: what they got by chance
 * of their beginnings cancels (Hansen & Salamon 1990).
 */
export function together(rankers: readonly Ranker[]): Ranker {
  const [{ mean, scale, layers }] = rankers;
  const n = rankers.length;
  return {
    mean,
    scale,
    layers: layers.map(({ linear }, c) => ({
      linear: Float64Array.from(
        linear,
        (_, i) => rankers.reduce((sum, one) => sum + one.layers[c].linear[i], 0) / n,
      ),
      hidden: rankers.flatMap((one) => one.layers[c].hidden.map((unit) => ({ ...unit, out: unit.out / n }))),
    })),
  };
}

/** Fits the rankers of all stages together: one conditional logit over all ways through them. */
export function fitStages(
  all: readonly StagedChoice[],
  stages: readonly StageSettings[],
  seed = 0,
): Ranker[] {
  const choices = all.filter(({ right }) => right.includes(true) && right.includes(false));
  const random = randomFrom(4711 + seed);
  const contexts = 1 + Math.max(0, ...choices.map(({ context }) => context?.length ?? 0));
  const nets = stages.map(({ size, settings }, s) =>
    makeNet(
      choices.map(({ rows }) => rows[s]),
      size,
      settings,
      contexts,
      random,
    ),
  );
  const total = choices.reduce((sum, { weight = 1 }) => sum + weight, 0);
  const branches = choices.map((choice) => branchesOf(choice, stages.length));
  const order = choices.map((_, i) => i);
  const { epochs } = stages[0].settings;
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
        const { weight = 1, context = [] } = choices[c];
        batchWeight += weight;
        nets.forEach((net, s) => net.drop(stages[s].settings.dropout, context));
        const ways = someWays(branches[c], random);
        const used = stages.map((_, s) => optionsOf(choices[c], ways, s, stages.length));
        const seen = nets.map((net, s) => net.scores(net.data[c], used[s].options));
        const pulls = pullsOf(
          choices[c],
          ways,
          used.map(({ places }) => places),
          seen.map(({ scores }) => scores),
        );
        nets.forEach((net, s) => {
          net.learn(seen[s], pulls[s], weight);
          net.learned();
        });
      }
      const rate = 0.008 * Math.min(1, 2.5 * (1 - step / (steps + 1)));
      nets.forEach((net, s) => net.step(step, rate, (stages[s].settings.ridge * batchWeight) / total));
    }
  }
  return nets.map((net) => net.ranker());
}

/** The ways that begin with each option of the first stage: those options of which one is right, and the others. */
interface Branches {
  right: number[][];
  wrong: number[][];
}

function branchesOf({ ways, right }: StagedChoice, stages: number): Branches {
  const byOption = new Map<number, number[]>();
  right.forEach((_, w) => {
    const option = ways[w * stages];
    const branch = byOption.get(option);
    if (branch) branch.push(w);
    else byOption.set(option, [w]);
  });
  const all = [...byOption.values()];
  const isRight = (branch: number[]) => branch.some((w) => right[w]);
  return { right: all.filter(isRight), wrong: all.filter((branch) => !isRight(branch)) };
}

/** All ways through the right branches and through some of the wrong ones. */
function someWays({ right, wrong }: Branches, random: () => number): number[] {
  if (wrong.length <= WRONG_SEEN) return [...right, ...wrong].flat();
  for (let i = 0; i < WRONG_SEEN; i++) {
    const j = i + Math.floor(random() * (wrong.length - i));
    [wrong[i], wrong[j]] = [wrong[j], wrong[i]];
  }
  return [...right, ...wrong.slice(0, WRONG_SEEN)].flat();
}

/** The options of a stage that some ways take, and of each way the place of its own among them, or -1. */
function optionsOf({ ways }: StagedChoice, some: readonly number[], stage: number, stages: number) {
  const options: number[] = [];
  const places = new Int32Array(some.length);
  // Ways that share an option follow each other.
  for (let i = 0; i < some.length; i++) {
    const option = ways[some[i] * stages + stage];
    if (option >= 0 && option !== options[options.length - 1]) options.push(option);
    places[i] = option < 0 ? -1 : options.length - 1;
  }
  return { options, places };
}

/** How much more belief than now each option of each stage should get: the slope of the likelihood of what is right. */
function pullsOf(
  { right }: StagedChoice,
  some: readonly number[],
  places: readonly Int32Array[],
  scores: readonly Float64Array[],
): Float64Array[] {
  const beliefs = new Float64Array(some.length);
  let top = -Infinity;
  for (let i = 0; i < some.length; i++) {
    for (let s = 0; s < scores.length; s++) if (places[s][i] >= 0) beliefs[i] += scores[s][places[s][i]];
    top = Math.max(top, beliefs[i]);
  }
  let sum = 0;
  let sumRight = 0;
  for (let i = 0; i < some.length; i++) {
    beliefs[i] = Math.exp(beliefs[i] - top);
    sum += beliefs[i];
    if (right[some[i]]) sumRight += beliefs[i];
  }
  const pulls = scores.map(({ length }) => new Float64Array(length));
  for (let i = 0; i < some.length; i++) {
    const pull = (right[some[i]] ? beliefs[i] / Math.max(1e-300, sumRight) : 0) - beliefs[i] / sum;
    for (let s = 0; s < scores.length; s++) if (places[s][i] >= 0) pulls[s][places[s][i]] += pull;
  }
  return pulls;
}
