/** The mean of all channels as a new array; a mono input is copied. */
export function mixToMono(channels: readonly Float32Array[]): Float32Array {
  const mono = channels[0]?.slice() ?? new Float32Array(0);
  if (channels.length === 2) {
    // Nearly all that comes in: gone through once.
    const [, other] = channels;
    for (let i = 0; i < mono.length; i++) mono[i] = Math.fround(mono[i] + other[i]) * 0.5;
    return mono;
  }
  for (let c = 1; c < channels.length; c++) {
    const channel = channels[c];
    for (let i = 0; i < mono.length; i++) mono[i] += channel[i];
  }
  const share = 1 / channels.length;
  if (channels.length > 1) for (let i = 0; i < mono.length; i++) mono[i] *= share;
  return mono;
}

/** Full scale is 1; what is a hundred thousand times louder (100 dB) is no sound but other data read as numbers. */
const ABSURD = 1e5;

/** Replaces NaN, infinities and what is too large for any sound by 0 in place; returns how many there were. */
export function silenceAbsurd(samples: Float32Array): number {
  let replaced = 0;
  for (let i = 0; i < samples.length; i++) {
    // What is no number is not smaller than any either.
    if (!(Math.abs(samples[i]) < ABSURD)) {
      samples[i] = 0;
      replaced++;
    }
  }
  return replaced;
}
