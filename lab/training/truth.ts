import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { feltBeatsPerBar } from '@/core/rhythm/grid';

/** One line of a truth file. Times in seconds. */
export interface Truth {
  id: string;
  file: string;
  group?: string;
  piece?: string;
  kind: string;
  variant?: string;
  source?: string;
  /** What it is made of and in which style: "drum:rock". */
  genre?: string;
  bpm: number | null;
  bpmAlt?: number[] | null;
  beats?: number[] | null;
  downbeats?: number[] | null;
  meter?: { beatsPerBar: number; beatUnit: number } | null;
  beatsPerBar?: number | null;
  beatUnit?: number | null;
  bars?: number | null;
  loopStart?: number | null;
  loopEnd?: number | null;
  key?: { tonic: string; mode: 'major' | 'minor' } | null;
  keyUnknown?: boolean;
  /** False where the tempo moves. */
  tempoConstant?: boolean;
  /** Whether another metrical level is as good; where no bar lines are known either, nobody has said which it is. */
  tempoAmbiguous?: boolean;
  rootNote?: unknown;
}

/** Where a training item comes from: a recording, an excerpt of one, or a piece that the script makes itself. */
export type Origin = 'recording' | 'excerpt' | 'practice';

/** Pitch classes as truth files name them. */
export const NAMES = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];

/** Felt beats in a bar of the truth, or null where it is not known. */
export function feltSizeOf(truth: Truth): number | null {
  const meter =
    truth.meter ??
    (truth.beatsPerBar && truth.beatUnit
      ? { beatsPerBar: truth.beatsPerBar, beatUnit: truth.beatUnit }
      : null);
  return meter && feltBeatsPerBar(meter);
}

/** Whether nobody kept time: performances that no click accompanied. */
export const isFree = ({ kind }: Truth) => kind === 'midi';

/** Whether the beats are known, but not on which metrical level they are felt. */
export const isOfAnyLevel = ({ tempoAmbiguous, downbeats, meter, bars }: Truth) =>
  Boolean(tempoAmbiguous) && !downbeats && !meter && !bars;

/** Items that belong together in cross-validation: made of the same piece. */
export const groupOf = (truth: Truth) => truth.group ?? truth.piece ?? truth.id;

export function readTruth(file: string): (Truth & { path: string })[] {
  return readFileSync(file, 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Truth)
    .map((truth) => ({ ...truth, path: join(dirname(file), truth.file) }))
    .filter(({ path }) => existsSync(path));
}
