/** What studios do to a mix, for training material. Samples are mono and are changed in place. */

/** A room of feedback delays (Schroeder 1962): its share, and the seconds until it is 60 dB down. */
export function addRoom(samples: Float32Array, rate: number, wet: number, decay: number) {
  const sum = new Float32Array(samples.length);
  for (const base of [0.0253, 0.0309, 0.0356, 0.0423]) {
    const delay = Math.round(base * rate);
    const feedback = 10 ** ((-3 * delay) / (decay * rate));
    const line = new Float32Array(delay);
    let damped = 0;
    for (let i = 0; i < samples.length; i++) {
      const out = line[i % delay];
      damped += 0.5 * (out - damped);
      line[i % delay] = samples[i] + damped * feedback;
      sum[i] += out / 4;
    }
  }
  for (let i = 0; i < samples.length; i++) samples[i] += wet * sum[i];
}

/** A one-pole low pass; 1 lets everything through. */
export function soften(samples: Float32Array, softness: number) {
  let held = 0;
  for (let i = 0; i < samples.length; i++) samples[i] = held += softness * (samples[i] - held);
}

/** Tilts the spectrum about `hz`: what is above it by so many decibels against what is below. */
export function tilt(samples: Float32Array, rate: number, hz: number, decibels: number) {
  const keep = 1 - Math.exp((-2 * Math.PI * hz) / rate);
  const [below, above] = [10 ** (-decibels / 40), 10 ** (decibels / 40)];
  let low = 0;
  for (let i = 0; i < samples.length; i++) {
    low += keep * (samples[i] - low);
    samples[i] = below * low + above * (samples[i] - low);
  }
}

export interface Compression {
  /** Decibels under the loudest moment from which on levels are pressed together. */
  depth: number;
  ratio: number;
  /** Seconds in which the gain falls and recovers; a quick recovery between beats is heard as pumping. */
  attack: number;
  release: number;
}

/** Presses levels together, as a feed-forward compressor with a peak detector does (Giannoulis et al. 2012). */
export function compress(
  samples: Float32Array,
  rate: number,
  { depth, ratio, attack, release }: Compression,
) {
  const threshold = 20 * Math.log10(loudestOf(samples)) - depth;
  const [down, up] = [attack, release].map((seconds) => 1 - Math.exp(-1 / (seconds * rate)));
  let reduction = 0;
  for (let i = 0; i < samples.length; i++) {
    const level = 20 * Math.log10(Math.abs(samples[i]) + 1e-9);
    const wanted = Math.max(0, level - threshold) * (1 - 1 / ratio);
    reduction += (wanted > reduction ? down : up) * (wanted - reduction);
    samples[i] *= 10 ** (-reduction / 20);
  }
}

/** Soft limiting: the loudest sample comes to `drive` before the bend, and to about `level` after it. */
export function limit(samples: Float32Array, drive: number, level: number) {
  const loudest = loudestOf(samples);
  for (let i = 0; i < samples.length; i++) samples[i] = level * Math.tanh((drive * samples[i]) / loudest);
}

function loudestOf(samples: Float32Array): number {
  let loudest = 1e-9;
  for (const value of samples) loudest = Math.max(loudest, Math.abs(value));
  return loudest;
}

/** Loud, dense and bright or dark, as finished recordings are: drawn again. */
export function master(samples: Float32Array, rate: number, random: () => number) {
  const between = (a: number, b: number) => a + (b - a) * random();
  tilt(samples, rate, between(300, 2000), between(-6, 6));
  compress(samples, rate, {
    depth: between(8, 24),
    ratio: between(3, 12),
    attack: between(0.0005, 0.02),
    release: between(0.05, 0.4),
  });
  limit(samples, between(1.5, 6), between(0.5, 0.95));
}
