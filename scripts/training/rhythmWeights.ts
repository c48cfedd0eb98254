import { BARS } from '../../src/core/rhythm/bars';
import { LEVELS, type RhythmHypothesis } from '../../src/core/rhythm/hypotheses';
import { SPANS } from '../../src/core/rhythm/spans';
import { randomFrom } from '../../src/demo/random';
import { scorerOf, toStored, type Ranker } from '../../src/core/weights/weights';
import { logSumExp } from '../../src/core/weights/logSumExp';
import {
  fitPairs,
  fitRanker,
  fitTemperature,
  together,
  type Choice,
  type Judged,
  type PairChoice,
  type RankerSettings,
} from './ranker';
import { feltSizeOf, groupOf, type Origin, type Truth } from './truth';

/** What counts less than a recording: practice pieces are many and simple, excerpts are like each other. */
export const SHARES: Record<Origin, { spans: number; levels: number }> = {
  recording: { spans: 1, levels: 1 },
  excerpt: { spans: 0.3, levels: 0.3 },
  practice: { spans: 0.4, levels: 0.3 },
};
const WRONG_KEPT = 24;
/** Fits from different beginnings whose scores are averaged. */
const MEMBERS = 3;
type RhythmStage = 'spans' | 'bars' | 'levels';
export const RHYTHM_SETTINGS: Record<RhythmStage, RankerSettings> = {
  spans: { hidden: 0, ridge: 1, epochs: 40, dropout: 0 },
  levels: { hidden: 8, ridge: 3, epochs: 12, dropout: 0.15 },
  bars: { hidden: 6, ridge: 2, epochs: 12, dropout: 0.15 },
};

interface BarOption {
  right: boolean;
  /** Which of its spans are right. */
  spans: boolean[];
}
interface LevelOption {
  right: boolean;
  x: Float32Array;
  bars: BarOption[];
  /** What is observed of the bars, and of all their spans: row after row, since there are very many. */
  barRows: Float32Array;
  spanRows: Float32Array;
  /** Whether the tempo is right, and whether it is but for the metrical level. */
  tempo: { acc1: boolean; acc2: boolean };
  label: string;
}
/** A recording with all hypotheses about its rhythm, and which of them are right. */
export interface RhythmItem {
  id: string;
  kind: string;
  group: string;
  origin: Origin;
  levels: LevelOption[];
  hasBars: boolean;
  hasSpan: boolean;
}
export interface RhythmModel {
  rankers: Record<RhythmStage, Ranker>;
  score: Record<RhythmStage, (x: Float32Array) => number>;
}

// Where the score of the spans stands among the observations of a bar.
const SPAN_IN_BAR = BARS.indexOf('span');

export function observeRhythm(truth: Truth, hypotheses: RhythmHypothesis[], origin: Origin): RhythmItem {
  const tempi = [truth.bpm!, ...(truth.bpmAlt ?? [])];
  const size = feltSizeOf(truth);
  const closeness = hypotheses.map((hypothesis) => judgeLevel(hypothesis, truth, tempi));
  // Where a lattice is exact, one that is merely near is not right.
  const exact = closeness.includes(2);
  // Of what is not a recording's wrong options a sample does: a conditional logit may be fitted on one (McFadden 1978).
  const random = randomFrom(hypotheses.length);
  const kept = hypotheses.filter(
    (_, h) => origin === 'recording' || closeness[h] > 0 || random() < WRONG_KEPT / hypotheses.length,
  );
  const levels = kept.map((hypothesis): LevelOption => {
    const close = closeness[hypotheses.indexOf(hypothesis)];
    const { beats, bars, observed } = hypothesis;
    const right = close === 2 || (!exact && close === 1);
    return {
      right,
      tempo: tempoRightness(hypothesis.bpm, tempi),
      label: `${hypothesis.origin} ${hypothesis.bpm.toFixed(2)} @${beats[0].toFixed(3)}`,
      x: Float32Array.from(observed),
      bars: bars.map((bar) => {
        const lines = Array.from(beats).filter(
          (_, k) => k >= bar.phase && (k - bar.phase) % bar.beatsPerBar === 0,
        );
        const near = lines.filter((line) => truth.downbeats?.some((known) => Math.abs(line - known) < 0.07));
        const rightBar = right && size === bar.beatsPerBar && near.length > 0.6 * lines.length;
        return {
          right: rightBar,
          spans: bar.spans.map(
            (span) =>
              rightBar &&
              Math.abs(span.start - truth.loopStart!) < 0.04 &&
              Math.abs(span.end - truth.loopEnd!) < 0.04,
          ),
        };
      }),
      barRows: joined(
        bars.map((bar) => bar.observed),
        BARS.names.length,
      ),
      spanRows: joined(
        bars.flatMap((bar) => bar.spans.map((span) => span.observed)),
        SPANS.names.length,
      ),
    };
  });
  return {
    id: truth.id,
    kind: `${truth.kind}/${truth.variant ?? truth.source}`,
    group: groupOf(truth),
    origin,
    levels,
    hasBars: Boolean(truth.downbeats?.length && size),
    hasSpan: truth.loopStart != null && truth.loopEnd != null,
  };
}

