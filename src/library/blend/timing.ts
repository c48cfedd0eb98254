import { driftFigures, heardBesideMs, type Deviation, type DriftFigures } from '@/core/rhythm/drift';
import { beatPosition, beatsWithin, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { lastNotAfter } from '@/core/math/bisect';
import { hitsOf, type LaneScore } from './parts';
import type { Score } from './score';

/** Hits further from a beat than this, or than a fifth of one, belong to something else. */
const REACH_SECONDS = 0.06;
const REACH_BEATS = 0.2;
/** Nothing is compared behind these bars: what loops is the same again. */
const COMPARED_BARS = 64;

/** Two hits so far apart are heard as two, and are meant as one, seconds; where one of them comes up slowly, from so much more on. */
const FLAM = { least: 0.008, most: 0.06 };

/** How the hits of a lane stand on the common beats. */
export interface LaneTiming {
  laneId: string;
  figures: DriftFigures;
  /** It leans: it falls behind, or gets ahead, audibly within what is compared. */
  leans: boolean;
  /** It stands beside the others by as much as is heard. */
  isBeside: boolean;
  /** What its own tempo would have to be multiplied by so that it stands upright; null where it does not lean. */
  tempoFactor: number | null;
}

/** A place at which hits of two lanes are heard as two. */
export interface Flam {
  /** Of the earlier one, seconds from bar 1. */
  time: number;
  bar: number;
  early: string;
  late: string;
  ms: number;
}

/** A slope is one when it comes to this within what is compared, ms. */
const LEANS_MS = 10;

/** For each beat of the ruler the nearest hit of a lane, where one is near. `hits` rise. */
function besideBeats(hits: readonly number[], grid: Grid, until: number): Deviation[] {
  const reach = Math.min(REACH_SECONDS, (REACH_BEATS * 60) / grid.tempoBpm);
  return beatsWithin(grid, -1e-6, until).flatMap(({ time, beat }) => {
    const before = lastNotAfter(hits, time);
    const near = [hits[before], hits[before + 1]].filter((hit) => hit !== undefined);
    if (near.length === 0) return [];
    const hit = near.reduce((a, b) => (Math.abs(b - time) < Math.abs(a - time) ? b : a));
    if (Math.abs(hit - time) > reach) return [];
    return [{ time: hit, beat, deviationMs: 1000 * (hit - time), strength: 1 }];
  });
}

/** Seconds of the first time round, or of all that is compared. */
function comparedOf({ parts }: LaneScore, { grid, seconds }: Score): number {
  const bars = Math.min(seconds, (COMPARED_BARS * feltBeatsPerBar(grid.meter) * 60) / grid.tempoBpm);
  const [first] = parts;
  return first?.isLooping ? Math.min(bars, first.start + first.turn) : bars;
}

/** How each lane stands on the common beats: where it stands, how tight it is, whether it leans. */
export function timingOf(score: Score): LaneTiming[] {
  return score.lanes.map((one) => {
    const until = comparedOf(one, score);
    const hits = hitsOf(one, -Infinity, until);
    const found = besideBeats(hits, score.grid, until);
    const figures = driftFigures(found, score.grid);
    const { medianMs, spreadMs, slopeMsPerBar, tempoErrorBpm } = figures;
    const bars =
      found.length > 1
        ? (found[found.length - 1].beat - found[0].beat) / feltBeatsPerBar(score.grid.meter)
        : 0;
    const total = Math.abs(slopeMsPerBar ?? 0) * bars;
    const leans = found.length >= 8 && bars >= 4 && total > LEANS_MS && total > 1.5 * (spreadMs ?? 0);
    return {
      ...{ laneId: one.lane.laneId, figures, leans },
      isBeside: !leans && Math.abs(medianMs ?? 0) > heardBesideMs(one.attackMs),
      tempoFactor:
        leans && one.bend.level !== null && tempoErrorBpm !== null
          ? (score.grid.tempoBpm + tempoErrorBpm) / score.grid.tempoBpm
          : null,
    };
  });
}

/** Where hits of two lanes that are heard stand 8 to 60 ms apart on the same quarter of a beat; rising in time. */
export function flamsOf(score: Score): Flam[] {
  const { grid } = score;
  const size = feltBeatsPerBar(grid.meter);
  const until = Math.min(score.seconds, (COMPARED_BARS * size * 60) / grid.tempoBpm);
  const heard = score.lanes.filter(({ lane }) => !lane.muted);
  const quarter = (time: number) => Math.round(beatPosition(grid, time) * 4);
  const all = heard
    .flatMap((one) =>
      hitsOf(one, 0, until).map((time) => ({ time, laneId: one.lane.laneId, attack: one.attackMs / 1000 })),
    )
    .sort((a, b) => a.time - b.time);
  const found: Flam[] = [];
  all.forEach((early, i) => {
    for (let j = i + 1; j < all.length && all[j].time - early.time <= FLAM.most; j++) {
      const late = all[j];
      const least = FLAM.least + Math.max(early.attack, late.attack);
      if (late.laneId === early.laneId || late.time - early.time < least) continue;
      // The nearest of each only: a roll beside a hit is no flam.
      const isNearest = !all
        .slice(i + 1, j)
        .some(({ laneId }) => laneId === early.laneId || laneId === late.laneId);
      if (!isNearest || quarter(early.time) !== quarter(late.time)) continue;
      found.push({
        time: early.time,
        bar: Math.floor(beatPosition(grid, early.time + 1e-6) / size) + 1,
        ...{ early: early.laneId, late: late.laneId, ms: 1000 * (late.time - early.time) },
      });
    }
  });
  return found;
}

/** A hit in the fold: in which bar, from 0, and where in it, 0 … 1. */
export interface FoldedHit {
  bar: number;
  share: number;
}

/** The hits of a lane, bar under bar. */
export function foldOf(one: LaneScore, { grid, bars, seconds }: Score): FoldedHit[] {
  const size = feltBeatsPerBar(grid.meter);
  const most = Math.min(bars, COMPARED_BARS);
  return hitsOf(one, -Infinity, seconds).flatMap((time) => {
    const place = beatPosition(grid, time) / size;
    // What comes a little before a bar line belongs to it.
    const bar = Math.floor(place + 0.03);
    return bar < 0 || bar >= most ? [] : [{ bar, share: place - bar }];
  });
}
