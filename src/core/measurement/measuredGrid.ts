import type { Grid } from '../rhythm/grid';
import type { Measurement } from './schema';

/** The grid that a measurement says: steady, or moving by its beats; null where it has no tempo or no one. */
export function measuredGrid({ tempo, theOne, meter, beats }: Measurement): Grid | null {
  if (!tempo || theOne === null) return null;
  return {
    ...{ tempoBpm: tempo.bpm, one: theOne },
    meter: { beatsPerBar: meter?.beatsPerBar ?? 4, beatUnit: meter?.beatUnit ?? 4 },
    movingBeats: tempo.steady || beats.length < 2 ? null : beats,
  };
}
