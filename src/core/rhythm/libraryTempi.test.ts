import { halfTime, monoOf } from '../../../tests/support/music';
import { measureAudio } from '../measurement/measure';
import { resample } from '../signal/resample';
import { libraryTempi } from './libraryTempi';
import { ANALYSIS_RATE } from './onsetFeatures';

const near = (bpm: number, count: number) => Array.from({ length: count }, (_, i) => bpm + (i % 5) - 2);

test('a library without proved samples expects nothing', () => {
  const odds = libraryTempi([]);
  for (const bpm of [40, 90, 180, 300]) expect(odds(bpm)).toBe(0);
});

test('tempi like its own are expected more, others less, the more the more samples say so', () => {
  const few = libraryTempi(near(88, 4));
  const many = libraryTempi(near(88, 60));
  expect(few(88)).toBeGreaterThan(0);
  expect(many(88)).toBeGreaterThan(few(88));
  expect(many(176)).toBeLessThan(few(176));
  expect(few(176)).toBeLessThan(0);
  // However many there are, nothing is impossible.
  expect(libraryTempi(near(88, 5000))(176)).toBeGreaterThan(-8);
});

test('one that is spread as all music is changes hardly anything', () => {
  const all = Array.from({ length: 400 }, (_, i) => 111 * 2 ** (0.383 * quantile((i + 0.5) / 400)));
  for (const bpm of [75, 95, 111, 140, 165]) expect(Math.abs(libraryTempi(all)(bpm))).toBeLessThan(0.25);
});

/** Of the standard normal distribution (Abramowitz & Stegun 26.2.23). */
function quantile(p: number): number {
  const t = Math.sqrt(-2 * Math.log(Math.min(p, 1 - p)));
  const z =
    t -
    (2.515517 + 0.802853 * t + 0.010328 * t * t) / (1 + 1.432788 * t + 0.189269 * t * t + 0.001308 * t ** 3);
  return p < 0.5 ? -z : z;
}

describe('a beat that could be felt on two levels', () => {
  const stage = halfTime();
  const mono = resample(monoOf(stage), stage.sampleRate, ANALYSIS_RATE);
  const bpmIn = (tempi: readonly number[]) => measureAudio(mono, { library: libraryTempi(tempi) });

  test('is put where the library’s samples are, and it is said', () => {
    const alone = measureAudio(mono);
    const level = alone.tempo!.bpm;
    const other = level > 110 ? level / 2 : level * 2;
    const told = bpmIn(near(other, 200));
    expect(told.tempo!.bpm / other).toBeCloseTo(1, 2);
    expect(told.remarks).toContainEqual({ code: 'as in library', bpm: expect.closeTo(level, 0) });
    expect(alone.remarks.map(({ code }) => code)).not.toContain('as in library');
  });

  test('stays where it is in a library that agrees', () => {
    const level = measureAudio(mono).tempo!.bpm;
    const told = bpmIn(near(level, 200));
    expect(told.tempo!.bpm / level).toBeCloseTo(1, 3);
    expect(told.remarks.map(({ code }) => code)).not.toContain('as in library');
  });
});
