import { BARS } from '@/core/rhythm/bars';
import { LEVELS, type RhythmHypothesis } from '@/core/rhythm/hypotheses';
import { SPANS } from '@/core/rhythm/spans';
import { randomFrom } from '@/demo/random';
import { scorerOf, toStored, type Ranker } from '@/core/weights/weights';
import { logSumExp } from '@/core/weights/logSumExp';
import { fitStages, together, type RankerSettings, type StagedChoice } from './ranker';
import { fitTemperature, type Judged } from './temperature';
import { feltSizeOf, groupOf, isFree, isOfAnyLevel, type Origin, type Truth } from './truth';

/** What counts less than a recording: practice pieces are many and simple, excerpts are like each other. */
const SHARES: Record<Origin, number> = { recording: 1, excerpt: 0.3, practice: 0.3 };
/** Songs are fewer than loops and no two alike; but for accompaniments, which one programme plays. */
const SONG_SHARE = 2.5;
const ACCOMPANIMENT_SHARE = 0.7;
const ACCOMPANIMENTS = ['style', 'styles'];

function shareOf({ kind, source }: Truth, origin: Origin): number {
  if (origin !== 'recording' || kind !== 'song') return SHARES[origin];
  return ACCOMPANIMENTS.includes(source ?? '') ? ACCOMPANIMENT_SHARE : SONG_SHARE;
}

const WRONG_KEPT = 24;
/** Fits from different beginnings whose scores are averaged; a third tells no more. */
const MEMBERS = 2;
/** What is chosen one after the other: a level, a bar on it, a span of such bars. */
const RHYTHM_STAGES = ['levels', 'bars', 'spans'] as const;
type RhythmStage = (typeof RHYTHM_STAGES)[number];
const WEIGHINGS = { levels: LEVELS, bars: BARS, spans: SPANS };
export const RHYTHM_SETTINGS: Record<RhythmStage, RankerSettings> = {
  levels: { hidden: 12, ridge: 8, epochs: 12, dropout: 0.25, contextRidge: 2 },
  bars: { hidden: 6, ridge: 5, epochs: 12, dropout: 0.2, contextRidge: 2 },
  spans: { hidden: 0, ridge: 2, epochs: 12, dropout: 0, contextRidge: 2 },
};

interface BarOption {
  right: boolean;
  /** Which of its spans are right. */
  spans: boolean[];
}
interface LevelOption {
  right: boolean;
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
  origin: Origin;
  /** What is known of the whole recording. */
  context?: number[];
  /** How much it counts beside others. */
  share: number;
  levels: LevelOption[];
  /** What is observed of all levels, of all their bars and of all spans of these: row after row, there are very many. */
  rows: Record<RhythmStage, Float32Array>;
  hasBars: boolean;
  hasSpan: boolean;
  /** Played freely: its spans are not weighed. */
  free: boolean;
}
export interface RhythmModel {
  rankers: Record<RhythmStage, Ranker>;
  score: (context?: readonly number[]) => Record<RhythmStage, (x: Float32Array) => number>;
}

export function observeRhythm(truth: Truth, hypotheses: RhythmHypothesis[], origin: Origin): RhythmItem {
  const size = feltSizeOf(truth);
  const truths = isOfAnyLevel(truth) ? metricalLevels(truth) : [truth];
  const tempi = truths.flatMap(({ bpm, bpmAlt }) => [bpm!, ...(bpmAlt ?? [])]);
  const closeness = hypotheses.map((hypothesis) =>
    Math.max(...truths.map((one) => judgeLevel(hypothesis, one, [one.bpm!, ...(one.bpmAlt ?? [])]))),
  );
  // Where a lattice is exact, one that is merely near is not right.
  const exact = closeness.includes(2);
  // Of what is not a recording's wrong options a sample does: a conditional logit may be fitted on one (McFadden 1978).
  const random = randomFrom(hypotheses.length);
  const kept = hypotheses.filter(
    (_, h) => origin === 'recording' || closeness[h] > 0 || random() < WRONG_KEPT / hypotheses.length,
  );
  const levels = kept.map((hypothesis): LevelOption => {
    const close = closeness[hypotheses.indexOf(hypothesis)];
    const { beats, bars } = hypothesis;
    const right = close === 2 || (!exact && close === 1);
    return {
      right,
      tempo: tempoRightness(hypothesis.bpm, tempi),
      label: `${hypothesis.origin} ${hypothesis.bpm.toFixed(2)} @${beats[0].toFixed(3)}`,
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
    };
  });
  const keptBars = kept.flatMap(({ bars }) => bars);
  return {
    id: truth.id,
    kind: `${truth.kind}/${truth.variant ?? truth.source}`,
    group: groupOf(truth),
    origin,
    share: shareOf(truth, origin),
    context: [...hypotheses[0].context],
    levels,
    rows: {
      levels: joined(kept, LEVELS.names.length),
      bars: joined(keptBars, BARS.names.length),
      spans: joined(
        keptBars.flatMap(({ spans }) => spans),
        SPANS.names.length,
      ),
    },
    hasBars: Boolean(truth.downbeats?.length && size),
    hasSpan: truth.loopStart != null && truth.loopEnd != null,
    free: isFree(truth),
  };
}

/** Within 4 %, and within 4 % of a double, triple, half or third, as the scorers have it. */
function tempoRightness(bpm: number, tempi: readonly number[]) {
  const near = (ratio: number) => tempi.some((tempo) => Math.abs(bpm / (tempo * ratio) - 1) <= 0.04);
  return { acc1: near(1), acc2: [1, 2, 3, 1 / 2, 1 / 3].some(near) };
}

