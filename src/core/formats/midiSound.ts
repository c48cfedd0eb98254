import type { DecodedSummary, PcmSink } from './audioFormat';
import type { ByteReader } from './byteReader';
import { LARGEST_MIDI, readMidi, type MidiNote } from './midi';

const RATE = 44100;
const BLOCK = 4096;
/** Notes that sound at once; the oldest give way. */
const MOST_VOICES = 64;
const PARTIALS = 10;
const HIGHEST_HZ = 9000;
const RELEASE_SECONDS = 0.06;
/** What the loudest note reaches; chords add up. */
const GAIN = 0.22;
/** Under the smallest step of 24 bits. */
const INAUDIBLE = 5e-8;

/**
 * Plays a MIDI performance on plain instruments of our own, so that it can be heard, seen and measured as any
 * other sample: struck or bowed strings by the programme's family, drums by their General MIDI key. A note
 * begins at full strength in its first samples, so that its place is exact. Throws UndecodableError with a
 * sentence for the user.
 */
export async function decodeMidi(reader: ByteReader, sink: PcmSink): Promise<DecodedSummary> {
  const { notes, durationSeconds } = readMidi(await reader.read(LARGEST_MIDI + 1));
  const lastSound = notes.reduce((last, { time, seconds }) => Math.max(last, time + seconds), 0);
  const frames = Math.ceil((Math.max(durationSeconds, lastSound) + RELEASE_SECONDS) * RATE);
  const noise = noiseSource();
  let voices: Voice[] = [];
  let next = 0;
  for (let from = 0; from < frames; from += BLOCK) {
    const block = new Float32Array(Math.min(BLOCK, frames - from));
    for (; next < notes.length && notes[next].time * RATE < from + block.length; next++)
      voices.push(notes[next].program === null ? drum(notes[next], noise) : strings(notes[next]));
    if (voices.length > MOST_VOICES) voices = voices.slice(-MOST_VOICES);
    voices = voices.filter((voice) => voice(block, from));
    for (let i = 0; i < block.length; i++) block[i] = softClip(block[i]);
    sink([block], RATE);
  }
  const unpitched = notes.every(({ program }) => program === null);
  return { format: 'midi', sampleRate: RATE, channels: 1, frames, unpitched, warnings: [] };
}

/** Adds its sound to the block that begins at a frame; false once it has ended. */
type Voice = (block: Float32Array, from: number) => boolean;

/** Programmes whose notes sound on while they are held: organs, strings, choirs, brass, reeds, pipes, pads. */
const isSustained = (program: number) =>
  (program >= 16 && program < 24) ||
  (program >= 40 && program < 46) ||
  (program >= 48 && program < 55) ||
  (program >= 56 && program < 104);

/** Harmonic partials as turning phasors, the higher the sooner gone. */
function strings({ time, seconds, key, velocity, program }: MidiNote): Voice {
  const hz = 440 * 2 ** ((key - 69) / 12);
  const sustained = isSustained(program!);
  let count = Math.max(1, Math.min(PARTIALS, Math.floor(HIGHEST_HZ / hz)));
  const [re, im, turnRe, turnIm] = [0, 0, 0, 0].map(() => new Float64Array(count));
  const loudness = GAIN * (velocity / 127) ** 1.5;
  for (let p = 0; p < count; p++) {
    const h = p + 1;
    const decay = sustained ? 20 : (2.4 * (220 / hz) ** 0.5) / (1 + 0.35 * p);
    const shrink = Math.exp(-1 / (decay * RATE));
    re[p] = loudness / h ** (1.4 - 0.4 * (velocity / 127));
    turnRe[p] = shrink * Math.cos((2 * Math.PI * hz * h) / RATE);
    turnIm[p] = shrink * Math.sin((2 * Math.PI * hz * h) / RATE);
  }
  const start = Math.round(time * RATE);
  const release = start + Math.round(seconds * RATE);
  const fade = Math.exp(-4 / (RELEASE_SECONDS * RATE));
  const end = release + Math.round(RELEASE_SECONDS * RATE);
  let level = 1;
  return (block, from) => {
    const last = Math.min(block.length, end - from);
    // What has died away is turned no further: keys are held for minutes.
    while (count > 0 && Math.abs(re[count - 1]) + Math.abs(im[count - 1]) < INAUDIBLE) count--;
    if (count === 0) return false;
    for (let i = Math.max(0, start - from); i < last; i++) {
      let sum = 0;
      for (let p = 0; p < count; p++) {
        sum += im[p];
        const turned = re[p] * turnRe[p] - im[p] * turnIm[p];
        im[p] = re[p] * turnIm[p] + im[p] * turnRe[p];
        re[p] = turned;
      }
      if (from + i >= release) level *= fade;
      block[i] += level * sum;
    }
    return end > from + block.length;
  };
}

