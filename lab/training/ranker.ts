import { randomFrom } from '@/demo/random';
import { logSumExp } from '@/core/weights/logSumExp';
import type { Ranker } from '@/core/weights/weights';

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
  const [{ mean, scale, linear }] = rankers;
  const n = rankers.length;
  return {
    mean,
    scale,
    linear: Float64Array.from(linear, (_, i) => rankers.reduce((sum, one) => sum + one.linear[i], 0) / n),
    hidden: rankers.flatMap(({ hidden }) => hidden.map((unit) => ({ ...unit, out: unit.out / n }))),
  };
}

/** A pull that is smaller teaches nothing that is worth its time. */
const LEAST_PULL = 1e-5;

/** Fits the rankers of all stages together: one conditional logit over all ways through them. */
export function fitStages(
  all: readonly StagedChoice[],
  stages: readonly StageSettings[],
  seed = 0,
): Ranker[] {
  const choices = all.filter(({ right }) => right.includes(true) && right.includes(false));
  const random = randomFrom(4711 + seed);
  const nets = stages.map(({ size, settings }, s) =>
    makeNet(
      choices.map(({ rows }) => rows[s]),
      size,
      settings.hidden,
      random,
    ),
  );
  const total = choices.reduce((sum, { weight = 1 }) => sum + weight, 0);
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
        const { weight = 1 } = choices[c];
        batchWeight += weight;
        nets.forEach((net, s) => net.drop(stages[s].settings.dropout));
        const seen = nets.map((net) => net.scores(net.data[c]));
        const pulls = pullsOf(
          choices[c],
          seen.map(({ scores }) => scores),
        );
        nets.forEach((net, s) => {
          pulls[s].forEach((pull, option) => {
            if (Math.abs(pull) > LEAST_PULL) net.learn(net.data[c], seen[s], option, weight * pull);
          });
          net.learned();
        });
      }
      const rate = 0.008 * Math.min(1, 2.5 * (1 - step / (steps + 1)));
      nets.forEach((net, s) => net.step(step, rate, (stages[s].settings.ridge * batchWeight) / total));
    }
  }
  return nets.map((net) => net.ranker());
}

/** How much more belief than now each option of each stage should get: the slope of the likelihood of what is right. */
function pullsOf({ ways, right }: StagedChoice, scores: readonly Float64Array[]): Float64Array[] {
  const stages = scores.length;
  const beliefs = new Float64Array(right.length);
  let top = -Infinity;
  for (let w = 0, at = 0; w < right.length; w++) {
    for (let s = 0; s < stages; s++, at++) if (ways[at] >= 0) beliefs[w] += scores[s][ways[at]];
    top = Math.max(top, beliefs[w]);
  }
  let sum = 0;
  let sumRight = 0;
  for (let w = 0; w < right.length; w++) {
    beliefs[w] = Math.exp(beliefs[w] - top);
    sum += beliefs[w];
    if (right[w]) sumRight += beliefs[w];
  }
  const pulls = scores.map(({ length }) => new Float64Array(length));
  for (let w = 0, at = 0; w < right.length; w++) {
    const pull = (right[w] ? beliefs[w] / Math.max(1e-300, sumRight) : 0) - beliefs[w] / sum;
    for (let s = 0; s < stages; s++, at++) if (ways[at] >= 0) pulls[s][ways[at]] += pull;
  }
  return pulls;
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
function makeNet(rowsOfChoices: readonly Float32Array[], size: number, hidden: number, random: () => number) {
  const { mean, scale } = standardOf(rowsOfChoices, size);
  const data = rowsOfChoices.map((own) => {
    const flat = new Float32Array(own.length);
    for (let at = 0, i = 0; at < own.length; at++, i = i + 1 < size ? i + 1 : 0)
      flat[at] = (own[at] - mean[i]) * scale[i];
    return { rows: own.length / size, flat };
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
function standardOf(rowsOfChoices: readonly Float32Array[], size: number) {
  const mean = new Float64Array(size);
  const within = new Float64Array(size);
  let rowCount = 0;
  for (const rows of rowsOfChoices) {
    const count = rows.length / size;
    const own = new Float64Array(size);
    for (let at = 0, i = 0; at < rows.length; at++, i = i + 1 < size ? i + 1 : 0) own[i] += rows[at] / count;
    for (let at = 0, i = 0; at < rows.length; at++, i = i + 1 < size ? i + 1 : 0)
      within[i] += (rows[at] - own[i]) ** 2 / count;
    for (let i = 0; i < size; i++) mean[i] += own[i] * count;
    rowCount += count;
  }
  for (let i = 0; i < size; i++) mean[i] /= Math.max(1, rowCount);
  const choices = rowsOfChoices.filter(({ length }) => length > 0).length;
  // A floor, so that an observation that hardly ever differs does not get an enormous weight.
  const scale = within.map((sum) => 1 / Math.max(0.05, Math.sqrt(sum / Math.max(1, choices))));
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
