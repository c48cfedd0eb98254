import { LEVELS, type RhythmHypothesis } from '../rhythm/hypotheses';
import { FRAME_RATE, type OnsetFeatures } from '../rhythm/onsetFeatures';
import { LONGEST_LOOP_SECONDS } from '../rhythm/spans';
import { weighing, type Observed } from '../weights/weights';
import type { Stretch } from './activeStretch';
import type { Heard } from './listening';
import type { SampleKind } from './schema';

/** A hit whose level rises by this much is one that a listener counts, dB. */
const CLEAR_RISE_DB = 5;
/** … unless it is this far under the loudest. */
const FAINT_DB = 28;
/** So is one this strong, as in music that is pressed to one level: its hits are heard, but rise little. */
const CLEAR_STRENGTH = 8;

export const ONESHOT = weighing('oneshot', [
  'one',
  'length',
  'short',
  'duration',
  'clear',
  'later',
  'loudLater',
  'single',
  'few',
  'spread',
  'even',
  'rate',
  'strong',
  'late',
  'end',
  'pitchChange',
  'repeat1',
  'repeat2',
  'repeat4',
  'none',
  'flatness',
]);

/** Tells one-shot, loop and song apart: songs by length, the others by a fitted weighing of what is observed. */
export function tellKind(
  heard: Heard,
  active: Stretch,
  hypotheses: readonly RhythmHypothesis[],
): { kind: SampleKind; kindSureness: number } {
  if (heard.durationSeconds >= LONGEST_LOOP_SECONDS) return { kind: 'song', kindSureness: 0.95 };
  const oneShotSureness = ONESHOT.belief(observeKind(heard, active, hypotheses));
  if (hypotheses.length === 0 || oneShotSureness >= 0.5)
    return { kind: 'oneshot', kindSureness: Math.max(0.5, oneShotSureness) };
  return { kind: 'loop', kindSureness: 1 - oneShotSureness };
}

/** What tells one sound from several: how many hits rise, how long, what decays, what repeats, what changes. */
export function observeKind(
  { features, onsets, chroma, durationSeconds }: Heard,
  active: Stretch,
  hypotheses: readonly RhythmHypothesis[],
): Observed {
  const length = active.end - active.start;
  let loudest = -Infinity;
  for (const level of features.levelDb) loudest = Math.max(loudest, level);
  const clear = onsets
    .map(({ time, strength }) => ({ time, strength, ...riseAt(features.levelDb, time) }))
    .filter(
      ({ rise, peak, strength }) =>
        (rise >= CLEAR_RISE_DB || strength >= CLEAR_STRENGTH) && peak > loudest - FAINT_DB,
    );
  const later = clear.filter(({ time }) => time > active.start + 0.15);
  const loudLater = later.filter(({ peak }) => peak > loudest - 9);
  const spread = clear.length ? clear[clear.length - 1].time - clear[0].time : 0;
  // The most that any explanation repeats: independent of which of them is believed.
  const most = (name: (typeof LEVELS.names)[number]) =>
    Math.max(0, ...hypotheses.map(({ observed }) => observed[LEVELS.indexOf(name)]));
  return ONESHOT.vector({
    one: 1,
    length: Math.log2(length + 0.05),
    short: Math.max(0, 2 - length),
    duration: Math.log2(durationSeconds + 0.05),
    clear: Math.log1p(clear.length),
    later: Math.log1p(later.length),
    loudLater: Math.log1p(loudLater.length),
    single: later.length === 0 ? 1 : 0,
    // A loop of one or two hits beside the first is hardly ever one; of more it may be.
    few: Math.max(0, 1 - later.length / 3),
    spread: spread / (length + 0.1),
    even: evenness(clear.map(({ time }) => time)),
    rate: later.length / (length + 0.3),
    strong: Math.log1p(onsets.filter(({ strength }) => strength > 3).length),
    late: lateLevelDb(features, active) / 10,
    end: levelNearEnd(features, active, loudest) / 10,
    pitchChange: pitchChange(chroma.all, active),
    repeat1: most('repeat1'),
    repeat2: most('repeat2'),
    repeat4: most('repeat4'),
    none: hypotheses.length ? 0 : 1,
    flatness: features.flatness,
  });
}

