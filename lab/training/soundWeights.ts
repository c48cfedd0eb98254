import { hearKeys, KEYS, observeKey, observeTonality, TONAL } from '@/core/harmony/key';
import { ALL_KEYS, pitchClassOf } from '@/core/harmony/keyNames';
import { activeStretch } from '@/core/measurement/activeStretch';
import { observeKind, ONESHOT } from '@/core/measurement/kind';
import type { Heard } from '@/core/measurement/listening';
import type { RhythmHypothesis } from '@/core/rhythm/hypotheses';
import { LONGEST_LOOP_SECONDS } from '@/core/rhythm/spans';
import { fitRanker, together, type Choice, type RankerSettings } from './ranker';
import { fitTemperature, type Judged } from './temperature';
import { scorerOf, toStored, type Ranker } from '@/core/weights/weights';
import { groupOf, type Origin, type Truth } from './truth';

/** What is decided of a recording's sound: its key, whether it has one, whether it is a one-shot. */
export interface SoundItem {
  id: string;
  label: string;
  group: string;
  origin: Origin;
  key: Choice | null;
  tonal: Choice | null;
  oneshot: Choice | null;
}

const STAGES = ['key', 'tonal', 'oneshot'] as const;
type Stage = (typeof STAGES)[number];
export type SoundModel = Record<Stage, Ranker>;
const NAMES = { key: KEYS.names, tonal: TONAL.names, oneshot: ONESHOT.names };
/** `members` are fits from different beginnings whose scores are averaged: plain weights have but one. */
const SETTINGS: Record<Stage, RankerSettings & { members: number }> = {
  key: { hidden: 4, ridge: 3, epochs: 60, dropout: 0, members: 3 },
  tonal: { hidden: 0, ridge: 0.5, epochs: 60, dropout: 0, members: 1 },
  oneshot: { hidden: 0, ridge: 6, epochs: 60, dropout: 0, members: 1 },
};
/** What counts less than a recording: practice pieces are many and simple, excerpts are like each other. */
const SHARES: Record<Origin, Record<Stage, number>> = {
  recording: { key: 1, tonal: 1, oneshot: 1 },
  excerpt: { key: 0.2, tonal: 0.2, oneshot: 0.25 },
  practice: { key: 0.15, tonal: 0.15, oneshot: 0.3 },
};

export function observeSound(
  truth: Truth,
  heard: Heard,
  hypotheses: readonly RhythmHypothesis[],
  origin: Origin,
): SoundItem | null {
  const active = activeStretch(heard.features);
  if (!active) return null;
  const weight = (stage: Stage) => SHARES[origin][stage];
  const harmony = hearKeys(heard.chroma, heard.peaks);
  const tonic = truth.key ? pitchClassOf(truth.key.tonic.replace(/^([A-G][#b]?).*/, '$1')) : null;
  const key: Choice | null =
    truth.key && tonic !== null
      ? {
          weight: weight('key'),
          right: ALL_KEYS.map((option) => option.tonic === tonic && option.mode === truth.key!.mode),
          rows: ALL_KEYS.map((option) => Float32Array.from(observeKey(harmony, option))),
        }
      : null;
  const binary = (stage: Stage, yes: boolean, observed: Float64Array): Choice => ({
    weight: weight(stage),
    right: [yes, !yes],
    rows: [Float32Array.from(observed), new Float32Array(observed.length)],
  });
  // A song without a key in the truth file has one that nobody has written down.
  const knowsTonal =
    truth.key != null || (!/song|oneshot/.test(truth.kind) && !truth.keyUnknown && !truth.rootNote);
  const kindSeen = observeKind(heard, active, hypotheses);
  // A made-up bar of one or two hits says nothing: whoever hears it alone hears a single sound.
  const ambiguous = origin !== 'recording' && Math.expm1(kindSeen[ONESHOT.indexOf('later')]) < 1.5;
  const knowsKind = truth.kind === 'oneshot' || (heard.durationSeconds < LONGEST_LOOP_SECONDS && !ambiguous);
  return {
    id: truth.id,
    label: `${truth.kind}/${truth.variant ?? truth.source ?? ''}`,
    group: groupOf(truth),
    origin,
    key,
    tonal: knowsTonal ? binary('tonal', truth.key != null, observeTonality(harmony)) : null,
    oneshot: knowsKind ? binary('oneshot', truth.kind === 'oneshot', kindSeen) : null,
  };
}

export function fitSound(items: readonly SoundItem[], firstSeed = 0): SoundModel {
  const fit = (stage: Stage) => {
    const choices = items.flatMap((item) => item[stage] ?? []);
    const { members, ...settings } = SETTINGS[stage];
    return together(
      Array.from({ length: members }, (_, member) =>
        fitRanker(choices, NAMES[stage].length, settings, firstSeed + member),
      ),
    );
  };
  return { key: fit('key'), tonal: fit('tonal'), oneshot: fit('oneshot') };
}

/** An item that was held out, with the model that has not seen it. */
export interface HeldOut {
  item: SoundItem;
  model: SoundModel;
}

function judge(stage: Stage, heldOut: readonly HeldOut[]): (Judged & { item: SoundItem })[] {
  return heldOut.flatMap(({ item, model }) => {
    const choice = item[stage];
    return choice ? [{ item, scores: choice.rows.map(scorerOf(model[stage])), right: choice.right }] : [];
  });
}

/** How often the best option is the right one, per stage and kind, and which items fail. */
export function reportSound(heldOut: readonly HeldOut[]) {
  for (const stage of STAGES) {
    const verdicts = judge(stage, heldOut).map(({ item, scores, right }) => ({
      item,
      right: right[scores.indexOf(Math.max(...scores))],
    }));
    console.log(`${stage}: right`);
    for (const label of ['', ...new Set(verdicts.map(({ item }) => item.label))].sort()) {
      const of = verdicts.filter(({ item }) => !label || item.label === label);
      const right = of.filter((verdict) => verdict.right).length;
      const wrong = of.filter((verdict) => !verdict.right).map(({ item }) => item.id);
      console.log(
        `  ${(label || 'all').padEnd(26)} ${((100 * right) / of.length).toFixed(1)} % of ${of.length} ${label ? wrong.slice(0, 14).join(' ') : ''}`,
      );
    }
  }
}

export function namedSound(model: SoundModel, heldOut: readonly HeldOut[]) {
  const named = (stage: Stage) => toStored(model[stage], NAMES[stage], fitTemperature(judge(stage, heldOut)));
  return { keys: named('key'), tonal: named('tonal'), oneshot: named('oneshot') };
}
