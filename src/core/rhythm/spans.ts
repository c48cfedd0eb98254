import type { RecordingContext } from './recordingContext';
import { firstNotBefore } from '../math/bisect';
import { weighing, type Observed } from '../weights/weights';
import { FRAME_RATE, type OnsetFeatures } from './onsetFeatures';
import type { Onset } from './onsets';

/** A stretch of whole bars that a loop may be meant as, seconds. */
export interface SpanHypothesis {
  start: number;
  end: number;
  bars: number;
  /** Whether the whole file is the span. */
  exact: boolean;
  observed: Observed;
  score: number;
}

/** What spans are judged by, made once per recording. */
export interface SpanEvidence {
  seconds: number;
  features: OnsetFeatures;
  /** Attacks in order, seconds; what they weigh; and the running sum of that, one longer. */
  times: Float64Array;
  weights: Float64Array;
  sums: Float64Array;
  soundStart: number;
  soundEnd: number;
}

/** A hit counts no more than this for itself. */
const LOUDEST = 8;

export function makeSpanEvidence(
  seconds: number,
  features: OnsetFeatures,
  onsets: readonly Onset[],
  active: { start: number; end: number },
): SpanEvidence {
  const weights = Float64Array.from(onsets, ({ strength }) => Math.min(LOUDEST, strength));
  const sums = new Float64Array(weights.length + 1);
  weights.forEach((weight, i) => (sums[i + 1] = sums[i] + weight));
  return {
    seconds,
    features,
    times: Float64Array.from(onsets, ({ time }) => time),
    weights,
    sums,
    soundStart: onsets[0]?.time ?? active.start,
    soundEnd: active.end,
  };
}

/**
 * Recordings at least this long are songs: nobody cuts such a loop, asks where the file would loop, or takes it for
 * exactly cut bars.
 */
export const LONGEST_LOOP_SECONDS = 40;
const MOST_BARS = 64;
/** A bound this near to the file's own is the file's own, seconds. */
const AT_THE_EDGE = 0.012;

export const SPANS = weighing('spans', [
  ...(['bars1', 'bars2', 'bars4', 'bars8', 'bars16', 'barsFour', 'barsEven', 'barsOdd'] as const),
  'startsAtEdge',
  'endsAtEdge',
  'exact',
  'before',
  'after',
  'longBefore',
  'hitsBefore',
  'hitsAfter',
  'attack',
  'startsWithSound',
  'soundBefore',
  'silenceInside',
  'endsAfterSound',
  'rise',
  'fall',
  'length',
]);
const AT_ODD_COUNTS = SPANS.indexOf('barsFour');
const AT_EDGE = SPANS.indexOf('startsAtEdge');

/**
 * The stretches of whole bars from `bar` seconds long ones with a downbeat at `downbeat` that fit into the
 * recording: beginning on the first or second downbeat or with the sound, as many bars as there is room for, one less,
 * or the power of two below it. Best first.
 */
export function spanHypotheses(
  evidence: SpanEvidence,
  downbeat: number,
  bar: number,
  context?: RecordingContext,
): SpanHypothesis[] {
  const { seconds } = evidence;
  const first = downbeat - Math.floor((downbeat + 0.03) / bar) * bar;
  const spans: SpanHypothesis[] = [];
  // What begins late begins with the bar in which it is first heard.
  const heard = first + Math.max(0, Math.floor((evidence.soundStart - first + 0.03) / bar)) * bar;
  for (const start of new Set([first, first + bar, heard])) {
    const room = Math.floor((seconds + 0.03 - start) / bar);
    if (room < 1 || room > MOST_BARS) continue;
    for (const bars of new Set([room, 2 ** Math.floor(Math.log2(room)), room - 1])) {
      if (bars < 1) continue;
      spans.push(judge(evidence, start, bars, bar, context));
    }
  }
  return spans.sort((a, b) => b.score - a.score);
}

function judge(
  evidence: SpanEvidence,
  start: number,
  bars: number,
  bar: number,
  context?: RecordingContext,
): SpanHypothesis {
  const { seconds, soundStart, soundEnd, times, weights, sums, features } = evidence;
  const end = start + bars * bar;
  const before = Math.max(0, start) / bar;
  const after = Math.max(0, seconds - end) / bar;
  const startsAtEdge = Math.abs(start) < AT_THE_EDGE ? 1 : 0;
  const endsAtEdge = Math.abs(end - seconds) < AT_THE_EDGE ? 1 : 0;
  const first = firstNotBefore(times, start - 0.03);
  const last = firstNotBefore(times, end - 0.02);
  const hitsBefore = sums[first];
  const hitsAfter = sums[times.length] - sums[last];
  const inside = Math.max(0, sums[last] - sums[first]);
  let attack = 0;
  for (let i = first; i < times.length && times[i] < start + 0.03; i++) attack = Math.max(attack, weights[i]);
  const typical = Math.max(1, inside / bars);
  const level = (time: number) =>
    features.levelDb[Math.max(0, Math.min(features.frames - 1, Math.round(time * FRAME_RATE)))];
  const observed = new Float64Array(SPANS.names.length);
  observed[countIndex(bars)] = 1;
  // One span after the other is judged, thousands of them: in the order of the names, not by name.
  observed.set(
    [
      startsAtEdge,
      endsAtEdge,
      startsAtEdge * endsAtEdge,
      Math.min(2, before),
      Math.min(2, after),
      before > 0.6 ? 1 : 0,
      Math.min(2, hitsBefore / typical),
      Math.min(2, hitsAfter / typical),
      Math.log1p(attack),
      Math.abs(start - soundStart) < 0.04 ? 1 : 0,
      start - soundStart > 0.04 ? Math.min(2, (start - soundStart) / bar) : 0,
      soundStart - start > 0.04 ? Math.min(1, (soundStart - start) / bar) : 0,
      Math.min(2, Math.max(0, end - soundEnd) / bar),
      Math.max(-20, Math.min(40, level(start + 0.03) - level(start - 0.03))) / 20,
      Math.max(-20, Math.min(40, level(end - 0.05) - level(end + 0.1))) / 20,
      Math.log2(Math.max(0.5, bars * bar) / 6),
    ],
    AT_EDGE,
  );
  return {
    start,
    end,
    bars,
    exact: startsAtEdge * endsAtEdge === 1,
    observed,
    score: SPANS.score(observed, context),
  };
}

/** Sixteen stand for more: there are too few of those to learn from. */
const MOST_TOLD_APART = 4;

function countIndex(bars: number): number {
  if (Number.isInteger(Math.log2(bars))) return Math.min(MOST_TOLD_APART, Math.log2(bars));
  return bars % 4 === 0 ? AT_ODD_COUNTS : bars % 2 === 0 ? AT_ODD_COUNTS + 1 : AT_ODD_COUNTS + 2;
}