/** Within 4 %, and within 4 % of a double, triple, half or third, as the scorers have it. */
function tempoRightness(bpm: number, tempi: readonly number[]) {
  const near = (ratio: number) => tempi.some((tempo) => Math.abs(bpm / (tempo * ratio) - 1) <= 0.04);
  return { acc1: near(1), acc2: [1, 2, 3, 1 / 2, 1 / 3].some(near) };
}

/** 2: exact in tempo and place; 1: near in both; 0: wrong. */
function judgeLevel({ bpm, beats, steady }: RhythmHypothesis, truth: Truth, tempi: number[]): number {
  const off = Math.min(...tempi.map((tempo) => Math.abs(bpm / tempo - 1)));
  if (off > 0.04) return 0;
  if (!truth.beats?.length) return off < 0.002 ? 2 : 1;
  const [from, to] = [truth.beats[0] - 0.1, truth.beats[truth.beats.length - 1] + 0.1];
  const inside = beats.filter((beat) => beat >= from && beat <= to);
  const share = (within: number) =>
    inside.filter((beat) => truth.beats!.some((known) => Math.abs(beat - known) < within)).length /
    Math.max(1, inside.length);
  // Where the tempo is one, following it is not as right as having it.
  const exact = steady ? off < 0.0015 : truth.tempoConstant === false;
  if (exact && share(0.03) > 0.9) return 2;
  return share(0.07) > 0.6 ? 1 : 0;
}

type Scores = RhythmModel['score'];

function joined(rows: readonly ArrayLike<number>[], size: number): Float32Array {
  const out = new Float32Array(rows.length * size);
  rows.forEach((row, r) => out.set(row, r * size));
  return out;
}

const rowOf = (rows: Float32Array, r: number, size: number) => rows.subarray(r * size, (r + 1) * size);

/** The observations of a level's spans, bar by bar. */
function spansOf({ bars, spanRows }: LevelOption): Float32Array[][] {
  let at = 0;
  return bars.map(({ spans }) => spans.map(() => rowOf(spanRows, at++, SPANS.names.length)));
}

/** The observations of a level's bars with the score of each one's best span put in. */
function barsOf(level: LevelOption, score: Scores): Float32Array[] {
  const size = BARS.names.length;
  const rows = level.barRows.slice();
  spansOf(level).forEach((spans, b) => {
    rows[b * size + SPAN_IN_BAR] = spans.length ? Math.max(...spans.map(score.spans)) : 0;
  });
  return level.bars.map((_, b) => rowOf(rows, b, size));
}

export function fitRhythm(
  items: readonly RhythmItem[],
  settings = RHYTHM_SETTINGS,
  members = MEMBERS,
): RhythmModel {
  const spanChoices: Choice[] = [];
  for (const { levels, hasSpan, origin } of items) {
    if (!hasSpan) continue;
    for (const level of levels) {
      const rows = spansOf(level);
      level.bars.forEach(({ right, spans }, b) => {
        if (right) spanChoices.push({ right: spans, rows: rows[b], weight: SHARES[origin].spans });
      });
    }
  }
  const spans = fitRanker(spanChoices, SPANS.names.length, settings.spans);
  const score: Scores = { spans: scorerOf(spans), bars: () => 0, levels: () => 0 };
  const pairs = items.map(({ levels, hasBars, origin }): PairChoice => ({
    weight: SHARES[origin].levels,
    outer: levels.map(({ x }) => x),
    inner: levels.map((level) => barsOf(level, score)),
    // Where nobody knows the bars, all of them are as right as the level.
    right: levels.map((level) => level.bars.map((bar) => (hasBars ? bar.right : level.right))),
  }));
  const fits = Array.from({ length: members }, (_, seed) =>
    fitPairs(
      pairs,
      { size: LEVELS.names.length, settings: settings.levels },
      { size: BARS.names.length, settings: settings.bars },
      seed,
    ),
  );
  return rhythmModel({
    spans,
    bars: together(fits.map(({ inner }) => inner)),
    levels: together(fits.map(({ outer }) => outer)),
  });
}

export function rhythmModel(rankers: RhythmModel['rankers']): RhythmModel {
  const { spans, bars, levels } = rankers;
  return { rankers, score: { spans: scorerOf(spans), bars: scorerOf(bars), levels: scorerOf(levels) } };
}

