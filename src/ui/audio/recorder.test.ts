import { eventsInTime, readMidi } from '@/core/formats/midi';
import { recordedMidi } from '@/core/formats/midiRecording';
import { readMessage, type MidiMessage } from './midi';
import { Recorder } from './recorder';
import { sustained } from './sustained';

/** Begun at 5000.3 ms of the page's clock, with odd fractions. */
const PLAYED = [
  { key: 60, at: 5000.3, until: 5410.7, velocity: 96 },
  { key: 64, at: 5403.05, until: 5799.9, velocity: 40 },
  { key: 67, at: 5811.11, until: 6204.4, velocity: 127 },
];

function record() {
  const recorder = new Recorder();
  PLAYED.flatMap(({ key: note, at, until, velocity }) => [
    { note, on: true, at, velocity },
    { note, on: false, at: until, velocity: 0 },
  ])
    .sort((a, b) => a.at - b.at)
    .forEach((message) => recorder.hear(message));
  return recorder;
}

test('a recording has the times that the messages carry, to a twentieth of a millisecond', () => {
  const { notes } = readMidi(recordedMidi(record().now(7000).notes, 10_000));
  notes.forEach(({ time, seconds, key, velocity }, i) => {
    const wanted = PLAYED[i];
    expect([key, velocity]).toEqual([wanted.key, wanted.velocity]);
    expect(Math.abs(time - 0.25 - (wanted.at - 5000.3) / 1000)).toBeLessThan(0.00005);
    expect(Math.abs(seconds - (wanted.until - wanted.at) / 1000)).toBeLessThan(0.0001);
  });
});

test('what still sounds ends where the recording does; a key struck again ends what it sounded', () => {
  const recorder = new Recorder();
  for (const at of [0, 300]) recorder.hear({ note: 60, on: true, at, velocity: 80 });
  const { notes, seconds } = recorder.now(1000);
  expect(notes.map(({ seconds: held }) => held)).toEqual([0.3, 0.7].map((value) => expect.closeTo(value, 9)));
  expect(seconds).toBeCloseTo(1.25, 9);
});

test('where nothing was played there is nothing; what ends before anything begins is passed over', () => {
  const recorder = new Recorder();
  recorder.hear({ note: 60, on: false, at: 10, velocity: 0 });
  expect(recorder.now(500)).toEqual({ notes: [], controls: [], seconds: 0 });
});

/** A key that is let go while the pedal is down, and the pedal lifted later; bent and with another program. */
const PEDALLED = [
  [[0xc0, 4], 900],
  [[0xb0, 64, 127], 1000],
  [[0x90, 60, 80], 1100],
  [[0x80, 60, 0], 1300],
  [[0xe0, 0x21, 0x45], 1400],
  [[0xb0, 1, 77], 1500],
  [[0xb0, 64, 0], 2100],
  [[0xf8], 2150],
] as const;
const messages = () =>
  PEDALLED.flatMap(([bytes, at]) => readMessage(bytes, at) ?? []) satisfies MidiMessage[];

test('the pedal and other controllers are kept: the note sounds until the pedal is lifted', () => {
  const recorder = new Recorder();
  for (const message of messages()) recorder.hear(message);
  const { notes, controls } = recorder.now(2200);
  const bytes = recordedMidi(notes, 10_000, controls);
  expect(readMidi(bytes).notes).toMatchObject([
    { key: 60, time: expect.closeTo(0.25, 4), seconds: expect.closeTo(1, 3), program: 4 },
  ]);
  const events = eventsInTime(bytes)
    .flat()
    .map(({ event }) => event);
  expect(events).toEqual(
    expect.arrayContaining([
      expect.objectContaining({ type: 'pitchBend', value: 0x45 * 128 + 0x21 - 8192 }),
      expect.objectContaining({ type: 'controller', controllerType: 1, value: 77 }),
    ]),
  );
});

test('… and is heard so', () => {
  const heard: string[] = [];
  const hear = sustained(
    (note) => heard.push(`+${note}`),
    (note) => heard.push(`-${note}`),
  );
  for (const message of messages()) {
    hear(message);
    if (message.at === 1500) expect(heard).toEqual(['+60']);
  }
  expect(heard).toEqual(['+60', '-60']);
});
