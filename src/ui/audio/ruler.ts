import type { Part } from '@/library/blend/parts';
import type { Grid } from '@/core/rhythm/grid';
import type { Hearing } from '@/core/playing/voice';
import type { OpenFit } from './openFit';

/** One part of a lane that is to sound. */
export interface RulerVoice {
  /** Names the lane and which of its parts it is. */
  key: string;
  sampleId: string;
  durationSeconds: number | null;
  part: Part;
  hearing: Hearing;
}

/** Voices on one ruler of bars; times are seconds from its bar 1. */
export interface Ruler {
  id: string;
  grid: Grid;
  voices: readonly RulerVoice[];
  seconds: number;
  /** Where the first pickup begins; 0 or less. */
  begins: number;
  /** What loops; null: it is played to its end. */
  round: { from: number; to: number } | null;
}

export interface Sounding {
  voice: RulerVoice;
  fit: OpenFit;
  /** What the audio thread calls it; null before it is told of it. */
  id: string | null;
}

export const laneOf = ({ key }: RulerVoice): string => key.split('#')[0];

/** Whether a voice sounds anywhere between two places. */
export const isHeard = ({ part, hearing }: RulerVoice, from: number, to: number): boolean =>
  !hearing.muted && part.start < to && part.until > from;

/** Which frame of what it comes to is heard at a place. Of what loops the beginning is there long before it comes again. */
function frameAt({ part }: RulerVoice, place: number, rate: number): number {
  const within = Math.max(0, place - part.start);
  return Math.ceil((part.isLooping ? within % part.turn : within) * rate);
}

/** Resolves when a voice can be heard from a place on; to false where it never can. */
export const untilHeard = ({ fit, voice }: Sounding, place: number, rate: number): Promise<boolean> =>
  fit.untilPlayable(frameAt(voice, place, rate));

export const canBeHeard = ({ fit, voice }: Sounding, place: number, rate: number): boolean =>
  fit.isPlayable(frameAt(voice, place, rate));
