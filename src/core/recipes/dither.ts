/** A generator of evenly spread numbers, 0 … 1, that always gives the same ones (a 32-bit multiply-and-xor-shift mix, Salmon et al. 2011). */
function evenNumbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x9e3779b9) >>> 0;
    let mixed = state;
    mixed = Math.imul(mixed ^ (mixed >>> 16), 0x21f0aaad);
    mixed = Math.imul(mixed ^ (mixed >>> 15), 0x735a2d97);
    return ((mixed ^ (mixed >>> 15)) >>> 0) / 2 ** 32;
  };
}

/**
 * Brings samples to steps of 16 bits with dither: the sum of two even noises of a step each (triangular density; Lipshitz, Wannamaker
 * and Vanderkooy 1992), so that what is lost is noise of 4.77 dB over rounding alone and says nothing of the sound. Digital silence of
 * some length stays silence. The same samples always give the same steps. In place; each channel has its own noise.
 */
export function ditherTo16(channels: readonly Float32Array[]): void {
  channels.forEach((channel, c) => {
    const even = evenNumbers(0x67726e74 + c);
    let silent = SILENCE;
    for (let n = 0; n < channel.length; n++) {
      silent = channel[n] === 0 ? silent + 1 : 0;
      const noise = even() - even();
      if (silent > SILENCE) continue;
      const step = Math.round(channel[n] * 32_768 + noise);
      channel[n] = Math.max(-32_768, Math.min(32_767, step)) / 32_768;
    }
  });
}

/** Frames of exact silence after which no noise is added. */
const SILENCE = 64;
