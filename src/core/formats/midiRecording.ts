import { writeMidi, type MidiEvent } from 'midi-file';

/** A note that somebody plays: when, for how long, which key, how hard. */
export interface PlayedNote {
  time: number;
  seconds: number;
  key: number;
  velocity: number;
  channel?: number;
}

/** What else a keyboard told: status byte and data of the MIDI 1.0 protocol, and when. */
export interface PlayedControl {
  time: number;
  bytes: readonly number[];
}

const TICKS_PER_QUARTER = 480;
/** What a recorder writes when nobody has set its tempo. */
const UNSET_BPM = 120;

/** A Standard MIDI File of format 0 as a recorder writes it that was told no tempo: its ticks only count time. */
export function recordedMidi(
  notes: readonly PlayedNote[],
  ticksPerQuarter = TICKS_PER_QUARTER,
  controls: readonly PlayedControl[] = [],
): Uint8Array {
  const tickAt = (seconds: number) => Math.round((seconds * UNSET_BPM * ticksPerQuarter) / 60);
  const played = notes.flatMap(({ time, seconds, key, velocity, channel = 0 }) => [
    { tick: tickAt(time), type: 'noteOn', channel, noteNumber: key, velocity },
    { tick: tickAt(time + seconds), type: 'noteOff', channel, noteNumber: key, velocity: 0 },
  ]);
  const told = controls.flatMap(({ time, bytes }) => {
    const event = eventOf(bytes);
    return event ? [{ tick: tickAt(time), ...event }] : [];
  });
  const events = [...told, ...played].sort((a, b) => a.tick - b.tick || a.type.localeCompare(b.type));
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

/** A message of a voice that is no note, as an event of a file; null for any other. */
function eventOf([status, first, second = 0]: readonly number[]) {
  const channel = status & 0x0f;
  switch (status & 0xf0) {
    case 0xa0:
      return { type: 'noteAftertouch', channel, noteNumber: first, amount: second };
    case 0xb0:
      return { type: 'controller', channel, controllerType: first, value: second };
    case 0xc0:
      return { type: 'programChange', channel, programNumber: first };
    case 0xd0:
      return { type: 'channelAftertouch', channel, amount: first };
    case 0xe0:
      return { type: 'pitchBend', channel, value: (second << 7) + first - 8192 };
    default:
      return null;
  }
}
