import { movedKey } from '@/core/harmony/keyNames';
import { stemAndEnding } from '@/core/formats/endings';
import { proposalOfRow, staysAsItIs } from '../samples/aims';
import type { Target } from '@/core/fit/proposal';
import type { SampleEntry } from '@/contract/entry';
import { loopBounds } from '@/core/rhythm/loop';
import { nameFromTemplate } from '../samples/nameTemplate';
import type { Plan } from '@/core/fit/plan';
import { timeMap } from '@/core/fit/timeMap';
import { clearHits } from '@/core/rhythm/clearHits';
import { barsUntil, beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Tag } from '@/core/tags/facets';
import type { Making } from '@/core/recipes/making';
import {
  ENDINGS,
  MOST_HITS,
  recipe,
  type Parent,
  type Recipe,
  type RecipeInput,
  type WriteFormat,
} from '@/core/recipes/recipe';

/** What of a sample a recipe keeps; null before it is measured. */
export function parentOf({ summary, settled, measurement, sequence }: SampleEntry): Parent | null {
  if (!measurement) return null;
  const { key } = settled;
  return {
    ...{ sampleId: summary.sampleId, name: summary.name, sha256: summary.sha256, sequence },
    ...{ kind: summary.kind, durationSeconds: summary.durationSeconds ?? measurement.durationSeconds },
    ...{ grid: settled.grid, tuningCents: settled.tuningCents },
    key: key && 'tonic' in key ? { tonic: key.tonic, mode: key.mode } : null,
    hits: clearHits(measurement.onsets).slice(0, MOST_HITS),
    isProved: summary.proof === 'current',
  };
}

/** The beats of the bars that go round in a loop, and by how much both ends are moved. */
export function loopRegion({
  settled,
  summary,
}: SampleEntry): { from: number; to: number; shiftSeconds: number } | null {
  const { grid, loop } = settled;
  const duration = summary.durationSeconds;
  if (!grid || duration === null || !loopBounds(grid, loop, duration)) return null;
  const size = feltBeatsPerBar(grid.meter);
  const { bar, bars, shiftSeconds } = loop ?? { bar: 1, bars: barsUntil(grid, duration), shiftSeconds: 0 };
  return { from: (bar - 1) * size, to: (bar - 1 + bars) * size, shiftSeconds };
}

/** How something is written that is made of many samples at once. */
export interface Writing {
  format: WriteFormat;
  sampleRate: number | null;
  /** A name with fields (library/samples/nameTemplate). */
  template: string;
}

export const USUAL_NAME = '{name}[ {bpm} bpm][ {key}]';

/**
 * A sample at a target as a recipe: the same proposal that it is heard by. A loop's whole bars go round, everything else is whole.
 * Null before it is measured, and where the target does nothing to it.
 */
export function recipeAtTarget(entry: SampleEntry, target: Target, writing: Writing): Recipe | null {
  const parent = parentOf(entry);
  if (!parent) return null;
  const { summary, settled } = entry;
  const { grid } = parent;
  const proposal = proposalOfRow(summary, target);
  if (staysAsItIs(proposal)) return null;
  const { ratio, level, semitones, cents } = proposal;
  const region = summary.kind === 'loop' ? loopRegion(entry) : null;
  const tempoBpm = proposal.tempoBpm ?? (grid && ratio !== 1 ? grid.tempoBpm / ratio : null);
  const isVoice = settled.tags.some(({ facet, value }) => facet === 'part' && value === 'voice');
  return named(
    {
      parent,
      region: region && { ...region, pad: true },
      time: { tempoBpm, level, even: proposal.tempoBpm !== null && grid?.movingBeats ? 'beat' : 'no' },
      pitch: {
        semitones,
        cents,
        tape: target.isTape,
        holdFormants: isVoice && semitones !== 0 && !target.isTape,
      },
      write: { format: writing.format, sampleRate: writing.sampleRate },
      kind:
        summary.kind === 'song' || summary.kind === 'stem' || summary.kind === 'oneshot'
          ? summary.kind
          : 'loop',
    },
    entry,
    writing.template,
  );
}

