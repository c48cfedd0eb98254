import { movedKey } from '@/core/harmony/keyNames';
import { stemAndEnding } from '@/core/formats/endings';
import { proposalOfRow, staysAsItIs } from '../samples/aims';
import type { Target } from '@/core/timeStretch/proposal';
import type { SampleEntry, SampleSummary } from '@/contract/entry';
import { loopBounds } from '@/core/rhythm/loop';
import { isRowUnpitched } from '../samples/toneless';
import { nameFromTemplate } from '../samples/nameTemplate';
import type { Plan } from '@/core/timeStretch/plan';
import { timeMap } from '@/core/timeStretch/timeMap';
import { clearHits } from '@/core/rhythm/clearHits';
import { barsUntil, beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Tag } from '@/core/tags/facets';
import type { RenderPlan } from '@/core/recipes/renderPlan';
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
    ...{ grid: settled.grid, tuningCents: settled.tuningCents, bars: summary.bars },
    // What has no pitch has no key either, whatever key its set is in.
    key: key && 'tonic' in key && !isRowUnpitched(summary) ? { tonic: key.tonic, mode: key.mode } : null,
    hits: clearHits(measurement.onsets).slice(0, MOST_HITS),
    isProved: summary.proof === 'current',
  };
}

/** The beats of the bars that loop in a loop, and by how much both ends are moved. */
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
  midiAs?: 'notes' | 'audio';
  /** A name with fields (library/samples/nameTemplate). */
  template: string;
}

export const USUAL_NAME = '{name}[ {bpm} bpm][ {key}][ {how}]';

/** A performance at a target is notes, unless its sound is wanted; without a grid notes have no bars to be written on. */
export const formatAtTarget = (
  { format, tempoBpm }: Pick<SampleSummary, 'format' | 'tempoBpm'>,
  writing: Pick<Writing, 'format' | 'midiAs'>,
): WriteFormat =>
  format === 'midi' && tempoBpm !== null && writing.midiAs === 'notes' ? 'midi' : writing.format;

/**
 * A sample at a target as a recipe: the same proposal that it is heard by. A loop's whole bars loop, everything else is whole.
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
      write: { format: formatAtTarget(summary, writing), sampleRate: writing.sampleRate },
      kind:
        summary.kind === 'midi' ||
        summary.kind === 'song' ||
        summary.kind === 'stem' ||
        summary.kind === 'oneshot'
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
  const bars = barsOfRecipe(parsed, entry);
  const { name, fault } = nameFromTemplate(template, {
    name: parentName,
    folder: entry.summary.folder,
    kind: parsed.kind,
    tempoBpm: parsed.kind === 'oneshot' ? null : tempoBpm,
    beatsPerBar: grid?.meter.beatsPerBar ?? null,
    beatUnit: grid?.meter.beatUnit ?? null,
    bars: bars !== null && Math.abs(bars - Math.round(bars)) < 1e-6 ? Math.round(bars) : null,
    how: howOf(parsed),
    keyTonic: key ? movedKey(key, pitch.semitones).tonic : null,
    keyMode: key?.mode ?? null,
    tags: entry.settled.tags as Tag[],
    toneless: key === null,
    before: { tempoBpm: grid?.tempoBpm ?? null, key },
    number: number ?? null,
    bar: region && grid ? Math.floor(region.from / size + 1e-6) + 1 : null,
  });
  if (fault) throw new RangeError(fault);
  return { ...parsed, name: `${stemAndEnding(name)[0]}.${ENDINGS[parsed.write.format]}` };
}

/** How many bars a result has, as far as its name says them: all that are heard, with what is kept around them. */
function barsOfRecipe(
  { parent, region, time, times, keepAround }: Recipe,
  { summary }: SampleEntry,
): number | null {
  const { level, exactBeats } = time;
  if (!parent.grid) return null;
  if (!region) return summary.bars === null ? null : summary.bars * level;
  const size = feltBeatsPerBar(parent.grid.meter);
  const once = (exactBeats ?? (region.to - region.from) * level) / size;
  if (!keepAround) return times * once;
  const around = barsUntil(parent.grid, parent.durationSeconds) - (region.to - region.from) / size;
  return times * once + around * level;
}

/** What else tells a result from others of the same sample, for its name: "8x, count-in 2, -6 dB". */
function howOf({ times, countInBars, clickOnly, write, region }: Recipe): string | null {
  const parts = [
    times > 1 && `${times}x`,
    region && region.tail !== 'cut' && 'with tail',
    countInBars > 0 && `count-in ${countInBars}`,
    clickOnly && 'click',
    write.gainDb !== 0 && `${write.gainDb > 0 ? '+' : '-'}${Math.abs(write.gainDb)} dB`,
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(', ') : null;
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
 * What is made, as the page's engine plays it: it loops, unless it is all of a sample. Its places are told as those of the parent,
 * as far as they have any.
 */
export function planOfMaking(renderPlan: RenderPlan, recipe: Recipe): Plan {
  const { rate, first, size, before, lead, countIn, length, timeStretch, grid } = renderPlan;
  const from = first / rate;
  const map = timeStretch.map!;
  const seconds = (frames: number) => frames / rate;
  const shift = countIn + lead - before;
  return {
    ...{ from, to: (first + size) / rate, seconds: seconds(length), isTape: recipe.pitch.tape },
    map: timeMap(
      map.source.map(seconds),
      map.result.map((frame) => seconds(frame + shift)),
    ),
    semitones: timeStretch.semitones,
    holdFormants: timeStretch.holdFormants,
    loops: !isOnlyBent(recipe),
    one: grid ? Math.max(0, Math.min(grid.one, seconds(length) - 0.01)) : 0,
    ...{ pickup: 0, grid, hits: timeStretch.attacks.map(seconds) },
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
