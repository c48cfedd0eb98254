import { randomFrom } from '@/demo/random';
import { HARMONY_RATE, pitchPeakBuilder } from './pitchSpectrum';
import { midiNoteName, rootNote } from './rootNote';

const hz = (midi: number) => 440 * 2 ** ((midi - 69) / 12);

function rootOf(sound: (t: number) => number, seconds: number) {
  const builder = pitchPeakBuilder();
  builder.push(Float32Array.from({ length: seconds * HARMONY_RATE }, (_, n) => sound(n / HARMONY_RATE)));
  const found = rootNote(builder.finish());
  return found && { note: midiNoteName(found.midi), cents: found.cents };
}

/** A struck note: partials that fall off and die away, the higher the sooner. */
const struck =
  (midi: number, partials = 7) =>
  (t: number) => {
    let sum = 0;
    for (let h = 1; h <= partials; h++)
      sum += (0.3 / h) * Math.sin(2 * Math.PI * h * hz(midi) * t) * Math.exp(-t * (0.8 + 0.4 * h));
    return sum;
  };

describe('the root of a one-shot', () => {
  test.each([
    [33, 'A1'],
    [40, 'E2'],
    [50, 'D3'],
    [61, 'C#4'],
    [70, 'Bb4'],
    [84, 'C6'],
  ])('note %i is %s', (midi, name) => {
    const root = rootOf(struck(midi), 2);
    expect(root?.note).toBe(name);
    expect(Math.abs(root!.cents)).toBeLessThanOrEqual(10);
  });

  test('is told in cents beside the nearest note', () => {
    expect(rootOf(struck(57.3), 2)).toMatchObject({ note: 'A3', cents: 30 });
  });

  test('is found where the first partial is weaker than the others', () => {
    const reedy = (t: number) =>
      struck(48)(t) - 0.24 * Math.sin(2 * Math.PI * hz(48) * t) * Math.exp(-t * 1.2);
    expect(rootOf(reedy, 2)?.note).toBe('C3');
  });

  test.each([
    [29, 'F1', 43.7],
    [24, 'C1', 32.7],
  ])('a sub bass without overtones, note %i, is %s', (midi, name) => {
    const sub = (t: number) => 0.7 * Math.sin(2 * Math.PI * hz(midi) * t) * Math.exp(-t * 0.7);
    expect(rootOf(sub, 1.5)?.note).toBe(name);
  });

  test('noise and silence have none', () => {
    const random = randomFrom(5);
    expect(rootOf(() => 0.5 * (random() - 0.5), 1)).toBeNull();
    expect(rootOf(() => 0, 1)).toBeNull();
  });
});
