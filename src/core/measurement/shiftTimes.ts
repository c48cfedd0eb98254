import type { Measurement } from './schema';

/** The measurement of a part that begins `seconds` into a recording, with its times as those of the recording. */
export function shiftTimes(measured: Measurement, seconds: number): Measurement {
  const shift = (time: number) => time + seconds;
  return {
    ...measured,
    theOne: measured.theOne === null ? null : shift(measured.theOne),
    beats: measured.beats.map(shift),
    downbeats: measured.downbeats.map(shift),
    loop: measured.loop && {
      ...measured.loop,
      start: shift(measured.loop.start),
      end: shift(measured.loop.end),
    },
    onsets: measured.onsets.map((onset) => ({ ...onset, time: shift(onset.time) })),
  };
}
