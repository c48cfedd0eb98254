import { randomFrom } from '@/demo/random';
import { drawForm, drawPart, type Setting } from './practiceParts';
import { DRAWN_STYLES } from './practiceStyles';

const setting = (seed: number, name?: string): Setting => {
  const random = randomFrom(seed);
  return {
    style: DRAWN_STYLES.find((style) => !name || style.name === name)!,
    mode: seed % 2 ? 'minor' : 'major',
    tonic: seed % 12,
    performed: seed % 3 === 0,
    random,
  };
};
const SEEDS = Array.from({ length: 40 }, (_, i) => i + 1);

test('every style says how likely each step of a bar is, no more and no fewer', () => {
  for (const { name, beats, steps, drums } of DRAWN_STYLES)
    for (const lines of Object.values(drums))
      for (const line of lines) expect(`${name} ${line.length}`).toBe(`${name} ${beats * steps}`);
});

test('drums are hit on steps of the bar, where the style has them', () => {
  for (const seed of SEEDS) {
    const of = setting(seed, 'rock');
    const { drums, layers } = drawPart(of, true, 0, 8);
    expect(layers).toEqual([]);
    for (const { drum, hits } of drums)
      hits.forEach((bar, b) =>
        bar.forEach(({ step, gain }) => {
          const lines = of.style.drums[drum]!;
          expect(lines[b % lines.length][step]).not.toBe('.');
          expect(gain).toBeGreaterThan(0);
          expect(gain).toBeLessThanOrEqual(1);
        }),
      );
  }
});

test('tonal layers play notes of the scale inside the bar', () => {
  const MAJOR = [0, 2, 4, 5, 7, 9, 11];
  const MINOR = [0, 2, 3, 5, 7, 8, 10];
  for (const seed of SEEDS) {
    const of = setting(seed, 'tones in four');
    const part = drawPart(of, false, 3, 8);
    expect(part.drums).toEqual([]);
    expect(part.layers).toHaveLength(3);
    for (const { notes } of part.layers)
      for (let bar = 0; bar < part.progressionBars; bar++)
        for (const { step, steps, midi } of notes(bar)) {
          expect(step).toBeGreaterThanOrEqual(0);
          expect(step).toBeLessThan(16);
          expect(steps).toBeGreaterThan(0);
          expect(of.mode === 'major' ? MAJOR : MINOR).toContain((midi - of.tonic + 120) % 12);
        }
  }
});

test('in swing no tone stands on the middle third of a beat; in twelve eighths many do', () => {
  const thirds = (name: string) => {
    const counts = [0, 0, 0];
    for (const seed of SEEDS) {
      const part = drawPart(setting(seed, name), false, 3, 8);
      for (const { notes } of part.layers)
        for (let bar = 0; bar < part.progressionBars; bar++)
          for (const { step } of notes(bar)) counts[step % 3]++;
    }
    return counts;
  };
  for (const name of ['shuffle', 'brushes', 'slow swing']) {
    const [on, middle, late] = thirds(name);
    expect([name, middle]).toEqual([name, 0]);
    expect(late).toBeGreaterThan(0.1 * on);
  }
  expect(thirds('twelve eighths')[1]).toBeGreaterThan(100);
});

test('some chords stand on every beat and nowhere else', () => {
  const even = SEEDS.filter((seed) => {
    const { layers, progressionBars } = drawPart(setting(seed, 'eighths in four'), false, 3, 8);
    return layers.some(({ voice, notes }) =>
      Array.from({ length: progressionBars }, (_, bar) => notes(bar)).every(
        (bar) => voice === 'keys' && new Set(bar.map(({ step }) => step)).size === 4 && bar.length >= 12,
      ),
    );
  });
  expect(even.length).toBeGreaterThan(1);
  expect(even.length).toBeLessThan(SEEDS.length / 2);
});

test('chords between the beats stand there alone, and lean on a bass', () => {
  const betweenBeats = (layers: number) =>
    SEEDS.filter((seed) => {
      const part = drawPart(setting(seed, 'tones in four'), false, layers, 8);
      return part.layers.some(({ notes }) =>
        Array.from({ length: part.progressionBars }, (_, bar) => notes(bar)).every(
          (bar) => bar.length >= 12 && bar.every(({ step }) => step % 4 === 2),
        ),
      );
    });
  expect(betweenBeats(3).length).toBeGreaterThan(1);
  expect(betweenBeats(1)).toEqual([]);
});

test('a form has every bar once, and something plays in each section', () => {
  for (const seed of SEEDS) {
    const of = setting(seed, 'rock');
    const parts = [drawPart(of, true, 2, 8), drawPart(of, true, 2, 8)];
    const bars = 6 + (seed % 30);
    const sections = drawForm(of.random, bars, parts);
    expect(sections[0].from).toBe(0);
    expect(sections[sections.length - 1].to).toBe(bars);
    sections.forEach(({ from, to, part, drums, layers }, i) => {
      expect(to).toBeGreaterThan(from + 1);
      if (i) expect(from).toBe(sections[i - 1].to);
      expect(layers).toHaveLength(parts[part].layers.length);
      expect(drums || layers.some(Boolean)).toBe(true);
    });
  }
});

test('where there are no drums a section always has a layer', () => {
  for (const seed of SEEDS) {
    const of = setting(seed, 'tones in three');
    const parts = [drawPart(of, false, 1, 8)];
    for (const { layers } of drawForm(of.random, 20, parts)) expect(layers).toContain(true);
  }
});
