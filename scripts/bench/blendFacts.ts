import type { LaneFacts } from '../../src/library/blend/parts';
import { beatTime, type Grid } from '../../src/core/rhythm/grid';

/** What is known of a sample of so many bars at a tempo, struck twice a beat. */
export function laneFactsLike(kind: 'loop' | 'song', tempoBpm: number, bars: number): LaneFacts {
  const meter = { beatsPerBar: 4, beatUnit: 4 };
  const grid: Grid = { tempoBpm, one: 0, meter, movingBeats: null };
  const hits = Array.from({ length: bars * 8 }, (_, half) => beatTime(grid, half / 2));
  return {
    settled: {
      ...{ kind, grid, hits, loop: null, isVoice: false },
      durationSeconds: beatTime(grid, bars * 4),
    },
    fittable: {
      ...{ kind, tempoBpm, bars, beatsPerBar: 4, key: null, tuningCents: null, isUnpitched: true },
    },
  };
}