/** Hits nearer to each other than this are one, seconds. */
const APART = 0.08;

/**
 * How evenly hits follow each other: 0 for fewer than three and where their distances are any, more the nearer
 * these are to whole multiples of the shortest, and the more there are.
 */
export function evenness(times: readonly number[]): number {
  const apart: number[] = [];
  for (const time of times)
    if (apart.length === 0 || time - apart[apart.length - 1] >= APART) apart.push(time);
  if (apart.length < 3) return 0;
  const steps = apart.slice(1).map((time, i) => time - apart[i]);
  const shortest = Math.min(...steps);
  const off = steps.reduce((sum, step) => sum + Math.abs(step / shortest - Math.round(step / shortest)), 0);
  // The shortest is no test of itself; any distances are a quarter off in the mean.
  return Math.max(0, 1 - (4 * off) / (steps.length - 1)) * Math.log1p(steps.length - 1);
}

/** Rise of the level at a hit and its peak, dB. */
function riseAt(levelDb: Float32Array, time: number): { rise: number; peak: number } {
  const frame = Math.round(time * FRAME_RATE);
  let before = Infinity;
  for (let i = Math.max(0, frame - 7); i <= frame - 1 && i < levelDb.length; i++)
    before = Math.min(before, levelDb[i]);
  let peak = -Infinity;
  for (let i = Math.max(0, frame - 1); i <= Math.min(levelDb.length - 1, frame + 5); i++)
    peak = Math.max(peak, levelDb[i]);
  // Nothing before the file's first frame: silence.
  if (before === Infinity) before = -90;
  return { rise: peak - Math.max(before, -90), peak };
}

/** Level of the second half of the sound relative to its first half, dB. */
function lateLevelDb({ levelDb, frames }: OnsetFeatures, active: Stretch): number {
  const first = Math.round(active.start * FRAME_RATE);
  const last = Math.min(frames, Math.round(active.end * FRAME_RATE));
  const middle = (first + last) >> 1;
  return Math.max(-40, meanPowerDb(levelDb, middle, last) - meanPowerDb(levelDb, first, middle));
}

/** Level of the last eighth of the sound relative to its loudest frame, dB. */
function levelNearEnd({ levelDb, frames }: OnsetFeatures, active: Stretch, loudest: number): number {
  const last = Math.min(frames, Math.round(active.end * FRAME_RATE));
  const from = Math.round(last - ((active.end - active.start) * FRAME_RATE) / 8);
  return Math.max(-50, meanPowerDb(levelDb, from, last) - loudest);
}

function meanPowerDb(levelDb: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += 10 ** (levelDb[i] / 10);
  return 10 * Math.log10(sum / Math.max(1, to - from) + 1e-12);
}

/** How far the chroma of quarters of the sound are from each other, 0 (one chord) … 1. */
function pitchChange(chroma: Heard['chroma']['all'], active: Stretch): number {
  const parts = 4;
  const rows = Array.from({ length: parts }, (_, i) => {
    const at = (share: number) => active.start + share * (active.end - active.start);
    const from = Math.floor(at(i / parts) * chroma.frameRate);
    const to = Math.max(from + 1, Math.floor(at((i + 1) / parts) * chroma.frameRate));
    const row = new Float64Array(12);
    for (let f = from; f < Math.min(chroma.frames, to); f++)
      for (let p = 0; p < 12; p++) row[p] += chroma.values[f * 12 + p];
    const norm = Math.hypot(...row);
    return norm > 0 ? row.map((value) => value / norm) : null;
  });
  let change = 0;
  for (let i = 1; i < parts; i++) {
    const [before, after] = [rows[i - 1], rows[i]];
    if (before && after)
      change = Math.max(change, 1 - before.reduce((sum, value, p) => sum + value * after[p], 0));
  }
  return change;
}