/** The same beats on every level that they may be felt on: twice, half, three times and a third as fast. */
function metricalLevels(truth: Truth): Truth[] {
  const beats = truth.beats ?? [];
  const divided = (by: number) =>
    beats.flatMap((beat, k) => {
      const next = beats[k + 1] ?? beat;
      return next > beat ? Array.from({ length: by }, (_, i) => beat + ((next - beat) * i) / by) : [beat];
    });
  const every = (n: number) =>
    Array.from({ length: n }, (_, phase) => beats.filter((_, k) => k % n === phase));
  const at = (factor: number, beats: number[]): Truth => ({ ...truth, bpm: truth.bpm! * factor, beats });
  return [
    truth,
    ...[2, 3].map((by) => at(by, divided(by))),
    ...[2, 3].flatMap((n) => every(n).map((some) => at(1 / n, some))),
  ];
}

/** 2: exact in tempo and place; 1: near in both; 0: wrong. */
function judgeLevel(
  { bpm, beats, steady }: RhythmHypothesis,
  truth: Truth,
  tempi: readonly number[],
): number {
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

function joined(options: readonly { observed: ArrayLike<number> }[], size: number): Float32Array {
  const out = new Float32Array(options.length * size);
  options.forEach(({ observed }, r) => out.set(observed, r * size));
  return out;
}

/** All ways to choose a level, a bar on it and, where its bounds are known, a span of such bars. */
export function waysThrough({
  levels,
  rows,
  hasBars,
  hasSpan,
  free,
  share,
  context,
}: RhythmItem): StagedChoice {
  const spanned = hasSpan && !free;
  // Where the right bounds are not among the spans, the right bar with any of them is right.
  const hasRightSpan = levels.some(({ bars }) => bars.some(({ spans }) => spans.includes(true)));
  const ways: number[] = [];
  const right: boolean[] = [];
  let bar = 0;
  let span = 0;
  levels.forEach((level, l) => {
    for (const { right: isRight, spans } of level.bars) {
      // Where nobody knows the bars, all of them are as right as the level.
      const rightBar = hasBars ? isRight : level.right;
      if (spanned && spans.length)
        spans.forEach((rightSpan, s) => {
          ways.push(l, bar, span + s);
          right.push(hasRightSpan ? rightSpan : rightBar);
        });
      else {
        ways.push(l, bar, -1);
        right.push(rightBar && !(spanned && hasRightSpan));
      }
      bar++;
      span += spans.length;
    }
  });
  return {
    rows: RHYTHM_STAGES.map((stage) => rows[stage]),
    ways: Int32Array.from(ways),
    right,
    context,
    weight: share,
  };
}

export function fitRhythm(
  items: readonly RhythmItem[],
  settings = RHYTHM_SETTINGS,
  members = MEMBERS,
  firstSeed = 0,
): RhythmModel {
  const choices = items.map(waysThrough);
  const stages = RHYTHM_STAGES.map((stage) => ({
    size: WEIGHINGS[stage].names.length,
    settings: settings[stage],
  }));
  const fits = Array.from({ length: members }, (_, member) => fitStages(choices, stages, firstSeed + member));
  const [levels, bars, spans] = stages.map((_, s) => together(fits.map((rankers) => rankers[s])));
  return rhythmModel({ levels, bars, spans });
}

export function rhythmModel(rankers: RhythmModel['rankers']): RhythmModel {
  const { spans, bars, levels } = rankers;
  return {
    rankers,
    score: (context) => ({
      spans: scorerOf(spans, context),
      bars: scorerOf(bars, context),
      levels: scorerOf(levels, context),
    }),
  };
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
  /** For the confidence of tempi; and of bars, where the level is right and bars are known. */
  judged: Judged;
  judgedBars: Judged | null;
}

/** The score of every level, of each of its bars with their spans, and of these spans, as the engine has them. */
function scoresOf({ levels, rows, free, context }: RhythmItem, model: RhythmModel) {
  const score = model.score(context);
  const next = Object.fromEntries(
    RHYTHM_STAGES.map((stage) => {
      const size = WEIGHINGS[stage].names.length;
      let at = 0;
      return [stage, () => score[stage](rows[stage].subarray(at, (at += size)))];
    }),
  ) as Record<RhythmStage, () => number>;
  return levels.map(({ bars }) => {
    const level = next.levels();
    const ofBars = bars.map(({ spans }) => {
      const bar = next.bars();
      const ofSpans = spans.map(() => next.spans());
      return { score: bar + (ofSpans.length && !free ? logSumExp(ofSpans) : 0), spans: ofSpans };
    });
    return { score: level + logSumExp(ofBars.map((bar) => bar.score)), level, bars: ofBars };
  });
}

export function judgeRhythm(item: RhythmItem, model: RhythmModel): Verdict {
  const best = (scores: readonly number[]) => scores.indexOf(Math.max(...scores));
  const scored = scoresOf(item, model);
  const scores = scored.map(({ score }) => score);
  const barScores = scored.map(({ bars }) => bars.map(({ score }) => score));
  const l = best(scores);
  const level = item.levels[l];
  const b = best(barScores[l]);
  const all = logSumExp(scores);
  const surpriseAt = (right: readonly number[]) => (right.length ? all - logSumExp(right) : null);
  const bar = level.bars[b];
  const span = bar.spans.length ? bar.spans[best(scored[l].bars[b].spans)] : null;
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
            item.levels.flatMap(({ bars }, i) =>
              barScores[i].filter((_, k) => bars[k].right).map((one) => scored[i].level + one),
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
