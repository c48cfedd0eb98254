import { strengthOf, strengthByte, type BandStrength } from './bandStrength';

/** Bars to both sides that are asked whether they have the same hit. */
const BARS_ASKED = 3;
/** How far a hit may stand from its place in another bar, steps: players and wrong tempi are a little off. */
const TOLERANCE = 2;
/** What is left of a hit that no other bar has. */
const ALONE = 0.25;
/** The bar that repeats best is sought within this share of the grid's: a tempo that is wrong still has its columns. */
const REACH = 0.03;
/** Strength under this share of its neighbourhood is floor: everything in it moves, and nothing stands out. */
const FLOOR_SHARE = 0.55;
/** What is left is raised by this, so that what repeats is as dark as it was. */
const RAISED = 1.6;
/** The neighbourhood, seconds to both sides. */
const FLOOR_SECONDS = 0.35;

/**
 * Strength of what repeats: each step is held against the same place of the bars before and behind it, and against
 * the floor of its neighbourhood, so that in dense and loud music what comes again and again is left and the rest
 * grows faint. `barSeconds`: length of the bars that it is folded into. Without bars beside each other it is
 * returned as it is.
 */
export function repeating(strength: BandStrength, barSeconds: number): BandStrength {
  const { rate, bands } = strength;
  const length = bands[0]?.length ?? 0;
  const values = bands.map((band) => Float32Array.from(band, strengthOf));
  const lag = bestLag(values, barSeconds * rate);
  if (!(lag >= 4) || length < 2 * lag) return strength;
  return {
    rate,
    bands: values.map((own) => {
      const reach = spread(own);
      const floor = localMean(own, Math.round(FLOOR_SECONDS * rate));
      const usual = localMean(reach, Math.round(FLOOR_SECONDS * rate));
      const out = new Uint8Array(length);
      for (let i = 0; i < length; i++) {
        const value = own[i];
        if (value <= 0) continue;
        let sum = 0;
        let chance = 0;
        let count = 0;
        for (let k = -BARS_ASKED; k <= BARS_ASKED; k++) {
          const at = Math.round(i + k * lag);
          if (k === 0 || at < 0 || at >= length) continue;
          sum += Math.min(value, reach[at]);
          chance += Math.min(value, usual[at]);
          count++;
        }
        // Where something happens everywhere, something happens here as well: only what is beyond that counts.
        const share =
          count === 0 ? 1 : Math.max(0, sum - chance) / Math.max(count * value - chance, 0.1 * count * value);
        const above = Math.max(0, value - FLOOR_SHARE * floor[i]);
        out[i] = strengthByte(RAISED * above * (ALONE + (1 - ALONE) * Math.min(1, share) ** 1.5));
      }
      return out;
    }),
  };
}

/** Steps that are asked for the distance at which they repeat: the strongest of this share. */
const ASKED_SHARE = 0.12;
/** Distances of so many bars count together: over several a small error adds up. */
const BARS_COUNTED = 4;

/** The distance at which all bands together repeat best, near `lag`; in steps, not whole. */
function bestLag(values: readonly Float32Array[], lag: number): number {
  const length = values[0]?.length ?? 0;
  const all = new Float32Array(length);
  for (const own of values) for (let i = 0; i < length; i++) all[i] += Math.sqrt(own[i]);
  const enough = [...all].sort((a, b) => b - a)[Math.floor(ASKED_SHARE * length)];
  const asked: number[] = [];
  for (let i = 0; i < length; i++) if (all[i] > enough) asked.push(i);
  const blurred = spread(all);
  const bars = Math.max(1, Math.min(BARS_COUNTED, Math.floor(length / lag) - 1));
  let best = lag;
  let most = -Infinity;
  const step = Math.max(0.5, lag * 0.001);
  for (let off = 0; off <= lag * REACH; off += step)
    for (const tried of off === 0 ? [lag] : [lag - off, lag + off]) {
      let sum = 0;
      let count = 0;
      for (let k = 1; k <= bars; k++) {
        const apart = k * tried;
        for (const i of asked) {
          const at = Math.round(i + apart);
          if (at >= length) break;
          sum += all[i] * blurred[at];
          count++;
        }
      }
      // What is nearer to the grid wins where there is little between them.
      const score = (sum / Math.max(1, count)) * (1 - (0.5 * off) / lag);
      if (score > most) {
        most = score;
        best = tried;
      }
    }
  return best;
}

/** The largest value within the tolerance of each step. */
function spread(values: Float32Array): Float32Array {
  const out = new Float32Array(values.length);
  for (let i = 0; i < values.length; i++) {
    let most = 0;
    for (let d = -TOLERANCE; d <= TOLERANCE; d++) {
      const value = values[i + d];
      if (value > most) most = value;
    }
    out[i] = most;
  }
  return out;
}

function localMean(values: Float32Array, reach: number): Float32Array {
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i] + values[i];
  return Float32Array.from(values, (_, i) => {
    const from = Math.max(0, i - reach);
    const to = Math.min(values.length, i + reach + 1);
    return (sums[to] - sums[from]) / (to - from);
  });
}
