import type { Measurement } from '@/core/measurement/schema';

/** What the scorers read of one item. */
export interface Prediction {
  id: string;
  bpm: number | null;
  beats: number[];
  downbeats: number[];
  meter?: { beatsPerBar: number; beatUnit: number } | null;
  beatsPerBar?: number | null;
  bars?: number | null;
  loopStart?: number | null;
  loopEnd?: number | null;
  key: { tonic: string; mode: string } | null;
  tuningCents?: number | null;
  kind: string;
  kindSureness?: number | null;
  rootNote?: string | null;
  tempoSureness?: number | null;
  keySureness?: number | null;
  /** Time that measuring took, decoding included. */
  seconds?: number;
}

export function predictionOf(id: string, measured: Omit<Measurement, 'onsets'>): Prediction {
  const { tempo, meter, loop, key } = measured;
  return {
    id,
    bpm: tempo?.bpm ?? null,
    tempoSureness: tempo?.sureness ?? null,
    beats: measured.beats,
    downbeats: measured.downbeats,
    meter: meter && { beatsPerBar: meter.beatsPerBar, beatUnit: meter.beatUnit },
    beatsPerBar: meter?.beatsPerBar ?? null,
    bars: loop?.bars ?? measured.bars,
    loopStart: loop?.start ?? null,
    loopEnd: loop?.end ?? null,
    key: key && { tonic: key.tonic, mode: key.mode },
    keySureness: key?.sureness ?? null,
    tuningCents: measured.tuningCents,
    kind: measured.kind,
    kindSureness: measured.kindSureness,
    rootNote: measured.rootNote?.note ?? null,
  };
}
