import { laterBy } from '@/core/timeStretch/plan';
import { gridMidi } from '@/core/formats/gridMidi';
import type { Blend } from '@/contract/blend';
import { extentOf } from './extent';
import type { Score } from './score';

/**
 * Tempo, time signature, key and bars of a blend as a Standard MIDI File: a marker where a lane begins, and the click. It begins where a render
 * of the blend does.
 */
export function tempoMapOf({ name, key }: Blend, score: Score): Uint8Array {
  const { from, to } = extentOf(score);
  const markers = score.lanes
    .flatMap(({ lane, parts }) =>
      parts.length > 0 ? [{ name: lane.name, time: parts[0].start - from }] : [],
    )
    .sort((a, b) => a.time - b.time);
  const grid = laterBy(score.grid, -from);
  return gridMidi({ ...{ name, grid, key, markers }, end: score.seconds - from, last: to - from });
}
