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
  type Choice,
  type Judged,
  type PairChoice,
  type RankerSettings,
} from './ranker';
import { feltSizeOf, groupOf, type Truth } from './recordings';

/** Practice pieces are many and simple: one counts this much of a recording. */
const PRACTICE_SHARE = { spans: 0.4, levels: 0.3 };
const WRONG_KEPT = 24;
type RhythmStage = 'spans' | 'bars' | 'levels';
export const RHYTHM_SETTINGS: Record<RhythmStage, RankerSettings> = {
  spans: { hidden: 0, ridge: 1, epochs: 40 },
  levels: { hidden: 8, ridge: 3, epochs: 12 },
  bars: { hidden: 0, ridge: 2, epochs: 12 },
};

interface SpanOption {
  right: boolean;
  x: Float32Array;
}
interface BarOption {
  right: boolean;
  x: Float32Array;
  spans: SpanOption[];
}
interface LevelOption {
  right: boolean;
  x: Float32Array;
  bars: BarOption[];
  /** Whether the tempo is right, and whether it is but for the metrical level. */
  tempo: { acc1: boolean; acc2: boolean };
  label: string;
}
/** A recording with all hypotheses about its rhythm, and which of them are right. */
export interface RhythmItem {
  id: string;
  kind: string;
  group: string;
  practice: boolean;
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

export function observeRhythm(truth: Truth, hypotheses: RhythmHypothesis[], practice: boolean): RhythmItem {
  const tempi = [truth.bpm!, ...(truth.bpmAlt ?? [])];
  const size = feltSizeOf(truth);
  const closeness = hypotheses.map((hypothesis) => judgeLevel(hypothesis, truth, tempi));
  // Where a lattice is exact, one that is merely near is not right.
  const exact = closeness.includes(2);
  // Of a practice piece's wrong options a sample does: a conditional logit may be fitted on one (McFadden 1978).
  const random = randomFrom(hypotheses.length);
  const kept = hypotheses.filter(
    (_, h) => !practice || closeness[h] > 0 || random() < WRONG_KEPT / hypotheses.length,
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
          x: Float32Array.from(bar.observed),
          spans: bar.spans.map((span) => ({
            right:
              rightBar &&
              Math.abs(span.start - truth.loopStart!) < 0.04 &&
              Math.abs(span.end - truth.loopEnd!) < 0.04,
            x: Float32Array.from(span.observed),
          })),
        };
      }),
    };
  });
  return {
    id: truth.id,
    kind: `${truth.kind}/${truth.variant ?? truth.source}`,
    group: groupOf(truth),
    practice,
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

/** The observations of a bar with the score of its best span put in. */
function barX({ x, spans }: BarOption, score: Scores): Float32Array {
  const out = x.slice();
  out[SPAN_IN_BAR] = spans.length ? Math.max(...spans.map((span) => score.spans(span.x))) : 0;
  return out;
}

const share = (stage: keyof typeof PRACTICE_SHARE, practice: boolean) =>
  practice ? PRACTICE_SHARE[stage] : 1;

function choiceOf<T extends { right: boolean }>(
  options: readonly T[],
  row: (option: T) => Float32Array,
  weight: number,
): Choice {
  return { right: options.map(({ right }) => right), rows: options.map(row), weight };
}

export function fitRhythm(items: readonly RhythmItem[], settings = RHYTHM_SETTINGS): RhythmModel {
  const spanChoices: Choice[] = [];
  for (const { levels, hasSpan, practice } of items) {
    if (!hasSpan) continue;
    for (const level of levels)
      for (const bar of level.bars)
        if (bar.right) spanChoices.push(choiceOf(bar.spans, ({ x }) => x, share('spans', practice)));
  }
  const spans = fitRanker(spanChoices, SPANS.names.length, settings.spans);
  const score: Scores = { spans: scorerOf(spans), bars: () => 0, levels: () => 0 };
  const pairs = items.map(({ levels, hasBars, practice }): PairChoice => ({
    weight: share('levels', practice),
    outer: levels.map(({ x }) => x),
    inner: levels.map((level) => level.bars.map((bar) => barX(bar, score))),
    // Where nobody knows the bars, all of them are as right as the level.
    right: levels.map((level) => level.bars.map((bar) => (hasBars ? bar.right : level.right))),
  }));
  const { outer: levels, inner: bars } = fitPairs(
    pairs,
    { size: LEVELS.names.length, settings: settings.levels },
    { size: BARS.names.length, settings: settings.bars },
  );
  score.levels = scorerOf(levels);
  score.bars = scorerOf(bars);
  return { rankers: { spans, bars, levels }, score };
}

export interface Verdict {
  item: RhythmItem;
  level: boolean;
  tempo: LevelOption['tempo'];
  bar: boolean | null;
  span: boolean | null;
  label: string;
  /** For the sureness of tempi. */
  judged: Judged;
}

export function judgeRhythm(item: RhythmItem, { score }: RhythmModel): Verdict {
  const pick = <T>(options: T[], of: (option: T) => number) => {
    const scores = options.map(of);
    return options[scores.indexOf(Math.max(...scores))];
  };
  const scores = item.levels.map(
    ({ x, bars }) => score.levels(x) + logSumExp(bars.map((bar) => score.bars(barX(bar, score)))),
  );
  const level = item.levels[scores.indexOf(Math.max(...scores))];
  const bar = pick(level.bars, (option) => score.bars(barX(option, score)));
  const span = bar.spans.length ? pick(bar.spans, ({ x }) => score.spans(x)) : null;
  return {
    item,
    level: level.right,
    tempo: level.tempo,
    bar: item.hasBars ? bar.right : null,
    span: item.hasSpan ? (span?.right ?? false) : null,
    label: level.label,
    judged: { scores, right: item.levels.map(({ tempo }) => tempo.acc1) },
  };
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
      `  ${(kind || 'all').padEnd(22)} possible ${percent(possible, of.length).padEnd(16)} Acc1 ${percent(of.filter(({ tempo }) => tempo.acc1).length, of.length).padEnd(16)} Acc2 ${percent(of.filter(({ tempo }) => tempo.acc2).length, of.length).padEnd(16)} level ${percent(of.filter(({ level }) => level).length, of.length).padEnd(16)} bars ${percent(bars.filter(({ bar }) => bar).length, bars.length).padEnd(16)} span ${percent(spans.filter(({ span }) => span).length, spans.length)}`,
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

export function namedRhythm({ rankers }: RhythmModel, verdicts: readonly Verdict[]) {
  return {
    spans: toStored(rankers.spans, SPANS.names),
    bars: toStored(rankers.bars, BARS.names),
    levels: toStored(rankers.levels, LEVELS.names, fitTemperature(verdicts.map(({ judged }) => judged))),
  };
}
