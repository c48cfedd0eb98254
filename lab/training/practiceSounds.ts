import { randomFrom } from '@/demo/random';
import { addRoom, limit, soften } from './production';

/** A mono canvas that practice pieces are rendered on; every sound is drawn from its own random numbers. */
export interface Canvas {
  rate: number;
  samples: Float32Array;
  random: () => number;
}

export function makeCanvas(seconds: number, rate: number, seed: number): Canvas {
  return { rate, samples: new Float32Array(Math.ceil(seconds * rate)), random: randomFrom(seed) };
}

const TAU = 2 * Math.PI;

function add(canvas: Canvas, start: number, seconds: number, sound: (t: number) => number) {
  const { rate, samples } = canvas;
  const first = Math.round(start * rate);
  const length = Math.ceil(seconds * rate);
  for (let i = Math.max(0, -first); i < length && first + i < samples.length; i++)
    samples[first + i] += sound(i / rate);
}

type Drum = (canvas: Canvas, at: number, gain: number) => void;
export type DrumName =
  'kick' | 'snare' | 'rim' | 'hat' | 'open' | 'ride' | 'shaker' | 'low' | 'high' | 'crash' | 'brush';
export type Kit = Record<DrumName, Drum>;

/** A kit whose shells, skins and metals are drawn again for every piece. */
export function makeKit(random: () => number): Kit {
  const between = (a: number, b: number) => a + (b - a) * random();
  const falling = (from: number, to: number, glide: number, decay: number, click: number): Drum => {
    return (canvas, at, gain) => {
      let phase = 0;
      add(canvas, at, decay * 5, (t) => {
        phase += (TAU * (to + (from - to) * Math.exp(-t / glide))) / canvas.rate;
        const knock = t < 0.004 ? click * (canvas.random() - 0.5) : 0;
        return gain * (Math.sin(phase) * Math.exp(-t / decay) + knock);
      });
    };
  };
  const noise = (decay: number, bright: number, attack = 0): Drum => {
    return (canvas, at, gain) => {
      let low = 0;
      add(canvas, at, decay * 6 + attack, (t) => {
        const white = canvas.random() * 2 - 1;
        low += bright * (white - low);
        const rise = attack > 0 ? Math.min(1, t / attack) : 1;
        return gain * rise * (white - low) * Math.exp(-Math.max(0, t - attack) / decay);
      });
    };
  };
  const both =
    (...drums: [Drum, number][]): Drum =>
    (canvas, at, gain) =>
      drums.forEach(([drum, share]) => drum(canvas, at, gain * share));
  const ring = (hz: number, decay: number): Drum => {
    const ratios = [1, 1.47, 2.09, 2.56, 3.14].map((ratio) => ratio * (1 + 0.1 * (random() - 0.5)));
    return (canvas, at, gain) =>
      add(canvas, at, decay * 5, (t) => {
        let sum = 0;
        for (const ratio of ratios) sum += Math.sin(TAU * hz * ratio * t);
        return 0.2 * gain * sum * Math.exp(-t / decay);
      });
  };
  const shell = between(150, 260);
  return {
    kick: falling(
      between(90, 220),
      between(40, 62),
      between(0.008, 0.04),
      between(0.05, 0.3),
      between(0, 0.9),
    ),
    snare: both(
      [falling(shell * 1.4, shell, 0.01, between(0.03, 0.09), 0.3), between(0.3, 0.8)],
      [noise(between(0.04, 0.14), between(0.3, 0.7)), between(0.4, 0.8)],
    ),
    rim: both([ring(between(500, 1100), between(0.008, 0.025)), 0.8], [noise(0.006, 0.4), 0.4]),
    hat: noise(between(0.012, 0.05), between(0.6, 0.9)),
    open: noise(between(0.09, 0.3), between(0.6, 0.9)),
    ride: both([ring(between(2200, 3600), between(0.15, 0.5)), 0.35], [noise(0.02, 0.7), 0.5]),
    shaker: noise(between(0.02, 0.05), between(0.5, 0.8), between(0.005, 0.02)),
    low: falling(between(150, 260), between(80, 140), 0.03, between(0.08, 0.25), 0.3),
    high: falling(between(260, 480), between(200, 380), 0.02, between(0.05, 0.12), 0.4),
    crash: noise(between(0.4, 0.9), between(0.5, 0.8)),
    brush: noise(between(0.06, 0.14), between(0.3, 0.6), between(0.01, 0.03)),
  };
}

/** A tonal voice drawn again: partials, attack, decay and damping. Notes are MIDI numbers. */
export interface Voice {
  play(canvas: Canvas, at: number, midi: number, seconds: number, gain: number): void;
}

export type VoiceKind = 'pluck' | 'keys' | 'pad' | 'bass' | 'mallet' | 'brass' | 'lead' | 'sung' | 'driven';

