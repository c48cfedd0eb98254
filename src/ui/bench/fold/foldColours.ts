import { strengthOf } from '@/core/traces/bandStrength';

/** Strength below this is floor, above that full ink. */
const FLOOR = 1.8;
const FULL = 13;
export const INK = Float32Array.from(
  { length: 256 },
  (_, byte) => Math.max(0, Math.min(1, (strengthOf(byte) - FLOOR) / (FULL - FLOOR))) ** 0.7,
);

/** Levels of ink per band in a mixture of bands: more are not told apart. */
export const LEVELS = 16;
export const LEVEL = Uint8Array.from(INK, (ink) => (ink === 0 ? 0 : 1 + Math.floor(ink * (LEVELS - 1.001))));

export type Rgb = readonly [number, number, number];

/** Colours of all mixtures of the inks in LEVELS steps each, the first ink's step fastest. */
export function mixtures(paper: Rgb, inks: readonly Rgb[]): Uint32Array {
  return Uint32Array.from({ length: LEVELS ** inks.length }, (_, at) => {
    const colour: [number, number, number] = [...paper];
    // The last ink first: the low hits, which carry the bar, are printed over the others.
    for (let k = inks.length - 1; k >= 0; k--) {
      const level = Math.floor(at / LEVELS ** k) % LEVELS;
      const share = level / (LEVELS - 1);
      for (let i = 0; i < 3; i++) colour[i] += (inks[k][i] - colour[i]) * share;
    }
    return packed(colour);
  });
}

/** A colour of the style sheet, "#rrggbb". */
export function rgb(hex: string): Rgb {
  const value = parseInt(hex.slice(1), 16);
  return [(value >> 16) & 255, (value >> 8) & 255, value & 255];
}

/** As the pixels of a little-endian machine have it. */
export function packed([r, g, b]: Rgb): number {
  return (255 << 24) | (Math.round(b) << 16) | (Math.round(g) << 8) | Math.round(r);
}

export function ramp(paper: Rgb, ink: Rgb): Uint32Array {
  return Uint32Array.from(INK, (a) => {
    const share = a === 0 ? 0 : 0.35 + 0.65 * a;
    return packed([0, 1, 2].map((i) => paper[i] + (ink[i] - paper[i]) * share) as unknown as Rgb);
  });
}
