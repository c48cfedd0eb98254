import type { MixerCommand } from '@/core/playing/commands';
import type { Hearing } from '@/core/playing/voice';
import type { Lane } from '@/contract/blend';
import type { LaneScore, Part } from './parts';
import type { Score } from './score';

/** How a lane is heard among the others. */
export function hearingOf(lane: Lane, all: readonly Lane[]): Hearing {
  const isAlone = all.some(({ solo }) => solo);
  return {
    level: 10 ** (lane.levelDb / 20),
    pan: lane.pan,
    muted: lane.muted || (isAlone && !lane.solo),
  };
}

/**
 * How the audio thread is told of a part: the same live and in a render. `origin`: frame of the clock on which bar 1 begins;
 * `channels`: what the part's plan comes to at this rate.
 */
export function messageOf(
  part: Part,
  id: string,
  channels: Float32Array[],
  { rate, origin, hearing }: { rate: number; origin: number; hearing: Hearing },
): MixerCommand {
  const start = Math.round(origin + part.start * rate);
  const ends = part.isCut || part.isLooping;
  const cut = ends ? { until: Math.round(origin + part.until * rate), fades: part.isCut } : null;
  return part.isLooping
    ? { kind: 'go round', id, channels, turn: part.turn * rate, start, hearing, cut }
    : { kind: 'put', id, channels, from: 0, to: channels[0].length, start, hearing, cut };
}

/** Lanes that are heard in the mix. */
export function heardOf({ lanes }: Pick<Score, 'lanes'>): LaneScore[] {
  const all = lanes.map(({ lane }) => lane);
  return lanes.filter(({ lane, parts }) => parts.length > 0 && !hearingOf(lane, all).muted);
}