export function makeVoice(kind: VoiceKind, tuning: number, random: () => number): Voice {
  const between = (a: number, b: number) => a + (b - a) * random();
  const settings = {
    pluck: { rise: 0.001, decay: between(0.25, 1.2), roll: between(0.7, 1.5), count: 10 },
    keys: { rise: between(0.001, 0.006), decay: between(0.5, 2), roll: between(1, 2), count: 8 },
    pad: { rise: between(0.06, 0.35), decay: 0, roll: between(1, 2), count: 7 },
    bass: { rise: between(0.001, 0.012), decay: between(0.3, 2), roll: between(1, 2.2), count: 7 },
    mallet: { rise: 0.001, decay: between(0.12, 0.5), roll: between(1.5, 2.5), count: 4 },
    brass: { rise: between(0.02, 0.06), decay: 0, roll: between(0.6, 1.1), count: 12 },
    lead: {
      rise: between(0.004, 0.04),
      decay: random() < 0.5 ? 0 : between(0.5, 2),
      roll: between(0.7, 1.6),
      count: 9,
    },
    sung: { rise: between(0.03, 0.09), decay: 0, roll: between(0.7, 1.3), count: 14 },
    driven: { rise: 0.003, decay: between(1.5, 4), roll: between(0.3, 0.6), count: 20 },
  }[kind];
  /** Vibrato of sung notes: semitones, and turns a second. */
  const vibrato = kind === 'sung' ? { depth: between(0, 0.5), rate: between(4.5, 6.5) } : null;
  const odd = random() < 0.2;
  const release = kind === 'pad' ? between(0.1, 0.5) : between(0.02, 0.12);
  return {
    play(canvas, at, midi, seconds, gain) {
      const hz = tuning * 2 ** ((midi - 69) / 12);
      const partials = [];
      for (let h = 1; h <= settings.count && h * hz < 0.45 * canvas.rate; h += odd ? 2 : 1)
        partials.push({ turn: (TAU * h * hz) / canvas.rate, gain: 1 / h ** settings.roll, h });
      const { rate, samples } = canvas;
      const first = Math.round(at * rate);
      const ring = settings.decay
        ? Math.min(seconds + release * 4, settings.decay * 4 + release)
        : seconds + release * 3;
      const length = Math.ceil(ring * rate);
      // Cut off, the last of it would click.
      const fade = 0.01 * rate;
      const glide = vibrato && pitchCurve(vibrato, length, rate);
      for (const partial of partials) {
        const decay = settings.decay ? settings.decay / partial.h ** 0.5 : Infinity;
        const shrink = Math.exp(-1 / (decay * rate));
        let [turnRe, turnIm] = [Math.cos(partial.turn), Math.sin(partial.turn)];
        let re = 1;
        let im = 0;
        let level = gain * partial.gain;
        for (let i = 0; i < length; i++) {
          const t = i / rate;
          if (first + i >= samples.length) break;
          if (glide && i % GLIDE_STEP === 0) {
            const turn = partial.turn * glide[i / GLIDE_STEP];
            [turnRe, turnIm] = [Math.cos(turn), Math.sin(turn)];
          }
          if (first + i >= 0) {
            const rise = Math.min(1, t / settings.rise);
            const fall = t > seconds ? Math.exp(-(t - seconds) / release) : 1;
            const end = Math.min(1, (length - i) / fade);
            samples[first + i] += im * level * rise * fall * end;
          }
          level *= shrink;
          const next = re * turnRe - im * turnIm;
          im = re * turnIm + im * turnRe;
          re = next;
        }
      }
    },
  };
}

const GLIDE_STEP = 64;

/** By how much a sung note's pitch differs at every GLIDE_STEP-th sample: it slides in, and vibrato sets in. */
function pitchCurve({ depth, rate: turns }: { depth: number; rate: number }, length: number, rate: number) {
  return Float64Array.from({ length: Math.ceil(length / GLIDE_STEP) }, (_, i) => {
    const t = (i * GLIDE_STEP) / rate;
    const semitones = -0.4 * Math.exp(-t / 0.04) + Math.min(1, t / 0.3) * depth * Math.sin(TAU * turns * t);
    return 2 ** (semitones / 12);
  });
}

/** A room, a filter and soft limiting, drawn again. */
export function treat({ samples, rate }: Canvas, random: () => number) {
  const wet = random() < 0.6 ? 0.35 * random() : 0;
  if (wet > 0.02) addRoom(samples, rate, wet, 0.2 + 1.4 * random());
  if (random() < 0.15) soften(samples, 0.1 + 0.3 * random());
  limit(samples, random() < 0.4 ? 1 + 3 * random() : 0.5, 0.2 + 0.75 * random());
}
