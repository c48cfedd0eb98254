/** The mean of all channels as a new array; a mono input is copied. */
export function mixToMono(channels: readonly Float32Array[]): Float32Array {
  const mono = channels[0]?.slice() ?? new Float32Array(0);
  for (let c = 1; c < channels.length; c++) {
    const channel = channels[c];
    for (let i = 0; i < mono.length; i++) mono[i] += channel[i];
  }
  const share = 1 / channels.length;
  if (channels.length > 1) for (let i = 0; i < mono.length; i++) mono[i] *= share;
  return mono;
}

/** Replaces NaN and infinities by 0 in place; returns how many there were. */
export function silenceNonFinite(samples: Float32Array): number {
  let replaced = 0;
  for (let i = 0; i < samples.length; i++) {
    // Nought times what is not finite is not nought; the quickest of all tests.
    if (samples[i] * 0 !== 0) {
      samples[i] = 0;
      replaced++;
    }
  }
  return replaced;
}
