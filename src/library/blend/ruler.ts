import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Blend } from '@/contract/blend';

/** The tempo that is taken where nothing sets one. */
const TEMPO_OF_NONE = 120;

/** The ruler: one tempo, or the lead's movement, or a tempo from bar to bar. */
export function gridOf({ tempoBpm, meter, movement, changes, lead, lanes }: Blend): Grid {
  const bpm = tempoBpm ?? TEMPO_OF_NONE;
  const steady: Grid = { tempoBpm: bpm, one: 0, meter, movingBeats: null };
  if (movement?.movingBeats) {
    const at = lanes.find(({ laneId }) => laneId === lead)?.at ?? 0;
    const beats = movement.movingBeats;
    const from = Math.floor(beatPosition(movement, beats[0]) + at);
    const to = Math.ceil(beatPosition(movement, beats[beats.length - 1]) + at);
    const [first, last] = [Math.min(from, -1), Math.max(to, 1)];
    const zero = beatTime(movement, -at);
    const scale = movement.tempoBpm / bpm;
    const movingBeats = Array.from(
      { length: last - first + 1 },
      (_, i) => (beatTime(movement, first + i - at) - zero) * scale,
    );
    return { ...steady, movingBeats };
  }
  if (changes.length === 0) return steady;
  const size = feltBeatsPerBar(meter);
  const movingBeats = [-60 / bpm, 0];
  let now = bpm;
  for (const change of changes) {
    const until = (change.bar - 1) * size;
    while (movingBeats.length - 1 < until + 1)
      movingBeats.push(movingBeats[movingBeats.length - 1] + 60 / now);
    // The beat that the new tempo begins on stands where the old one has led.
    movingBeats.length = until + 2;
    now = change.tempoBpm;
    movingBeats.push(movingBeats[movingBeats.length - 1] + 60 / now);
  }
  return { ...steady, movingBeats };
}
