import { parseMidi, type MidiData, type MidiEvent } from 'midi-file';
import { UndecodableError } from './audioFormat';

/** A note of a performance, from its key's going down to where its sound ends: with the key, or the pedal. */
export interface MidiNote {
  /** Seconds from the beginning of the file. */
  time: number;
  seconds: number;
  /** MIDI note number. */
  key: number;
  /** 1 … 127. */
  velocity: number;
  /** General MIDI programme, 0 … 127; null on the drum channel, where the key chooses the drum. */
  program: number | null;
}

/** What the file says of itself; most players set none of it. */
export interface MidiClaims {
  bpm: number | null;
  meter: { beatsPerBar: number; beatUnit: number } | null;
  key: { tonic: number; mode: 'major' | 'minor' } | null;
}

export interface MidiPerformance {
  /** In the order of their times. */
  notes: MidiNote[];
  /** To the last event of any track. */
  durationSeconds: number;
  claims: MidiClaims;
}

/** A file that claims this tempo mostly claims none: the standard says so where nothing is set. */
export const DEFAULT_BPM = 120;
/** Hours of dense playing are smaller, bytes. */
export const LARGEST_MIDI = 16e6;
/** Nobody plays more notes, or in more tracks: what holds them was made to keep a machine busy. */
const MOST_NOTES = 200_000;
const MOST_TRACKS = 1000;
const LONGEST_SECONDS = 3 * 3600;
/** Nobody rests for longer; a file that says so is damaged, and hours of silence would be played. */
const LONGEST_REST = 5 * 60;
/** A performance of more than ten minutes has more notes than one in so many seconds. */
const FEWEST_NOTES = { after: 600, everySeconds: 8 };
const DRUM_CHANNEL = 9;
const SUSTAIN = 64;

/**
 * Reads a Standard MIDI File of format 0 or 1: every note of all tracks in seconds, by the tempo changes of the
 * file, held as long as key or pedal hold it. Throws UndecodableError with a sentence for the user.
 */
export function readMidi(bytes: Uint8Array): MidiPerformance {
  const midi = parsed(bytes);
  const claims: MidiClaims = { bpm: null, meter: null, key: null };
  const notes: MidiNote[] = [];
  /** Notes that sound, by channel and key, and those that only the pedal holds, by channel. */
  const down = new Map<number, MidiNote[]>();
  const pedalled = new Map<number, MidiNote[]>();
  const pedalDown = new Set<number>();
  const programs = new Map<number, number>();
  const release = (channel: number, key: number, now: number) => {
    const ended = down.get(channel * 128 + key)?.shift();
    if (!ended) return;
    if (pedalDown.has(channel)) pedalled.set(channel, [...(pedalled.get(channel) ?? []), ended]);
    else ended.seconds = now - ended.time;
  };
  const liftPedal = (channel: number, now: number) => {
    pedalDown.delete(channel);
    for (const note of pedalled.get(channel) ?? []) note.seconds = now - note.time;
    pedalled.delete(channel);
  };
  let durationSeconds = 0;
  for (const { time, event } of timedEvents(midi).sorted) {
    if (time - durationSeconds > LONGEST_REST)
      throw new UndecodableError(
        `In this Standard MIDI File nothing happens for ${Math.round((time - durationSeconds) / 60)} minutes after ${Math.round(durationSeconds)} s; it is damaged.`,
      );
    durationSeconds = time;
    if (time > LONGEST_SECONDS)
      throw new UndecodableError('This Standard MIDI File is longer than three hours.');
    if (event.type === 'noteOn' && event.velocity > 0) {
      const { channel, noteNumber: key, velocity } = event;
      const program = channel === DRUM_CHANNEL ? null : (programs.get(channel) ?? 0);
      const note = { time, seconds: NaN, key, velocity, program };
      notes.push(note);
      down.set(channel * 128 + key, [...(down.get(channel * 128 + key) ?? []), note]);
    } else if (event.type === 'noteOn' || event.type === 'noteOff')
      release(event.channel, event.noteNumber, time);
    else if (event.type === 'programChange') programs.set(event.channel, event.programNumber);
    else if (event.type === 'controller' && event.controllerType === SUSTAIN) {
      if (event.value >= 64) pedalDown.add(event.channel);
      else liftPedal(event.channel, time);
    } else claim(claims, event);
  }
  if (notes.length === 0) throw new UndecodableError('This Standard MIDI File holds no notes.');
  if (durationSeconds > Math.max(FEWEST_NOTES.after, notes.length * FEWEST_NOTES.everySeconds))
    throw new UndecodableError(
      `This Standard MIDI File says that its ${notes.length} notes last ${Math.round(durationSeconds / 60)} minutes; it is damaged.`,
    );
  for (const note of notes) if (Number.isNaN(note.seconds)) note.seconds = durationSeconds - note.time;
  return { notes, durationSeconds, claims };
}

