import type { Blend } from '@/contract/blend';
import { hearingOf } from '@/library/blend/hearing';
import type { Score } from '@/library/blend/score';
import { barTime } from '@/core/rhythm/grid';
import type { Ruler } from './ruler';

/** What the engine plays of a blend. */
export function rulerOf(id: string, { lanes, round }: Blend, score: Score): Ruler {
  const { grid, bars, seconds, begins } = score;
  const inside = round && { from: Math.min(round.from, bars), to: Math.min(round.to, bars) };
  return {
    ...{ id, grid, seconds, begins },
    round: inside && {
      from: barTime(grid, inside.from),
      to: Math.min(seconds, barTime(grid, inside.to + 1)),
    },
    voices: score.lanes.flatMap(({ lane, durationSeconds, parts }) =>
      parts.map((part, i) => ({
        ...{ key: `${lane.laneId}#${i}`, sampleId: lane.sampleId, durationSeconds, part },
        hearing: hearingOf(lane, lanes),
      })),
    ),
  };
}
