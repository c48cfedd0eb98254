import type { Ranker } from '@/core/weights/weights';
import { makeRowProducts } from './rowProducts';

interface NetSettings {
  /** Units of the hidden layer. */
  hidden: number;
  /** How much harder what a context adds to the weights is pulled towards 0. */
  contextRidge?: number;
}

/** A pull that is smaller teaches nothing that is worth its time. */
const LEAST_PULL = 1e-5;

interface NetScores {
  /** Of each row that was asked for, in that order. */
  scores: Float64Array;
  active: Float64Array;
}

/**
 * A linear score with tanh units beside it, fitted by Adam (Kingma & Ba 2015) on standardised rows. Every weight is a
 * common one and, for each number of the context, so much more or less of it: conditions of one recording change how
 * its observations count, and what they share is learned from all (a varying-coefficient model, Hastie & Tibshirani 1993).
 */
export function makeNet(
  rowsOfChoices: readonly Float32Array[],
  size: number,
  { hidden, contextRidge = 1 }: NetSettings,
  contexts: number,
  random: () => number,
) {
  const { mean, scale } = standardOf(rowsOfChoices, size);
  const data = rowsOfChoices.map((own) => {
    const flat = new Float32Array(own.length);
    for (let at = 0, i = 0; at < own.length; at++, i = i + 1 < size ? i + 1 : 0)
      flat[at] = (own[at] - mean[i]) * scale[i];
    return flat;
  });
  // One list of parameters for each context: linear, hidden inputs, biases, outputs.
  const count = size + hidden * (size + 2);
  const parameters = new Float64Array(count * contexts);
  const biasAt = size + hidden * size;
  const outAt = biasAt + hidden;
  for (let i = size; i < biasAt; i++)
    parameters[i] = ((random() + random() + random() - 1.5) * 1.2) / Math.sqrt(size);
  for (let h = 0; h < hidden; h++) parameters[outAt + h] = (random() - 0.5) * 0.4;
  // What is hidden counts nothing, what is seen as much more. `seen` are the parameters under that, in the choice's context.
  const mask = new Float64Array(size).fill(1);
  const seen = new Float64Array(count);
  const ofChoice = new Float64Array(count);
  const lean = new Float64Array(contexts).fill(0);
  lean[0] = 1;
  const rows = makeRowProducts(size, 1 + hidden);
  const gradient = new Float64Array(count * contexts);
  const momentum = new Float64Array(count * contexts);
  const square = new Float64Array(count * contexts);

  return {
    data,
    /** Hides a share of the observations from the next choice, whose context this is. */
    drop(share: number, context: readonly number[]) {
      for (let c = 1; c < contexts; c++) lean[c] = context[c - 1] ?? 0;
      if (share > 0) for (let i = 0; i < size; i++) mask[i] = random() < share ? 0 : 1 / (1 - share);
      seen.fill(0);
      for (let c = 0; c < contexts; c++)
        for (let p = 0, q = c * count; p < count; p++, q++) seen[p] += lean[c] * parameters[q];
      for (let u = 0, p = 0; u <= hidden; u++)
        for (let i = 0; i < size; i++, p++) {
          seen[p] *= mask[i];
          rows.weights[u * rows.stride + i] = seen[p];
        }
    },
    /** Scores of some rows of a choice, and what the hidden units answered to each. */
    scores(flat: Float32Array, some: readonly number[]): NetScores {
      const products = rows.multiply(flat, some);
      const scores = new Float64Array(some.length);
      const active = new Float64Array(some.length * hidden);
      for (let r = 0; r < some.length; r++) {
        let sum = products[r * rows.unitStride];
        for (let h = 0; h < hidden; h++) {
          const answer = Math.tanh(seen[biasAt + h] + products[r * rows.unitStride + 1 + h]);
          active[r * hidden + h] = answer;
          sum += seen[outAt + h] * answer;
        }
        scores[r] = sum;
      }
      return { scores, active };
    },
    /** Learns from the rows that were scored last, each of which is to get so much more belief. */
    learn({ active }: NetScores, pulls: Float64Array, weight: number) {
      for (let r = 0; r < pulls.length; r++) {
        if (Math.abs(pulls[r]) < LEAST_PULL) continue;
        const pull = weight * pulls[r];
        rows.pulls[r * rows.unitStride] = pull;
        for (let h = 0; h < hidden; h++) {
          const answer = active[r * hidden + h];
          const back = pull * seen[outAt + h] * (1 - answer * answer);
          ofChoice[outAt + h] += pull * answer;
          ofChoice[biasAt + h] += back;
          rows.pulls[r * rows.unitStride + 1 + h] = back;
        }
      }
      const slopes = rows.slopes();
      for (let u = 0, p = 0; u <= hidden; u++)
        for (let i = 0; i < size; i++, p++) ofChoice[p] += slopes[u * rows.stride + i];
    },
    /** Ends a choice. */
    learned() {
      for (let p = 0, i = 0; p < biasAt; p++, i = i + 1 < size ? i + 1 : 0) ofChoice[p] *= mask[i];
      for (let c = 0; c < contexts; c++)
        if (lean[c]) for (let p = 0, q = c * count; p < count; p++, q++) gradient[q] += lean[c] * ofChoice[p];
      ofChoice.fill(0);
    },
    step(step: number, rate: number, shrink: number) {
      for (let i = 0; i < count * contexts; i++) {
        const slope = gradient[i] - shrink * (i < count ? 1 : contextRidge) * parameters[i];
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
      layers: Array.from({ length: contexts }, (_, c) => {
        const own = parameters.subarray(c * count, (c + 1) * count);
        return {
          linear: own.slice(0, size),
          hidden: Array.from({ length: hidden }, (_, h) => ({
            into: own.slice(size + h * size, size + (h + 1) * size),
            bias: own[biasAt + h],
            out: own[outAt + h],
          })),
        };
      }),
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