/** A struck tone under filtered noise. */
interface DrumRecipe {
  hz: number;
  /** Times over which the tone falls to `hz` from four times as high, and over which tone and noise fade, s. */
  fall: number;
  toneSeconds: number;
  noiseSeconds: number;
  tone: number;
  noise: number;
  /** Share of each noise sample that a low pass passes on at once; the noise is what it holds back, or passes. */
  colour: number;
  dark?: boolean;
}

const KICK: DrumRecipe = {
  hz: 50,
  fall: 0.02,
  toneSeconds: 0.11,
  noiseSeconds: 0.003,
  tone: 1,
  noise: 0.4,
  colour: 0.5,
};
const SNARE: DrumRecipe = {
  hz: 190,
  fall: 0.004,
  toneSeconds: 0.05,
  noiseSeconds: 0.07,
  tone: 0.5,
  noise: 0.8,
  colour: 0.5,
};
const RIM: DrumRecipe = {
  hz: 820,
  fall: 0.001,
  toneSeconds: 0.018,
  noiseSeconds: 0.006,
  tone: 0.7,
  noise: 0.4,
  colour: 0.6,
};
const CLAP: DrumRecipe = { ...SNARE, tone: 0, noiseSeconds: 0.09 };
const HAT: DrumRecipe = {
  hz: 0,
  fall: 1,
  toneSeconds: 0.01,
  noiseSeconds: 0.025,
  tone: 0,
  noise: 0.5,
  colour: 0.8,
};
const OPEN_HAT: DrumRecipe = { ...HAT, noiseSeconds: 0.18 };
const CRASH: DrumRecipe = { ...HAT, noiseSeconds: 0.7, noise: 0.6, colour: 0.7 };
const RIDE: DrumRecipe = { ...HAT, hz: 3100, tone: 0.12, toneSeconds: 0.25, noiseSeconds: 0.2, noise: 0.3 };
const SHAKER: DrumRecipe = { ...HAT, noiseSeconds: 0.04, noise: 0.35 };
const TOM = (hz: number): DrumRecipe => ({
  ...KICK,
  hz,
  toneSeconds: 0.16,
  noiseSeconds: 0.01,
  noise: 0.2,
  dark: true,
});

/** Drums by key, from the percussion map of General MIDI; what is not here sounds as a rim. */
const DRUMS: Partial<Record<number, DrumRecipe>> = {
  35: KICK,
  36: KICK,
  37: RIM,
  38: SNARE,
  39: CLAP,
  40: SNARE,
  41: TOM(75),
  42: HAT,
  43: TOM(88),
  44: HAT,
  45: TOM(104),
  46: OPEN_HAT,
  47: TOM(124),
  48: TOM(146),
  49: CRASH,
  50: TOM(174),
  51: RIDE,
  52: CRASH,
  53: RIDE,
  54: SHAKER,
  55: CRASH,
  57: CRASH,
  59: RIDE,
  60: TOM(330),
  61: TOM(245),
  62: TOM(300),
  63: TOM(280),
  64: TOM(190),
  65: TOM(310),
  66: TOM(220),
  69: SHAKER,
  70: SHAKER,
  82: SHAKER,
};

function drum({ time, key, velocity }: MidiNote, noise: () => number): Voice {
  const recipe = DRUMS[key] ?? RIM;
  const loudness = 2 * GAIN * (velocity / 127) ** 1.5;
  const start = Math.round(time * RATE);
  const frames = Math.round(5 * Math.max(recipe.toneSeconds, recipe.noiseSeconds) * RATE);
  let phase = 0;
  let held = 0;
  return (block, from) => {
    const last = Math.min(block.length, start + frames - from);
    for (let i = Math.max(0, start - from); i < last; i++) {
      const t = (from + i - start) / RATE;
      phase += (2 * Math.PI * recipe.hz * (1 + 3 * Math.exp(-t / recipe.fall))) / RATE;
      const hiss = noise();
      held += recipe.colour * (hiss - held);
      block[i] +=
        loudness *
        (recipe.tone * Math.sin(phase) * Math.exp(-t / recipe.toneSeconds) +
          recipe.noise * (recipe.dark ? held : hiss - held) * Math.exp(-t / recipe.noiseSeconds));
    }
    return start + frames > from + block.length;
  };
}

/** The same noise every time (a linear congruential generator, Numerical Recipes), −1 … 1. */
function noiseSource(): () => number {
  let state = 12345;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    return state / 0x80000000;
  };
}

/** Straight up to half of full scale, then bent so that it never passes it. */
function softClip(x: number): number {
  const over = Math.abs(x) - 0.5;
  return over <= 0 ? x : Math.sign(x) * (0.5 + 0.5 * Math.tanh(2 * over));
}
