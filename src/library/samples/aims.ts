import type { SampleEntry, SampleSummary } from '@/contract/entry';
import { pitchClassOf } from '@/core/harmony/keyNames';
import { measuredGrid } from '@/core/measurement/measuredGrid';
import type { Measurement } from '@/core/measurement/schema';
import { clearHits } from '@/core/rhythm/clearHits';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { isRowUnpitched } from './toneless';
import { planOf, type Plan, type Settled } from '@/core/timeStretch/plan';
import {
  LEVELS,
  NO_CHOICE,
  proposalFor,
  targetKey,
  type Choice,
  type Fittable,
  type Proposal,
  type Target,
} from '@/core/timeStretch/proposal';

/** What a row of a list says of how its sample is fitted. */
export function fittableRow(row: SampleSummary): Fittable {
  const { kind, tempoBpm, bars, keyTonic: tonic, keyMode: mode, tuningCents } = row;
  const { beatsPerBar, beatUnit } = row;
  return {
    beatsPerBar:
      beatsPerBar !== null && beatUnit !== null ? feltBeatsPerBar({ beatsPerBar, beatUnit }) : null,
    ...{ kind, tempoBpm, bars, tuningCents, isUnpitched: isRowUnpitched(row) },
    key: tonic !== null && mode !== null ? { tonic, mode } : null,
  };
}

/** What a target does to the sample of a row. */
export const proposalOfRow = (row: SampleSummary, target: Target): Proposal =>
  proposalFor(fittableRow(row), target, choiceOf(row, target));

/** What somebody chose for the sample of a row at a target. */
export function choiceOf({ choices }: Pick<SampleSummary, 'choices'>, target: Target): Choice {
  const name = targetKey(target);
  const chosen = choices.find((one) => one.target === name);
  if (!chosen) return NO_CHOICE;
  return { semitones: chosen.semitones, level: LEVELS.find((level) => level === chosen.level) ?? null };
}

/** Whether a proposal leaves its sample as it is. */
export const staysAsItIs = ({ ratio, tempoBpm, semitones, cents }: Proposal): boolean =>
  ratio === 1 && tempoBpm === null && semitones === 0 && cents === 0;

/** What is settled of a sample, as far as it says how it sounds fitted; null where nothing is known of it yet. */
export function factsOf({ summary, settled, measurement }: SampleEntry): Settled | null {
  const durationSeconds = summary.durationSeconds ?? measurement?.durationSeconds;
  if (durationSeconds === undefined) return null;
  const { grid, loop, tags } = settled;
  return {
    ...{ kind: summary.kind, durationSeconds, grid, loop },
    hits: measurement ? clearHits(measurement.onsets) : [],
    isVoice: tags.some(({ facet, value }) => facet === 'part' && value === 'voice'),
    attackMs: measurement?.character?.attackMs ?? 0,
  };
}

/** How a sample sounds at a target; null where nothing is known of it yet. */
export function planOfEntry(entry: SampleEntry, target: Target): Plan | null {
  const facts = factsOf(entry);
  return facts && planOf(facts, proposalOfRow(entry.summary, target), target);
}

/** What a target does to a recording that is only measured, in no library. */
export function proposalOfMeasurement(found: Measurement, target: Target): Proposal {
  const { kind, key, tuningCents, bars } = found;
  const grid = measuredGrid(found);
  const tonic = key && pitchClassOf(key.tonic);
  const facts: Fittable = {
    ...{ kind, bars, tuningCents, tempoBpm: grid?.tempoBpm ?? null },
    beatsPerBar: grid && feltBeatsPerBar(grid.meter),
    key: key && tonic !== null ? { tonic, mode: key.mode } : null,
    isUnpitched: key === null,
  };
  return proposalFor(facts, target);
}

/** How it sounds at the target. */
export function planOfMeasurement(found: Measurement, target: Target): Plan {
  const { kind, durationSeconds } = found;
  const sample = {
    ...{ kind, durationSeconds, grid: measuredGrid(found), hits: clearHits(found.onsets) },
    ...{ loop: null, isVoice: false, attackMs: found.character?.attackMs ?? 0 },
  };
  return planOf(sample, proposalOfMeasurement(found, target), target);
}
