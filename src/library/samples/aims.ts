import type { SampleEntry, SampleSummary } from '@/contract/entry';
import { pitchClassOf } from '@/core/harmony/keyNames';
import { measuredGrid } from '@/core/measurement/measuredGrid';
import type { Measurement } from '@/core/measurement/schema';
import { clearHits } from '@/core/rhythm/clearHits';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { planOf, type Plan, type Settled } from '@/core/fit/plan';
import { isUnpitched, proposalFor, type Fittable, type Proposal, type Target } from '@/core/fit/proposal';

/** What a row of a list says of how its sample is fitted. */
export function fittableRow(row: SampleSummary): Fittable {
  const { kind, tempoBpm, bars, keyTonic: tonic, keyMode: mode, tuningCents, tags } = row;
  const { beatsPerBar, beatUnit } = row;
  return {
    beatsPerBar:
      beatsPerBar !== null && beatUnit !== null ? feltBeatsPerBar({ beatsPerBar, beatUnit }) : null,
    ...{ kind, tempoBpm, bars, tuningCents, isUnpitched: isUnpitched(tags) },
    key: tonic !== null && mode !== null ? { tonic, mode } : null,
  };
}

/** What a target does to the sample of a row. */
export const proposalOfRow = (row: SampleSummary, target: Target): Proposal =>
  proposalFor(fittableRow(row), target);

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
  };
}

/** How a sample sounds at a target; null where nothing is known of it yet. */
export function planOfEntry(entry: SampleEntry, target: Target): Plan | null {
  const facts = factsOf(entry);
  return facts && planOf(facts, proposalOfRow(entry.summary, target), target);
}

/** The same of a recording that is only measured, in no library. */
export function planOfMeasurement(found: Measurement, target: Target): Plan {
  const { kind, durationSeconds, key, tuningCents, bars } = found;
  const grid = measuredGrid(found);
  const tonic = key && pitchClassOf(key.tonic);
  const facts: Fittable = {
    ...{ kind, bars, tuningCents, tempoBpm: grid?.tempoBpm ?? null },
    beatsPerBar: grid && feltBeatsPerBar(grid.meter),
    key: key && tonic !== null ? { tonic, mode: key.mode } : null,
    isUnpitched: key === null,
  };
  const hits = clearHits(found.onsets);
  const sample = { ...{ kind, durationSeconds, grid, hits }, loop: null, isVoice: false };
  return planOf(sample, proposalFor(facts, target), target);
}
