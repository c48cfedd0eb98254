import { addSound, type Stage } from './stage';

const TAU = 2 * Math.PI;
/** Frequency of a MIDI note at A4 = `tuning` Hz. */
const hzOf = (midi: number, tuning = 440) => tuning * 2 ** ((midi - 69) / 12);

/**
 * A sum of sines from their first sample on, each with its own decay (0: none), computed by turning
 * phasors; the returned function gives one sample a call.
 */
function partialsOf(
  sampleRate: number,
  partials: readonly { hz: number; gain: number; decay: number }[],
): () => number {
  const count = partials.length;
  const re = new Float64Array(count);
  const im = new Float64Array(count);
  const turnRe = new Float64Array(count);
  const turnIm = new Float64Array(count);
  partials.forEach(({ hz, gain, decay }, p) => {
    const shrink = decay > 0 ? Math.exp(-1 / (decay * sampleRate)) : 1;
    re[p] = gain;
    turnRe[p] = shrink * Math.cos((TAU * hz) / sampleRate);
    turnIm[p] = shrink * Math.sin((TAU * hz) / sampleRate);
  });
  return () => {
    let sum = 0;
    for (let p = 0; p < count; p++) {
      sum += im[p];
      const next = re[p] * turnRe[p] - im[p] * turnIm[p];
      im[p] = re[p] * turnIm[p] + im[p] * turnRe[p];
      re[p] = next;
    }
    return sum;
  };
}

const harmonics = (count: number) => Array.from({ length: Math.max(1, Math.floor(count)) }, (_, i) => i + 1);

/** The big drum: a falling sine with a short knock in front. */
export function bigDrum(stage: Stage, at: number, gain = 1) {
  let phase = 0;
  addSound(stage, at, 0.6, 0.95 * gain, 0, (t, i) => {
    const hz = 48 + 110 * Math.exp(-t / 0.02);
    phase += (TAU * hz) / stage.sampleRate;
    const knock = i < 140 ? (stage.random() - 0.5) * 0.7 * (1 - i / 140) : 0;
    return Math.sin(phase) * Math.exp(-t / 0.11) + knock;
  });
}

/** The side drum: two shell tones under rattling wires. */
export function sideDrum(stage: Stage, at: number, gain = 1) {
  let held = 0;
  addSound(stage, at, 0.3, 0.55 * gain, 0.08, (t) => {
    const noise = stage.random() * 2 - 1;
    held += 0.55 * (noise - held);
    const shell =
      Math.sin(TAU * 188 * t) * 0.6 * Math.exp(-t / 0.05) +
      Math.sin(TAU * 331 * t) * 0.3 * Math.exp(-t / 0.03);
    return shell + (noise - held) * 0.9 * Math.exp(-t / 0.07);
  });
}

/** A small cymbal held by hand (`open` lets it ring). */
export function cymbal(stage: Stage, at: number, gain = 1, open = false) {
  let low = 0;
  const decay = open ? 0.16 : 0.028;
  addSound(stage, at, decay * 6, 0.26 * gain, -0.3, (t) => {
    const noise = stage.random() * 2 - 1;
    low += 0.75 * (noise - low);
    return (noise - low) * Math.exp(-t / decay);
  });
}

/** Two blocks of hard wood struck together. */
export function woodBlock(stage: Stage, at: number, hz = 920, gain = 1, pan = 0.35) {
  addSound(stage, at, 0.12, 0.4 * gain, pan, (t) => {
    return (
      (Math.sin(TAU * hz * t) + 0.5 * Math.sin(TAU * hz * 2.71 * t) * Math.exp(-t / 0.008)) *
      Math.exp(-t / 0.022)
    );
  });
}