/** A recipe with the name that a template gives to what comes of it. Throws RangeError for a template that gives none. */
export function named(
  wanted: Omit<RecipeInput, 'name'>,
  entry: SampleEntry,
  template: string,
  number?: number,
): Recipe {
  const parsed = withItsHits(recipe.parse({ ...wanted, name: 'unnamed' }));
  const { grid, key, name: parentName } = parsed.parent;
  const { time, pitch, region } = parsed;
  const tempoBpm = time.tempoBpm ?? (grid ? grid.tempoBpm * time.level : null);
  const size = grid ? feltBeatsPerBar(grid.meter) : 4;
  const beats = time.exactBeats ?? (region ? (region.to - region.from) * time.level : null);
  const bars = beats === null ? entry.summary.bars : beats / size;
  const { name, fault } = nameFromTemplate(template, {
    name: parentName,
    folder: entry.summary.folder,
    kind: parsed.kind,
    tempoBpm: parsed.kind === 'oneshot' ? null : tempoBpm,
    beatsPerBar: grid?.meter.beatsPerBar ?? null,
    beatUnit: grid?.meter.beatUnit ?? null,
    bars: bars !== null && Math.abs(bars - Math.round(bars)) < 1e-6 ? Math.round(bars) : null,
    keyTonic: key ? movedKey(key, pitch.semitones).tonic : null,
    keyMode: key?.mode ?? null,
    tags: entry.settled.tags as Tag[],
    number: number ?? null,
    bar: region && grid ? Math.floor(region.from / size + 1e-6) + 1 : null,
  });
  if (fault) throw new RangeError(fault);
  return { ...parsed, name: `${stemAndEnding(name)[0]}.${ENDINGS[parsed.write.format]}` };
}

/** Hits farther outside of a stretch than this are not read with it, seconds, beside what its edges reach. */
const HITS_AROUND = 1;

/** A recipe that keeps only the hits that it can read: of a song in a thousand pieces each would have all of them. */
function withItsHits(whole: Recipe): Recipe {
  const { parent, region, keepAround } = whole;
  if (!region || !parent.grid || keepAround) return whole;
  // What is faded in over the end may be bent fourfold.
  const from =
    beatTime(parent.grid, region.from - region.pickupBeats) - 0.004 * region.crossfadeMs - HITS_AROUND;
  const to = beatTime(parent.grid, region.to) + region.tailSeconds + HITS_AROUND;
  return { ...whole, parent: { ...parent, hits: parent.hits.filter((hit) => hit >= from && hit <= to) } };
}

/** Whether a recipe only bends all of a sample: then it can be heard while the rest of it is still being made. */
export const isOnlyBent = ({ region, times, countInBars, clickOnly, write }: Recipe): boolean =>
  region === null && times === 1 && countInBars === 0 && !clickOnly && write.gainDb === 0;

/**
 * What is made, as the page's engine plays it: it goes round, unless it is all of a sample. Its places are told as those of the parent,
 * as far as they have any.
 */
export function planOfMaking(making: Making, recipe: Recipe): Plan {
  const { rate, first, size, before, lead, countIn, length, fitting, grid } = making;
  const from = first / rate;
  const map = fitting.map!;
  const seconds = (frames: number) => frames / rate;
  const shift = countIn + lead - before;
  return {
    ...{ from, to: (first + size) / rate, seconds: seconds(length), isTape: recipe.pitch.tape },
    map: timeMap(
      map.source.map(seconds),
      map.result.map((frame) => seconds(frame + shift)),
    ),
    semitones: fitting.semitones,
    holdFormants: fitting.holdFormants,
    goesRound: !isOnlyBent(recipe),
    one: grid ? Math.max(0, Math.min(grid.one, seconds(length) - 0.01)) : 0,
    ...{ pickup: 0, grid, hits: fitting.attacks.map(seconds) },
  };
}

/** A stretch of time as beats of a grid, drawn to whole bars where they are near. */
export function regionOfTimes(grid: Grid, from: number, to: number): { from: number; to: number } {
  const size = feltBeatsPerBar(grid.meter);
  const near = (time: number) => {
    const beat = beatPosition(grid, time);
    const line = Math.round(beat / size) * size;
    return Math.abs(beatTime(grid, line) - time) < 0.03 ? line : beat;
  };
  return { from: near(from), to: near(to) };
}
