/** The click's sounds; all begin at full strength in their first sample, so that their place is exact. */
export const CLICK_SOUNDS = ['wood', 'glass', 'pin', 'thump'] as const;
export type ClickSound = (typeof CLICK_SOUNDS)[number];

const RECIPES: Record<ClickSound, { hz: number; partials: number[]; decaySeconds: number }> = {
  wood: { hz: 880, partials: [1, 2.42, 4.1], decaySeconds: 0.016 },
  glass: { hz: 1760, partials: [1, 2.76, 5.4], decaySeconds: 0.035 },
  pin: { hz: 3000, partials: [1], decaySeconds: 0.006 },
  thump: { hz: 220, partials: [1, 1.6], decaySeconds: 0.04 },
};

/** One click, peak 1, mono, at `sampleRate`. The accented one is a fifth higher. */
export function clickSound(sound: ClickSound, accented: boolean, sampleRate: number): Float32Array {
  const { hz, partials, decaySeconds } = RECIPES[sound];
  const length = Math.ceil(decaySeconds * 6 * sampleRate);
  const out = new Float32Array(length);
  const pitch = hz * (accented ? 1.5 : 1);
  for (let i = 0; i < length; i++) {
    const t = i / sampleRate;
    let value = 0;
    // Cosines: the first sample is the loudest.
    partials.forEach((ratio, p) => {
      value +=
        (Math.cos(2 * Math.PI * pitch * ratio * t) * Math.exp((-t * (1 + p)) / decaySeconds)) / (1 + p);
    });
    out[i] = value;
  }
  const peak = Math.abs(out[0]);
  for (let i = 0; i < length; i++) out[i] /= peak;
  return out;
}
