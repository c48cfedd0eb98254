import { beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { LONGEST_BLEND, MOST_BARS, type Blend } from '@/contract/blend';
import { felt } from './feel';
import { arrange } from './lay';
import type { LaneFacts, LaneScore } from './parts';
import { gridOf } from './ruler';

/** What a blend comes to: every lane on one ruler. */
export interface Score {
  /** Beats and bars; beat 0 stands at 0. */
  grid: Grid;
  /** How long it is, and is written: whole bars. */
  bars: number;
  /** How long it would be by its lanes alone. */
  ownBars: number;
  seconds: number;
  /** Where the first pickup begins, seconds; 0 or less. */
  begins: number;
  /** After so many bars all that loop meet again; null where they do not within the most bars. */
  meetBars: number | null;
  lanes: LaneScore[];
}

/** Two loops that meet only after so many bars do not meet. */
const MEET_WITHIN = 512;
/** Beats are compared in these parts, so that thirds and quarters are whole. */
const PARTS_OF_BEAT = 48;
/** Everything on one ruler. `facts`: by sample; a lane whose sample has none is silent and says so. */
export function scoreOf(blend: Blend, facts: ReadonlyMap<string, LaneFacts | null>): Score {
  const grid = gridOf(blend);
  const size = feltBeatsPerBar(grid.meter);
  const lead = blend.lanes.find(({ laneId }) => laneId === blend.lead);
  const tuning = (lead && facts.get(lead.sampleId)?.fittable.tuningCents) || 0;
  const arranged = blend.lanes.map((lane) =>
    arrange(lane, blend, grid, facts.get(lane.sampleId) ?? null, tuning),
  );

  const turns = arranged.filter(({ lane, every }) => lane.times === null && every !== null);
  const meet = meetOf(
    turns.map(({ every }) => every!),
    size,
  );
  const ends = arranged.flatMap(({ lane, end }) => (lane.times === null ? [] : [end(lane.times)]));
  const begins = ({ lane }: (typeof turns)[number]) => (lane.held === 'bars' ? lane.at : 0);
  // What loops until the others end is heard once at least; where nothing ends, until all meet.
  const open =
    ends.length > 0 || meet === null
      ? turns.map((one) => begins(one) + one.every!)
      : [Math.max(0, ...turns.map(begins)) + meet];
  // What is held in time has no beats to meet on: it ends where it ends.
  const once = arranged
    .filter(({ lane, every }) => lane.times === null && every === null)
    .map(({ end }) => end(1));
  const beats = Math.max(size, ...ends, ...once, ...(turns.length > 0 ? open : []));
  const ownBars = Math.min(MOST_BARS, Math.ceil(beats / size - 1e-6));
  const bars = blend.endBars ?? ownBars;
  const seconds = Math.min(LONGEST_BLEND, beatTime(grid, bars * size));

  const lanes = arranged.map(({ put, end: _, ...one }) => ({
    ...one,
    parts: put(seconds, blend.endBars !== null),
  }));
  const scored = lanes.map((one) => ({ ...one, parts: felt(one, lanes, grid) }));
  return {
    ...{ grid, bars, ownBars, seconds, lanes: scored },
    begins: Math.min(0, ...scored.flatMap(({ parts }) => parts.map(({ start }) => start))),
    meetBars: meet === null || turns.length === 0 ? null : meet / size,
  };
}

/** After how many beats, a whole number of bars, all these lengths meet. */
function meetOf(lengths: readonly number[], size: number): number | null {
  const parts = [...lengths, size].map((beats) => beats * PARTS_OF_BEAT);
  if (parts.some((one) => Math.abs(one - Math.round(one)) > 1e-3)) return null;
  const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));
  const common = parts.map(Math.round).reduce((a, b) => (a / divisor(a, b)) * b, 1);
  const beats = common / PARTS_OF_BEAT;
  return beats <= MEET_WITHIN * size ? beats : null;
}