/** Plucked gut: decaying partials, the higher the quicker. */
export function pluck(
  stage: Stage,
  at: number,
  midi: number,
  seconds: number,
  gain = 1,
  pan = 0,
  tuning = 440,
) {
  const hz = hzOf(midi, tuning);
  const ring = Math.min(seconds + 0.25, 2.2);
  const next = partialsOf(
    stage.sampleRate,
    harmonics(Math.min(12, 9000 / hz)).map((h) => ({
      hz: hz * h,
      gain: 1 / h,
      decay: 0.42 / (0.8 + 0.55 * h),
    })),
  );
  addSound(stage, at, ring, 0.34 * gain, pan, (t) => {
    const release = t > seconds ? Math.exp(-(t - seconds) / 0.05) : 1;
    return next() * Math.min(1, t / 0.0015) * release;
  });
}

/** The bass: a rounder pluck. */
export function bass(stage: Stage, at: number, midi: number, seconds: number, gain = 1, tuning = 440) {
  const hz = hzOf(midi, tuning);
  const next = partialsOf(
    stage.sampleRate,
    harmonics(6).map((h) => ({ hz: hz * h, gain: 1 / h ** 1.3, decay: 0.7 / h })),
  );
  addSound(stage, at, seconds + 0.08, 0.5 * gain, 0, (t) => {
    const release = t > seconds ? Math.exp(-(t - seconds) / 0.025) : 1;
    return next() * Math.min(1, t / 0.003) * release;
  });
}

/** The bellows organ: reeds with a slow beat between two ranks. */
export function reeds(
  stage: Stage,
  at: number,
  midi: number,
  seconds: number,
  gain = 1,
  pan = -0.15,
  tuning = 440,
) {
  const hz = hzOf(midi, tuning);
  const next = partialsOf(
    stage.sampleRate,
    harmonics(Math.min(14, 8000 / hz)).flatMap((h) => [
      { hz: hz * h, gain: 1 / h, decay: 0 },
      { hz: hz * h * 1.0022, gain: 1 / h, decay: 0 },
    ]),
  );
  addSound(stage, at, seconds + 0.4, 0.11 * gain, pan, (t) => {
    const release = t > seconds ? Math.exp(-(t - seconds) / 0.045) : 1;
    return next() * Math.min(1, t / 0.035) * release;
  });
}

/** Glass bells: inharmonic partials that ring long. */
export function bell(stage: Stage, at: number, midi: number, gain = 1, pan = 0.25, tuning = 440) {
  const hz = hzOf(midi, tuning);
  addSound(stage, at, 2.4, 0.2 * gain, pan, (t) => {
    const strike = Math.min(1, t / 0.0008);
    return (
      strike *
      (Math.sin(TAU * hz * t) * Math.exp(-t / 0.7) +
        0.45 * Math.sin(TAU * hz * 2.0 * t) * Math.exp(-t / 0.35) +
        0.3 * Math.sin(TAU * hz * 4.07 * t) * Math.exp(-t / 0.12))
    );
  });
}

/** A humming voice with vibrato that sets in late, and breath. */
export function voice(
  stage: Stage,
  at: number,
  midi: number,
  seconds: number,
  gain = 1,
  pan = 0,
  tuning = 440,
) {
  const hz = hzOf(midi, tuning);
  let phase = 0;
  const formants = harmonics(8).map(
    (h) =>
      Math.exp(-(((h * hz - 560) / 380) ** 2)) + 0.5 * Math.exp(-(((h * hz - 1150) / 300) ** 2)) + 0.12 / h,
  );
  addSound(stage, at, seconds + 0.1, 0.3 * gain, pan, (t) => {
    const vibrato = 1 + 0.006 * Math.min(1, t / 0.4) * Math.sin(TAU * 5.2 * t);
    phase += (TAU * hz * vibrato) / stage.sampleRate;
    // sin(hφ) by the Chebyshev recurrence from sin φ and cos φ.
    const twice = 2 * Math.cos(phase);
    let before = 0;
    let sine = Math.sin(phase);
    let value = 0;
    for (const formant of formants) {
      value += formant * sine;
      const after = twice * sine - before;
      before = sine;
      sine = after;
    }
    const breath = (stage.random() - 0.5) * 0.05;
    const release = t > seconds ? Math.exp(-(t - seconds) / 0.04) : 1;
    return (value + breath) * Math.min(1, t / 0.045) * release;
  });
}
