import { writeMidi, type MidiEvent } from 'midi-file';
import { recordedMidi } from './midiRecording';
import { rehearsalPiano } from '@/demo/performance';
import { opening } from '../../../tests/support/bytes';
import { measureStream } from '../measurement/measureStream';
import { beatTime, type Grid } from '../rhythm/grid';
import { UndecodableError } from './audioFormat';
import { decodeAudio } from './decode';
import { readMidi } from './midi';
import { onGrid } from './midiCopy';

const header = { format: 1 as const, numTracks: 2, ticksPerBeat: 480 };
const file = (...tracks: Record<string, unknown>[][]) =>
  Uint8Array.from(
    writeMidi({
      header: { ...header, numTracks: tracks.length },
      tracks: tracks as unknown as MidiEvent[][],
    }),
  );
const on = (deltaTime: number, noteNumber: number, more = {}) => ({
  deltaTime,
  type: 'noteOn',
  channel: 0,
  noteNumber,
  velocity: 100,
  ...more,
});
const off = (deltaTime: number, noteNumber: number) => ({ ...on(deltaTime, noteNumber), type: 'noteOff' });
const tempo = (deltaTime: number, microsecondsPerBeat: number) => ({
  deltaTime,
  meta: true,
  type: 'setTempo',
  microsecondsPerBeat,
});
const pedal = (deltaTime: number, value: number) => ({
  deltaTime,
  type: 'controller',
  channel: 0,
  controllerType: 64,
  value,
});
const end = (deltaTime = 0) => ({ deltaTime, meta: true, type: 'endOfTrack' });

test('notes stand where the tempo changes of another track put them', () => {
  const { notes, durationSeconds, claims } = readMidi(
    file(
      [tempo(0, 500_000), tempo(960, 1_000_000), end()],
      [on(480, 60), off(240, 60), on(480, 62), off(480, 62), end(480)],
    ),
  );
  // A quarter is half a second up to the second beat, then a whole one.
  expect(notes.map(({ time }) => time)).toEqual([0.5, 1.5]);
  expect(notes.map(({ seconds }) => seconds)).toEqual([0.25, 1]);
  expect(durationSeconds).toBe(3.5);
  expect(claims).toEqual({ bpm: 120, meter: null, key: null });
});

test('the pedal holds what keys let go, a note without an end sounds to the last event', () => {
  const { notes } = readMidi(
    file([pedal(0, 127), on(0, 60), off(480, 60), on(0, 64), pedal(480, 0), end(960)]),
  );
  expect(notes.map(({ key, seconds }) => [key, seconds])).toEqual([
    [60, 1],
    [64, 1.5],
  ]);
});

test.each([
  ['no notes', file([tempo(0, 500_000), end(480)]), /no notes/],
  ['a torn end', file([on(0, 60), off(480, 60), end()]).slice(0, -9), /ends in the middle/],
  ['nonsense for a track', Uint8Array.from([...file([]).slice(0, 14), 1, 2, 3]), /./],
])('%s is an error in words', (_, bytes, words) => {
  const reading = () => readMidi(bytes);
  expect(reading).toThrow(UndecodableError);
  expect(reading).toThrow(words);
});

async function sounded(bytes: Uint8Array) {
  const samples: number[] = [];
  const summary = await decodeAudio(opening(bytes), ([block]) => {
    for (const value of block) samples.push(value);
  });
  return { samples, summary };
}

test('a note sounds at its time, to the sample, and at its pitch; the same every time', async () => {
  const bytes = recordedMidi([
    { time: 0.25, seconds: 0.5, key: 69, velocity: 100 },
    { time: 1.5, seconds: 0.1, key: 36, velocity: 100, channel: 9 },
  ]);
  const { samples, summary } = await sounded(bytes);
  const first = (from: number) => samples.findIndex((value, i) => i >= from && Math.abs(value) > 1e-3);
  expect(Math.abs(first(0) - 0.25 * 44100)).toBeLessThanOrEqual(3);
  expect(Math.abs(first(44100) - 1.5 * 44100)).toBeLessThanOrEqual(3);
  expect(summary).toMatchObject({ format: 'midi', sampleRate: 44100, channels: 1, unpitched: false });
  let crossings = 0;
  for (let i = 13230; i < 26460; i++) if (samples[i - 1] < 0 && samples[i] >= 0) crossings++;
  expect(Math.abs(crossings / 0.3 - 440)).toBeLessThan(6);
  expect((await sounded(bytes)).samples).toEqual(samples);
  expect(samples.every((value) => Math.abs(value) <= 1)).toBe(true);
});

