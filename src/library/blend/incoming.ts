import type { Blend, BlendOrder, LaneInput, Taken } from '@/contract/blend';
import { BLEND_TEMPI, newLane, type Lane } from '@/contract/blend';
import type { LaneFacts } from './parts';

/** A sample that is to be put into a blend. */
export interface Incoming {
  sampleId: string;
  name: string;
  facts: LaneFacts;
}

/** What a blend takes of the sample that leads it: tempo, key, time signature, and its movement where it moves. */
export function takenFrom({ settled, fittable }: LaneFacts): Taken | null {
  const { grid, kind } = settled;
  if (!grid || kind === 'oneshot') return null;
  const { tempoBpm } = grid;
  if (!(tempoBpm >= BLEND_TEMPI.least && tempoBpm <= BLEND_TEMPI.most)) return null;
  return {
    tempoBpm,
    key: fittable.isUnpitched ? null : fittable.key,
    meter: grid.meter,
    movement: grid.movingBeats ? grid : null,
  };
}

/** A lane for a sample: a loop loops until the others end, what has no tempo keeps its seconds, all else is heard once. */
function laneFor({ sampleId, name, facts }: Incoming, laneId: string, at: number): Lane {
  const { kind, grid } = facts.settled;
  const lane: LaneInput = {
    ...{ laneId, sampleId, name: name.slice(0, 300), at },
    times: kind === 'loop' && grid ? null : 1,
  };
  return newLane(lane);
}

/** How an incoming sample comes in by the custom of the blend: what the blend becomes with it, and whether it leads. */
export function comesIn(
  blend: Blend,
  incoming: Incoming,
  laneId: string,
  at = 0,
): Extract<BlendOrder, { do: 'put' }> {
  const lane = laneFor(incoming, laneId, at);
  const taken = takenFrom(incoming.facts);
  const isFirst = blend.tempoBpm === null && blend.custom !== 'the tempo stays';
  const isTaken = taken !== null && (isFirst || blend.custom === 'the newcomer’s is taken');
  // A lead without a pitch leaves the key to the others.
  const takes = isTaken ? { ...taken, key: taken.key ?? blend.key } : null;
  if (takes) return { do: 'put', lane, leads: true, takes };
  // The first that has a key sets it where the lead had none.
  const setsKey =
    blend.key === null &&
    blend.custom === 'the first sets it' &&
    !incoming.facts.fittable.isUnpitched &&
    incoming.facts.settled.kind !== 'oneshot';
  const key = setsKey ? incoming.facts.fittable.key : null;
  const { tempoBpm, meter, movement } = blend;
  return { do: 'put', lane, leads: false, takes: key ? { tempoBpm, key, meter, movement } : null };
}
