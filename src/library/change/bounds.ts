import type { Property } from '@/core/readings/reading';
import type { SettledState } from '@/contract/settled';
import type { StoredReading } from '@/contract/entry';
import type { Grid } from '@/core/rhythm/grid';
import { RefusedChange } from './refusal';

/** The one may lie outside of the audio by this much, seconds: a pickup that was cut off, a tail of silence. */
const ONE_REACH_SECONDS = 60;
/** Beats of a moving grid lie no nearer to each other than those of the fastest tempo that there is. */
const SHORTEST_BEAT_SECONDS = 60 / 1000;
const MOST_BEATS = 100_000;

/**
 * Holds what is about to be settled against the audio and against each other; what each value may be by itself the
 * schema says. Only what changes is looked at. Throws RefusedChange.
 */
export function checkPatch(
  patch: Partial<SettledState>,
  before: SettledState,
  durationSeconds: number | null,
  readings: readonly Pick<StoredReading, 'readingId' | 'property'>[],
): void {
  const { grid, pins, loop, chosen } = patch;
  if (grid) checkGrid(grid, durationSeconds);
  if (pins)
    for (let i = 1; i < pins.length; i++)
      if (!(pins[i].beat > pins[i - 1].beat && pins[i].time > pins[i - 1].time))
        throw new RefusedChange({ code: 'pins out of order' });
  if (loop && !(grid === undefined ? before.grid : grid))
    throw new RefusedChange({ code: 'loop without a grid' });
  for (const [property, id] of Object.entries(chosen ?? {})) {
    const isKept = before.chosen[property as keyof typeof before.chosen] === id;
    if (!isKept && !readings.some((reading) => reading.readingId === id && reading.property === property))
      throw new RefusedChange({ code: 'reading of another', property: property as Property });
  }
}

function checkGrid({ one, movingBeats }: Grid, durationSeconds: number | null): void {
  const end = durationSeconds ?? Infinity;
  if (one < -ONE_REACH_SECONDS || one > end + ONE_REACH_SECONDS)
    throw new RefusedChange({ code: 'one out of reach', one, reachSeconds: ONE_REACH_SECONDS });
  if (!movingBeats) return;
  if (movingBeats.length > MOST_BEATS) throw new RefusedChange({ code: 'too many beats', most: MOST_BEATS });
  for (let i = 1; i < movingBeats.length; i++)
    if (!(movingBeats[i] - movingBeats[i - 1] >= SHORTEST_BEAT_SECONDS))
      throw new RefusedChange({ code: 'beats do not rise', at: movingBeats[i] });
}
