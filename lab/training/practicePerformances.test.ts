import { readMidi } from '@/core/formats/midi';
import { practicePerformance } from './practicePerformances';

const ALL = Array.from({ length: 60 }, (_, seed) => practicePerformance(seed)).map(({ truth, bytes }) => ({
  truth,
  notes: readMidi(bytes).notes,
}));
const isOnDrums = (variant?: string) => variant!.startsWith('drums');

test('what is played is a piano in its key, or a kit, and both are drawn', () => {
  const scale = { major: [0, 2, 4, 5, 7, 9, 11], minor: [0, 2, 3, 5, 7, 8, 10] };
  const names = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
  for (const { truth, notes } of ALL) {
    expect(notes.length).toBeGreaterThan(2);
    for (const { key, program } of notes) {
      expect(program === null).toBe(isOnDrums(truth.variant));
      if (truth.key)
        expect(scale[truth.key.mode]).toContain((key - names.indexOf(truth.key.tonic) + 120) % 12);
    }
  }
  expect(ALL.filter(({ truth }) => isOnDrums(truth.variant)).length).toBeGreaterThan(8);
  expect(ALL.filter(({ truth }) => !isOnDrums(truth.variant)).length).toBeGreaterThan(20);
});

test('beats sway as a player does: never as a machine, never by more than a few percent from one to the next', () => {
  for (const { truth } of ALL) {
    const lengths = truth.beats!.slice(1).map((beat, k) => beat - truth.beats![k]);
    const mean = lengths.reduce((sum, one) => sum + one, 0) / lengths.length;
    const spread =
      Math.sqrt(lengths.reduce((sum, one) => sum + (one - mean) ** 2, 0) / lengths.length) / mean;
    expect(spread).toBeGreaterThan(0.001);
    expect(spread).toBeLessThan(0.05);
    lengths.slice(1).forEach((one, k) => expect(Math.abs(one / lengths[k] - 1)).toBeLessThan(0.04));
  }
});

test('notes stand near the steps of their beats, and only an upbeat comes before the one', () => {
  for (const { truth, notes } of ALL) {
    const [one] = truth.downbeats!;
    const before = notes.filter(({ time }) => time < one - 0.05);
    if (!truth.variant!.endsWith('pickup')) expect(before).toEqual([]);
    if (truth.variant!.endsWith('zero')) expect(one).toBe(0);
    // Most of what is played is on, or halfway between, the beats.
    const beats = truth.beats!;
    const places = beats.flatMap((beat, k) =>
      [0, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 3 / 4].map((part) => beat + part * ((beats[k + 1] ?? beat) - beat)),
    );
    const inside = notes.filter(({ time }) => time > one && time < beats[beats.length - 1]);
    const near = inside.filter(({ time }) => places.some((place) => Math.abs(place - time) < 0.035));
    expect(near.length).toBeGreaterThan(0.75 * inside.length);
  }
});

test('the same seed plays the same, another one does not', () => {
  expect(practicePerformance(7)).toEqual(practicePerformance(7));
  expect(practicePerformance(7).bytes).not.toEqual(practicePerformance(8).bytes);
});
