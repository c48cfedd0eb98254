import { factsOf, fittableRow } from '../samples/aims';
import { laterBy, type Plan, type Settled } from '@/core/timeStretch/plan';
import type { Fittable, KeyWay, Level } from '@/core/timeStretch/proposal';
import type { StrainWord } from '@/core/timeStretch/strain';
import { toResult, toSource } from '@/core/timeStretch/timeMap';
import type { SampleEntry } from '@/contract/entry';
import type { Grid } from '@/core/rhythm/grid';
import type { Lane } from '@/contract/blend';

/** What is known of the sample of a lane. */
export interface LaneFacts {
  settled: Settled;
  fittable: Fittable;
}

/** The facts of an entry; null where it is not measured yet. */
export function laneFactsOf(entry: SampleEntry): LaneFacts | null {
  const settled = factsOf(entry);
  return settled && { settled, fittable: fittableRow(entry.summary) };
}

/** One time that a lane's sample sounds, or many that loop. Seconds from bar 1 of the blend. */
export interface Part {
  plan: Plan;
  start: number;
  until: number;
  /** It loops from `start` on … */
  isLooping: boolean;
  /** … beginning again after so many seconds, which is what the ruler says and to a frame as long as what is heard. */
  turn: number;
  /** It is cut off at `until`, not at its own end. */
  isCut: boolean;
}

/** How far a lane is bent, and what else could be chosen. */
export interface Bend {
  /** Beats of the blend for one of its own; null where it is not fitted by beats. */
  level: number | null;
  /** Length of the result by that of the sample. */
  ratio: number;
  semitones: number;
  cents: number;
  becomes: KeyWay['becomes'] | null;
  otherWay: number | null;
  strain: number;
  word: StrainWord;
  /** Another choice that strains less; null where there is none. */
  cleaner: { level: Level | null; semitones: number; strain: number } | null;
}

/** What a lane comes to. */
export interface LaneScore {
  lane: Lane;
  parts: Part[];
  bend: Bend;
  /** Beats of the blend from one time to the next; null where it is heard once, or not by beats. */
  every: number | null;
  /** Of its sample; null where that is not known. */
  durationSeconds: number | null;
  /** How long its hits usually take to come up, ms. */
  attackMs: number;
  /** Why something is left as it is. */
  remarks: string[];
  /** Why it is silent; null where it sounds. */
  fault: string | null;
}

/** Where the hits of a lane stand in the blend, seconds, rising; each part's own, as often as it is heard. */
export function hitsOf({ parts }: LaneScore, from = -Infinity, to = Infinity): number[] {
  const found: number[] = [];
  for (const { plan, start, until, isLooping, turn } of parts) {
    const own = plan.hits.map((hit) => toResult(plan.map, hit));
    const looping = isLooping ? Math.ceil((until - start) / turn - 1e-9) : 1;
    for (let round = 0; round < looping; round++)
      for (const hit of own) {
        const time = start + round * turn + hit;
        if (time < until && time >= from && time < to) found.push(time);
      }
  }
  return found.sort((a, b) => a - b);
}

/** Which second of a lane's sample is heard at a moment of the blend; null where it is silent. */
export function heardIn({ parts }: LaneScore, time: number): number | null {
  const part = parts.find(({ start, until }) => time >= start && time < until);
  if (!part) return null;
  const { plan, start, isLooping, turn } = part;
  const within = isLooping ? (time - start) % turn : time - start;
  return plan.from + toSource(plan.map, within);
}

/** The grid of the ruler as a part has it, its own beginning at 0. */
export const gridWithin = (grid: Grid, { start }: Pick<Part, 'start'>): Grid => laterBy(grid, -start);