test('a performance is measured: tempo, the one, time signature and key; drums alone get no key', async () => {
  const { bytes, truth } = rehearsalPiano();
  const { measurement } = await measureStream(opening(bytes, 4096));
  expect(measurement.kind).toBe('midi');
  expect(Math.abs(measurement.tempo!.bpm / truth.bpm! - 1)).toBeLessThan(0.01);
  expect(Math.abs(measurement.theOne! - truth.one!)).toBeLessThan(0.02);
  expect(measurement.meter).toMatchObject({ beatsPerBar: 4, beatUnit: 4 });
  expect(measurement.key).toMatchObject({ tonic: 'A', mode: 'minor' });
  // Toms have a pitch, but nobody would write their key down.
  const toms = Array.from({ length: 32 }, (_, i) => ({
    time: i * 0.3,
    seconds: 0.1,
    key: [45, 47, 50, 47][i % 4],
    velocity: 100,
    channel: 9,
  }));
  expect((await measureStream(opening(recordedMidi(toms), 4096))).measurement.key).toBeNull();
});

describe('a copy on a grid', () => {
  const { bytes } = rehearsalPiano();
  const before = readMidi(bytes);
  const steady: Grid = {
    tempoBpm: 88.5,
    one: 0.9,
    meter: { beatsPerBar: 4, beatUnit: 4 },
    movingBeats: null,
  };
  const moving: Grid = {
    ...steady,
    movingBeats: Array.from({ length: 60 }, (_, i) => 0.9 + (i * 60) / 88 + 0.02 * Math.sin(i)),
  };

  test.each([
    ['steady', steady],
    ['moving', moving],
  ])('%s: every note keeps its time, the one is on a bar line', (_, grid) => {
    const copied = onGrid(bytes, grid, { tonic: 9, mode: 'minor' });
    const after = readMidi(copied);
    const lead = -beatTime(grid, -4);
    expect(after.notes).toHaveLength(before.notes.length);
    after.notes.forEach((note, i) => {
      expect(Math.abs(note.time - lead - before.notes[i].time)).toBeLessThan(0.001);
      expect(note.key).toBe(before.notes[i].key);
    });
    expect(after.claims).toMatchObject({
      meter: { beatsPerBar: 4, beatUnit: 4 },
      key: { tonic: 9, mode: 'minor' },
    });
    expect(Math.abs(after.claims.bpm! - 60 / (beatTime(grid, -3) - beatTime(grid, -4)))).toBeLessThan(0.01);
  });

  test('in six eighths a bar is three quarters long and the beat a dotted one', () => {
    const grid: Grid = { tempoBpm: 60, one: 0, meter: { beatsPerBar: 6, beatUnit: 8 }, movingBeats: null };
    const played = recordedMidi([
      { time: 0, seconds: 0.5, key: 60, velocity: 90 },
      { time: 2, seconds: 0.5, key: 62, velocity: 90 },
    ]);
    const { claims, notes } = readMidi(onGrid(played, grid, null));
    // Two dotted quarters of a second each: quarters at 90.
    expect(claims).toEqual({ bpm: 90, meter: { beatsPerBar: 6, beatUnit: 8 }, key: null });
    expect(notes[1].time - notes[0].time).toBeCloseTo(2, 3);
  });
});

test('what would keep a machine busy is refused early', () => {
  const track = (events: number[]) => [
    0x4d,
    0x54,
    0x72,
    0x6b,
    ...[24, 16, 8, 0].map((by) => (events.length >> by) & 255),
    ...events,
  ];
  const file = (tracks: number, ...parts: number[][]) =>
    Uint8Array.from([
      0x4d,
      0x54,
      0x68,
      0x64,
      0,
      0,
      0,
      6,
      0,
      1,
      tracks >> 8,
      tracks & 255,
      0,
      96,
      ...parts.flat(),
    ]);
  expect(() => readMidi(file(65_535, track([0, 0xff, 0x2f, 0])))).toThrow(/65535 tracks; up to 1000/);
  const notes: number[] = [0, 0x90, 60, 64];
  for (let i = 0; i < 200_001; i++) notes.push(0, 60, 64);
  const events = track([...notes.slice(0, 4), ...notes.slice(4), 0, 0xff, 0x2f, 0]);
  const bytes = new Uint8Array(14 + events.length);
  bytes.set(file(1));
  bytes.set(events, 14);
  expect(() => readMidi(bytes)).toThrow(/notes; up to 200,000 are read/);
});
