import type { BandStrength } from './bandStrength';
import { strengthByte, strengthOf } from './bandStrength';
import { repeating } from './repeating';
import { randomFrom } from '@/demo/random';

const RATE = 200;
const BAR = 2;

/** Hits at places of each bar (seconds), with others at random between them: as many as there are steps `crowd` of. */
function crowded(places: readonly number[], { bars = 16, crowd = 0.08, stretch = 1, level = 6 } = {}) {
  const random = randomFrom(4);
  const steps = Math.round(bars * BAR * RATE);
  const band = Uint8Array.from({ length: steps }, () =>
    random() < crowd ? strengthByte(3 + 5 * random()) : 0,
  );
  for (let bar = 0; bar < bars; bar++)
    for (const place of places) {
      const at = Math.round((bar * BAR * stretch + place) * RATE);
      if (at < steps) band[at] = strengthByte(level);
    }
  const quiet = new Uint8Array(steps);
  return { rate: RATE, bands: [band, quiet, quiet] } satisfies BandStrength;
}

/** Mean strength at the hits over that of all other steps. */
function contrast({ bands: [band] }: BandStrength, places: readonly number[], stretch = 1): number {
  const on = new Set<number>();
  for (let bar = 0; bar < 16; bar++)
    for (const place of places) on.add(Math.round((bar * BAR * stretch + place) * RATE));
  let [a, b] = [0, 0];
  band.forEach((byte, i) => (on.has(i) ? (a += strengthOf(byte)) : (b += strengthOf(byte))));
  return a / on.size / (b / (band.length - on.size));
}

const PLACES = [0, 0.5, 1, 1.5];

test('what comes again in every bar stands out of a crowd that does not', () => {
  const all = crowded(PLACES);
  const before = contrast(all, PLACES);
  const after = contrast(repeating(all, BAR), PLACES);
  expect(after).toBeGreaterThan(2.5 * before);
});

test('a tempo that is a little wrong, or more, keeps its columns: that is how its lean is seen', () => {
  for (const stretch of [1.003, 0.985]) {
    const off = crowded(PLACES, { stretch });
    expect(contrast(repeating(off, BAR), PLACES, stretch)).toBeGreaterThan(
      2 * contrast(off, PLACES, stretch),
    );
  }
});

test('a hit that is alone grows faint, but stays', () => {
  const one = crowded([], { crowd: 0 });
  one.bands[0][1000] = strengthByte(9);
  const left = strengthOf(repeating(one, BAR).bands[0][1000]);
  expect(left).toBeGreaterThan(1);
  expect(left).toBeLessThan(4);
});

test('too short for two bars it is as it was', () => {
  const short = crowded([0], { bars: 1 });
  expect(repeating(short, BAR)).toBe(short);
  expect(repeating(short, 0)).toBe(short);
});
