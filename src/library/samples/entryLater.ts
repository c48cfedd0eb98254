import { laterBy } from '@/core/timeStretch/plan';
import type { SampleEntry, StoredReading } from '@/contract/entry';
import type { SettledState } from '@/contract/settled';
import type { Measurement } from '@/core/measurement/schema';

/** What is known of a sample, for a copy of it that begins with so many seconds more: every moment of it is later by as much. */
export function entryLater(entry: SampleEntry, seconds: number): SampleEntry {
  if (seconds === 0) return entry;
  const { summary, measurement, readings, settled, proofs } = entry;
  const later = (time: number) => time + seconds;
  const orNull = (time: number | null) => time && later(time);
  return {
    ...entry,
    summary: {
      ...summary,
      durationSeconds: orNull(summary.durationSeconds),
      oneSeconds: summary.oneSeconds === null ? null : later(summary.oneSeconds),
    },
    measurement: measurement && measurementLater(measurement, later),
    readings: readings.map((reading) => readingLater(reading, later)),
    settled: settledLater(settled, seconds),
    undo: null,
    redo: null,
    proofs: proofs.map((proof) => ({
      ...proof,
      grid: laterBy(proof.grid, seconds),
      places: proof.places.map((place) => ({ ...place, from: later(place.from), to: later(place.to) })),
    })),
  };
}

type Later = (time: number) => number;

function measurementLater(measured: Measurement, later: Later): Measurement {
  const { durationSeconds, theOne, beats, downbeats, loop, onsets } = measured;
  return {
    ...measured,
    durationSeconds: later(durationSeconds),
    theOne: theOne === null ? null : later(theOne),
    beats: beats.map(later),
    downbeats: downbeats.map(later),
    loop: loop && { ...loop, start: later(loop.start), end: later(loop.end) },
    onsets: onsets.map((onset) => ({ ...onset, time: later(onset.time) })),
  };
}

const readingLater = (reading: StoredReading, later: Later): StoredReading =>
  reading.property === 'one' ? { ...reading, value: later(reading.value) } : reading;

const settledLater = (settled: SettledState, seconds: number): SettledState => ({
  ...settled,
  grid: settled.grid && laterBy(settled.grid, seconds),
  pins: settled.pins.map((pin) => ({ ...pin, time: pin.time + seconds })),
});
