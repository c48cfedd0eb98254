import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import stored from '@/core/weights/weights.json' with { type: 'json' };
import { conclude, explainRhythm } from '@/core/measurement/measure';
import { weighWith, type StoredWeights } from '@/core/weights/weights';
import { hear } from '../training/recordings';
import { groupOf, isFree, type Truth } from '../training/truth';
import { predictionOf, type Prediction } from './predictions';

/** What `npm run weights -- --held` stores of a fold: the weights, and the groups of recordings that they have not seen. */
export interface HeldFold {
  groups: string[];
  weights: StoredWeights;
}

/**
 * Measures each recording with the weights of the fold that has not seen it; one of no group with those of the
 * first. What was heard before lies in the folder `keep`.
 */
export async function measureHeldOut(
  folder: string,
  recordings: readonly (Truth & { path: string })[],
  keep: string | null,
): Promise<Prediction[]> {
  const folds = readdirSync(folder)
    .filter((name) => /^\d+\.json$/.test(name))
    .map((name) => JSON.parse(readFileSync(join(folder, name), 'utf8')) as HeldFold);
  if (folds.length === 0) throw new Error(`${folder} has no weights of folds.`);
  const predictions: Prediction[] = [];
  try {
    for (const truth of recordings) {
      const group = groupOf(truth);
      weighWith((folds.find(({ groups }) => groups.includes(group)) ?? folds[0]).weights);
      const heard = await hear(truth.path, keep);
      const options = { performance: isFree(truth) };
      predictions.push(predictionOf(truth.id, conclude(heard, explainRhythm(heard, options), options)));
    }
  } finally {
    weighWith(stored as unknown as StoredWeights);
  }
  return predictions;
}
