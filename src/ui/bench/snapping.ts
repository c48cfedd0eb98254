import { attackNear } from '@/core/signal/attack';
import { nearestZeroCrossing } from '@/core/signal/seam';
import { engine } from '../audio/engine';
import type { Bench } from './useBench';

/** What things that are placed by hand go to. */
export const SNAPS = ['hits', 'crossings', 'nothing'] as const;
export type Snap = (typeof SNAPS)[number];

interface Sound {
  channels: readonly Float32Array[];
  sampleRate: number;
}

/** Within this reach a hit that was not counted as an onset is sought in the audio itself, seconds. */
const NEAR_ENOUGH = 0.06;

/**
 * The place that a hand at `time` means: the attack of the nearest hit, the nearest zero crossing, or the
 * time itself; `reach` seconds to both sides. `audio` may still be missing; then only known hits are found.
 */
export function snapped(
  time: number,
  snap: Snap,
  reach: number,
  onsets: readonly { time: number }[],
  audio: Sound | null,
): number {
  if (snap === 'nothing') return time;
  if (snap === 'crossings') {
    return audio && audio.channels.length
      ? nearestZeroCrossing(audio.channels, audio.sampleRate, time, Math.min(reach, 0.02))
      : time;
  }
  let nearest = Infinity;
  for (const onset of onsets)
    if (Math.abs(onset.time - time) < Math.abs(nearest - time)) nearest = onset.time;
  if (Math.abs(nearest - time) <= reach) return nearest;
  if (reach > NEAR_ENOUGH || !audio || audio.channels.length === 0) return time;
  const attack = attackNear(audio.channels, audio.sampleRate, time, reach);
  return Math.abs(attack - time) <= reach ? attack : time;
}

/** The snap that holds while Alt is down: the other of hits and nothing. */
export function overridden(snap: Snap, alt: boolean): Snap {
  return alt ? (snap === 'nothing' ? 'hits' : 'nothing') : snap;
}

/** How far from the playhead something is meant by it, seconds. */
const PLAYHEAD_REACH = 0.05;

/** The place that somebody means who says “here” while it plays. */
export function placeOfPlayhead({ entry, audio }: Pick<Bench, 'entry' | 'audio'>, snap: Snap): number {
  return snapped(engine.position(), snap, PLAYHEAD_REACH, entry.measurement?.onsets ?? [], audio);
}
