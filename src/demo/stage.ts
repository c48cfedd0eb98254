import { randomFrom } from './random';

/** A stereo canvas that sounds are added to; times in seconds. */
export interface Stage {
  sampleRate: number;
  left: Float32Array;
  right: Float32Array;
  random: () => number;
}

export function makeStage(seconds: number, sampleRate = 44100, seed = 1): Stage {
  const frames = Math.ceil(seconds * sampleRate);
  return {
    sampleRate,
    left: new Float32Array(frames),
    right: new Float32Array(frames),
    random: randomFrom(seed),
  };
}

/**
 * Adds a sound that begins exactly at `start`: `value(t, i)` is its amplitude t seconds after that. `pan`
 * runs from −1 (left) to 1 (right). What lies outside the stage is cut.
 */
export function addSound(
  stage: Stage,
  start: number,
  seconds: number,
  gain: number,
  pan: number,
  value: (t: number, i: number) => number,
) {
  const { sampleRate, left, right } = stage;
  const first = Math.round(start * sampleRate);
  const length = Math.ceil(seconds * sampleRate);
  const gainLeft = gain * Math.cos(((pan + 1) * Math.PI) / 4) * Math.SQRT2;
  const gainRight = gain * Math.sin(((pan + 1) * Math.PI) / 4) * Math.SQRT2;
  for (let i = 0; i < length; i++) {
    const at = first + i;
    if (at < 0) continue;
    if (at >= left.length) return;
    const sample = value(i / sampleRate, i);
    left[at] += gainLeft * sample;
    right[at] += gainRight * sample;
  }
}

/** A small wooden room: four feedback delays of coprime lengths (Schroeder 1962). */
export function addRoom(stage: Stage, amount: number, decaySeconds: number) {
  const { sampleRate } = stage;
  for (const [channel, shift] of [
    [stage.left, 0],
    [stage.right, 23],
  ] as const) {
    const wet = new Float32Array(channel.length);
    for (const base of [1117, 1361, 1571, 1867]) {
      const delay = Math.round(((base + shift) * sampleRate) / 44100);
      const feedback = 10 ** ((-3 * delay) / (decaySeconds * sampleRate));
      const line = new Float32Array(delay);
      let damped = 0;
      for (let i = 0; i < channel.length; i++) {
        const out = line[i % delay];
        damped += 0.45 * (out - damped);
        line[i % delay] = channel[i] + damped * feedback;
        wet[i] += out / 4;
      }
    }
    for (let i = 0; i < channel.length; i++) channel[i] += amount * wet[i];
  }
}

/** Scales so that the loudest sample is `peak`. Silence stays silent. */
export function normalise(stage: Stage, peak = 0.84) {
  let loudest = 0;
  for (const channel of [stage.left, stage.right])
    for (const value of channel) loudest = Math.max(loudest, Math.abs(value));
  if (loudest === 0) return;
  for (const channel of [stage.left, stage.right])
    for (let i = 0; i < channel.length; i++) channel[i] *= peak / loudest;
}