function parsed(bytes: Uint8Array): MidiData {
  if (bytes.length > LARGEST_MIDI)
    throw new UndecodableError('This Standard MIDI File is too large to be a performance.');
  if (!isWhole(bytes))
    throw new UndecodableError('This Standard MIDI File ends in the middle; the rest is missing.');
  const tracksClaimed = bytes.length >= 12 ? (bytes[10] << 8) | bytes[11] : 0;
  if (tracksClaimed > MOST_TRACKS)
    throw new UndecodableError(
      `This Standard MIDI File has ${tracksClaimed} tracks; up to ${MOST_TRACKS} are read.`,
    );
  let midi;
  try {
    midi = parseMidi(bytes);
  } catch {
    throw new UndecodableError('This Standard MIDI File is damaged and cannot be read.');
  }
  const { header, tracks } = midi;
  if (tracks.length === 0 || (header.numTracks ?? tracks.length) !== tracks.length)
    throw new UndecodableError('This Standard MIDI File ends before its last track.');
  const notes = tracks.reduce(
    (sum, track) => sum + track.reduce((count, { type }) => count + Number(type === 'noteOn'), 0),
    0,
  );
  if (notes > MOST_NOTES)
    throw new UndecodableError(
      `This Standard MIDI File has ${notes.toLocaleString('en')} notes; up to ${MOST_NOTES.toLocaleString('en')} are read.`,
    );
  return midi;
}

export interface TimedEvent {
  /** Seconds from the beginning. */
  time: number;
  event: MidiEvent;
}

/** The events of each track with their times. Throws UndecodableError with a sentence for the user. */
export function eventsInTime(bytes: Uint8Array): TimedEvent[][] {
  return timedEvents(parsed(bytes)).byTrack;
}

/** The events of each track, and of all tracks in the order of their times. */
function timedEvents({ header, tracks }: MidiData): { byTrack: TimedEvent[][]; sorted: TimedEvent[] } {
  const byTrack = tracks.map((track) => {
    let tick = 0;
    return track.map((event) => ({ tick: (tick += event.deltaTime), time: 0, event }));
  });
  const sorted = byTrack.flat().sort((a, b) => a.tick - b.tick);
  const perQuarter = header.ticksPerBeat ?? null;
  // SMPTE time: ticks are parts of a second by themselves.
  let secondsPerTick =
    perQuarter === null
      ? 1 / ((header.framesPerSecond ?? 25) * (header.ticksPerFrame ?? 40))
      : 60 / DEFAULT_BPM / perQuarter;
  let time = 0;
  let lastTick = 0;
  for (const timed of sorted) {
    time += (timed.tick - lastTick) * secondsPerTick;
    lastTick = timed.tick;
    timed.time = time;
    if (timed.event.type === 'setTempo' && timed.event.microsecondsPerBeat > 0 && perQuarter !== null)
      secondsPerTick = timed.event.microsecondsPerBeat / 1e6 / perQuarter;
  }
  return { byTrack, sorted };
}

/** The first of each kind counts. */
function claim(claims: MidiClaims, event: MidiEvent) {
  if (event.type === 'setTempo' && event.microsecondsPerBeat > 0) {
    const bpm = Math.round((60e6 / event.microsecondsPerBeat) * 1000) / 1000;
    if (bpm >= 10 && bpm <= 1000) claims.bpm ??= bpm;
  } else if (event.type === 'timeSignature') {
    const { numerator, denominator } = event;
    if (numerator >= 1 && numerator <= 32 && denominator >= 1 && denominator <= 32)
      claims.meter ??= { beatsPerBar: numerator, beatUnit: denominator };
  } else if (event.type === 'keySignature' && Math.abs(event.key) <= 7) {
    const tonic = (((event.key * 7) % 12) + 12 + (event.scale === 1 ? 9 : 0)) % 12;
    claims.key ??= { tonic, mode: event.scale === 1 ? 'minor' : 'major' };
  }
}

/** Whether every chunk of the file has the bytes that it announces: the parser reads over a torn end. */
function isWhole(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 0;
  while (at + 8 <= bytes.length) at += 8 + view.getUint32(at + 4);
  return at === bytes.length || (at < bytes.length && bytes.length - at < 8);
}
