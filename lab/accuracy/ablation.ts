import type { Heard } from '@/core/measurement/listening';
import type { RecordingContext } from '@/core/rhythm/recordingContext';
import { conclude, explainRhythm } from '@/core/measurement/measure';
import type { Measurement } from '@/core/measurement/schema';
import { BARS } from '@/core/rhythm/bars';
import { believedBars, LEVELS, type BarChoice, type RhythmHypothesis } from '@/core/rhythm/hypotheses';
import { logSumExp } from '@/core/weights/logSumExp';
import { rankerOf, scorerOf, type Ranker } from '@/core/weights/weights';

interface Variant {
  name: string;
  /** Explanations that the variant does not have. */
  drops?: (hypothesis: RhythmHypothesis) => boolean;
  /** Observations of levels that it does not look at. */
  blindTo?: (name: string) => boolean;
  /** Levels alone, without what the bars on them score. */
  barless?: boolean;
  /** Bars by themselves, without what the spans of such bars score. */
  spanless?: boolean;
  /** Without the hidden units. */
  linear?: boolean;
}

export const VARIANTS: Variant[] = [
  { name: 'the engine' },
  { name: 'without grids from the length of the file', drops: ({ origin }) => origin === 'length' },
  { name: 'without following a player', drops: ({ origin }) => origin === 'player' },
  { name: 'levels without the bars on them', barless: true },
  { name: 'bars without the spans of them', spanless: true },
  { name: 'levels without the patterns of the registers', blindTo: (name) => /\.\d$/.test(name) },
  { name: 'levels without chords and bass', blindTo: (name) => /^(chord|bass)/.test(name) },
  { name: 'levels without a tempo prior', blindTo: (name) => /^tempo/.test(name) },
  { name: 'levels without hidden units', linear: true },
];

/** What each variant of the engine makes of a recording. */
export function ablate(heard: Heard): Map<string, Measurement> {
  const hypotheses = explainRhythm(heard);
  return new Map(VARIANTS.map((variant) => [variant.name, conclude(heard, reranked(hypotheses, variant))]));
}

/** A bar by what is observed of itself. */
const alone = (context: RecordingContext) => (bar: BarChoice) => ({
  ...bar,
  score: BARS.score(bar.observed, context),
});

function reranked(
  hypotheses: readonly RhythmHypothesis[],
  { name, drops, blindTo, barless, spanless, linear }: Variant,
): RhythmHypothesis[] {
  const full = rankerOf('levels', LEVELS.names);
  // What is called by a name that is no more would be left out by nobody.
  if (blindTo && !LEVELS.names.some(blindTo))
    throw new RangeError(`${name}: levels have no such observations`);
  const seen = (weights: ArrayLike<number>) =>
    Array.from(weights, (weight, i) => (blindTo?.(LEVELS.names[i]) ? 0 : weight));
  const ranker: Ranker = {
    ...full,
    layers: full.layers.map((layer) => ({
      linear: seen(layer.linear),
      hidden: linear ? [] : layer.hidden.map((unit) => ({ ...unit, into: seen(unit.into) })),
    })),
  };
  const score = scorerOf(ranker, hypotheses[0]?.context);
  const kept = hypotheses
    .filter((hypothesis) => !drops?.(hypothesis))
    .map((hypothesis) => {
      const bars = spanless ? believedBars(hypothesis.bars.map(alone(hypothesis.context))) : hypothesis.bars;
      const ofBars = barless ? 0 : logSumExp(bars.map((bar) => bar.score));
      return { ...hypothesis, bars, bar: bars[0], score: score(hypothesis.observed) + ofBars };
    });
  const tempered = kept.map((hypothesis) => hypothesis.score / LEVELS.temperature);
  const all = logSumExp(tempered);
  return kept
    .map((hypothesis, i) => ({ ...hypothesis, sureness: Math.exp(tempered[i] - all) }))
    .sort((a, b) => b.score - a.score);
}
