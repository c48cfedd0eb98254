import { beatTime, beatPosition, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import type { ClickTrack } from './playback';

/** How often it clicks: `pace` clicks a felt beat (half, one, two), each divided into `subdivision`. */
export interface ClickPace {
  pace: 0.5 | 1 | 2;
  subdivision: 1 | 2 | 3 | 4;
}

/** How a click sounds, as ClickTrack has it. */
export const CLICK_KINDS = { plain: 0, accented: 1, soft: 2 } as const;

/**
 * Clicks of a grid between two times: accented on the first beat of each bar, plain on the others, soft on
 * subdivisions. Frames at `rate`.
 */
export function clickTrack(
  grid: Grid,
  from: number,
  to: number,
  rate: number,
  { pace, subdivision }: ClickPace,
): ClickTrack {
  const size = feltBeatsPerBar(grid.meter);
  const perBeat = pace * subdivision;
  const frames: number[] = [];
  const kinds: number[] = [];
  for (let k = Math.ceil(beatPosition(grid, from) * perBeat - 1e-9); ; k++) {
    const beat = k / perBeat;
    const time = beatTime(grid, beat);
    if (time >= to) break;
    const inBar = beat - Math.floor(beat / size + 1e-9) * size;
    frames.push(time * rate);
    kinds.push(
      Math.abs(inBar) < 1e-6
        ? CLICK_KINDS.accented
        : k % subdivision === 0
          ? CLICK_KINDS.plain
          : CLICK_KINDS.soft,
    );
  }
  return { frames: Float64Array.from(frames), accents: Uint8Array.from(kinds) };
}
