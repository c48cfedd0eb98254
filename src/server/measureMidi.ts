import { parseMidi, type MidiEvent } from 'midi-file';
import { UndecodableError } from '@/core/formats/audioFormat';
import { nothing } from '@/core/measurement/measure';
import type { Measurement } from '@/core/measurement/schema';
import type { Reading } from '@/core/readings/reading';

export interface MidiFacts {
  measurement: Measurement;
  /** What the file itself claims; few players set it. */
  readings: Reading[];
  /** Signed bytes [−loudness, loudness] of the notes in so many columns. */
  thumbnail: Int8Array;
}

/** A file that claims this tempo mostly claims none: it is what players write who were not told another. */
const DEFAULT_BPM = 120;

/**
 * Reads a Standard MIDI File: its length, what it claims of tempo, meter and key, and when its notes sound. The
 * performance itself is not measured yet. Throws UndecodableError with a sentence for the user.
 */
export function readMidi(bytes: Uint8Array, columns: number): MidiFacts {
  if (!isWhole(bytes))
    throw new UndecodableError('This Standard MIDI File ends in the middle; the rest is missing.');
  let midi;
  try {
    midi = parseMidi(bytes);
  } catch {
    throw new UndecodableError('This Standard MIDI File is damaged and cannot be read.');
  }
  const { header, tracks } = midi;
  if (tracks.length === 0 || (header.numTracks ?? tracks.length) !== tracks.length)
    throw new UndecodableError('This Standard MIDI File ends before its last track.');
  const events: { tick: number; event: MidiEvent }[] = [];
  for (const track of tracks) {
    let tick = 0;
    for (const event of track) {
      tick += event.deltaTime;
      events.push({ tick, event });
    }
  }
  events.sort((a, b) => a.tick - b.tick);
  const perQuarter = header.ticksPerBeat ?? null;
  // SMPTE time: ticks are seconds by themselves.
  const fixed =
    perQuarter === null ? 1 / ((header.framesPerSecond ?? 25) * (header.ticksPerFrame ?? 40)) : null;
  let secondsPerTick = fixed ?? 60 / DEFAULT_BPM / perQuarter!;
  let seconds = 0;
  let lastTick = 0;
  const notes: { time: number; strength: number }[] = [];
  const readings: Reading[] = [];
  const say = (reading: Omit<Reading, 'source'>) => {
    if (!readings.some(({ property }) => property === reading.property))
      readings.push({ ...reading, source: 'embedded tag' } as Reading);
  };
  for (const { tick, event } of events) {
    seconds += (tick - lastTick) * secondsPerTick;
    lastTick = tick;
    if (event.type === 'noteOn' && event.velocity > 0)
      notes.push({ time: seconds, strength: event.velocity / 127 });
    else if (event.type === 'setTempo' && event.microsecondsPerBeat > 0) {
      const bpm = Math.round((60e6 / event.microsecondsPerBeat) * 1000) / 1000;
      if (fixed === null) secondsPerTick = event.microsecondsPerBeat / 1e6 / perQuarter!;
      if (bpm >= 10 && bpm <= 1000)
        say({
          property: 'tempo',
          value: bpm,
          sureness: bpm === DEFAULT_BPM ? 0.1 : 0.5,
          detail:
            bpm === DEFAULT_BPM
              ? 'the file’s header, which says 120 when nobody set it'
              : 'the file’s header',
        } as Omit<Reading, 'source'>);
    } else if (event.type === 'timeSignature') {
      const { numerator, denominator } = event;
      if (numerator >= 1 && numerator <= 32 && denominator >= 1 && denominator <= 32)
        say({
          property: 'meter',
          value: { beatsPerBar: numerator, beatUnit: denominator },
          sureness: numerator === 4 && denominator === 4 ? 0.2 : 0.6,
          detail: 'the file’s header',
        } as Omit<Reading, 'source'>);
    } else if (event.type === 'keySignature' && Math.abs(event.key) <= 7) {
      const tonic = (((event.key * 7) % 12) + 12 + (event.scale === 1 ? 9 : 0)) % 12;
      say({
        property: 'key',
        value: { tonic, mode: event.scale === 1 ? 'minor' : 'major' },
        sureness: event.key === 0 && event.scale === 0 ? 0.2 : 0.6,
        detail: 'the file’s header',
      } as Omit<Reading, 'source'>);
    }
  }
  if (notes.length === 0) throw new UndecodableError('This Standard MIDI File holds no notes.');
  const thumbnail = new Int8Array(2 * columns);
  for (const { time, strength } of notes) {
    const column = Math.min(columns - 1, Math.floor((time / Math.max(seconds, 1e-3)) * columns));
    thumbnail[2 * column + 1] = Math.max(thumbnail[2 * column + 1], Math.round(127 * strength));
    thumbnail[2 * column] = -thumbnail[2 * column + 1];
  }
  return {
    readings,
    thumbnail,
    measurement: {
      ...nothing(seconds, 'MIDI performances are kept, but not measured yet.'),
      kind: 'midi',
      kindSureness: 1,
      onsets: notes.map(({ time, strength }) => ({ time, strength: 10 * strength })),
    },
  };
}

/** Whether every chunk of the file has the bytes that it announces: the parser reads over a torn end. */
function isWhole(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 0;
  while (at + 8 <= bytes.length) at += 8 + view.getUint32(at + 4);
  return at === bytes.length || (at < bytes.length && bytes.length - at < 8);
}
