import { writeMidi, type MidiEvent } from 'midi-file';

/** A note that somebody plays: when, for how long, which key, how hard. */
export interface PlayedNote {
  time: number;
  seconds: number;
  key: number;
  velocity: number;
  channel?: number;
}

const TICKS_PER_QUARTER = 480;
/** What a recorder writes when nobody has set its tempo. */
const UNSET_BPM = 120;

/** A Standard MIDI File of format 0 as a recorder writes it that was told no tempo: its ticks only count time. */
export function recordedMidi(notes: readonly PlayedNote[], ticksPerQuarter = TICKS_PER_QUARTER): Uint8Array {
  const tickAt = (seconds: number) => Math.round((seconds * UNSET_BPM * ticksPerQuarter) / 60);
  const events = notes
    .flatMap(({ time, seconds, key, velocity, channel = 0 }) => [
      { tick: tickAt(time), type: 'noteOn', channel, noteNumber: key, velocity },
      { tick: tickAt(time + seconds), type: 'noteOff', channel, noteNumber: key, velocity: 0 },
    ])
    .sort((a, b) => a.tick - b.tick || a.type.localeCompare(b.type));
  let before = 0;
  const track = events.map(({ tick, ...event }) => {
    const deltaTime = tick - before;
    before = tick;
    return { deltaTime, ...event };
  });
  const setTempo = { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: 60e6 / UNSET_BPM };
  const end = { deltaTime: 0, meta: true, type: 'endOfTrack' };
  return Uint8Array.from(
    writeMidi({
      header: { format: 0, numTracks: 1, ticksPerBeat: ticksPerQuarter },
      tracks: [[setTempo, ...track, end] as MidiEvent[]],
    }),
  );
}