export interface Verdict {
  item: RhythmItem;
  level: boolean;
  tempo: LevelOption['tempo'];
  bar: boolean | null;
  span: boolean | null;
  label: string;
  /** Nats of surprise at the right level, and at the right level and bar; null where none is right. */
  surprise: { level: number | null; bar: number | null };
  /** For the sureness of tempi; and of bars, where the level is right and bars are known. */
  judged: Judged;
  judgedBars: Judged | null;
}

export function judgeRhythm(item: RhythmItem, { score }: RhythmModel): Verdict {
  const best = (scores: readonly number[]) => scores.indexOf(Math.max(...scores));
  const barScores = item.levels.map((level) => barsOf(level, score).map(score.bars));
  const scores = item.levels.map(({ x }, l) => score.levels(x) + logSumExp(barScores[l]));
  const l = best(scores);
  const level = item.levels[l];
  const b = best(barScores[l]);
  const all = logSumExp(scores);
  const surpriseAt = (right: readonly number[]) => (right.length ? all - logSumExp(right) : null);
  const bar = level.bars[b];
  const span = bar.spans.length ? bar.spans[best(spansOf(level)[b].map(score.spans))] : null;
  return {
    item,
    level: level.right,
    tempo: level.tempo,
    bar: item.hasBars ? bar.right : null,
    span: item.hasSpan ? (span ?? false) : null,
    label: level.label,
    surprise: {
      level: surpriseAt(scores.filter((_, i) => item.levels[i].right)),
      bar: item.hasBars
        ? surpriseAt(
            item.levels.flatMap(({ x, bars }, i) =>
              barScores[i].filter((_, k) => bars[k].right).map((one) => score.levels(x) + one),
            ),
          )
        : null,
    },
    judged: { scores, right: item.levels.map(({ tempo }) => tempo.acc1) },
    judgedBars:
      item.hasBars && level.right
        ? { scores: barScores[l], right: level.bars.map(({ right }) => right) }
        : null,
  };
}

/** So that one hopeless recording does not decide between two fits. */
const MOST_SURPRISE = 6;

function meanSurprise(verdicts: readonly Verdict[], of: 'level' | 'bar'): string {
  const known = verdicts.map(({ surprise }) => surprise[of]).filter((nats) => nats !== null);
  const sum = known.reduce((all, nats) => all + Math.min(MOST_SURPRISE, nats), 0);
  return known.length ? (sum / known.length).toFixed(2) : '–';
}

const percent = (hits: number, of: number) => `${of ? ((100 * hits) / of).toFixed(1) : '–'} % of ${of}`;

export function reportRhythm(title: string, verdicts: Verdict[], failing = false) {
  const kinds = [
    '',
    ...new Set(verdicts.map(({ item }) => item.kind.split('/')[0])),
    ...new Set(verdicts.map(({ item }) => item.kind)),
  ];
  console.log(title);
  for (const kind of kinds) {
    const of = verdicts.filter(
      ({ item }) => kind === '' || item.kind === kind || item.kind.split('/')[0] === kind,
    );
    const bars = of.filter(({ bar }) => bar !== null);
    const spans = of.filter(({ span }) => span !== null);
    const possible = of.filter(({ item }) => item.levels.some(({ right }) => right)).length;
    console.log(
      `  ${(kind || 'all').padEnd(22)} possible ${percent(possible, of.length).padEnd(16)} Acc1 ${percent(of.filter(({ tempo }) => tempo.acc1).length, of.length).padEnd(16)} Acc2 ${percent(of.filter(({ tempo }) => tempo.acc2).length, of.length).padEnd(16)} level ${percent(of.filter(({ level }) => level).length, of.length).padEnd(16)} bars ${percent(bars.filter(({ bar }) => bar).length, bars.length).padEnd(16)} span ${percent(spans.filter(({ span }) => span).length, spans.length).padEnd(16)} surprise ${meanSurprise(of, 'level')} / ${meanSurprise(of, 'bar')}`,
    );
  }
  if (!failing) return;
  for (const { item, level, bar, span, label } of verdicts) {
    if (level && bar !== false && span !== false) continue;
    const right = item.levels.find((option) => option.right)?.label ?? 'not among the hypotheses';
    console.log(
      `  ${item.id} ${item.kind} ${level ? '' : 'level '}${bar === false ? 'bar ' : ''}${span === false ? 'span ' : ''}got ${label}, right ${right}`,
    );
  }
}

export function namedRhythm(rankers: RhythmModel['rankers'], verdicts: readonly Verdict[]) {
  return {
    spans: toStored(rankers.spans, SPANS.names),
    bars: toStored(
      rankers.bars,
      BARS.names,
      fitTemperature(verdicts.flatMap(({ judgedBars }) => judgedBars ?? [])),
    ),
    levels: toStored(rankers.levels, LEVELS.names, fitTemperature(verdicts.map(({ judged }) => judged))),
  };
}
