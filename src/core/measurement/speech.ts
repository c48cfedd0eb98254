import { hannWindow, realFft, type RealFft } from '../signal/fft';
import { HARMONY_RATE } from '../harmony/pitchSpectrum';

/** So much is listened to, from the first sound on, seconds; less than the least tells nothing. */
const MOST_SECONDS = 30;
const LEAST_SECONDS = 0.8;
const AUDIBLE = 1e-4;

const FRAME = 512;
const HOP = 128;
/** Periods of speaking voices, frames: of 400 to 70 Hz. */
const SHORTEST = Math.floor(HARMONY_RATE / 400);
const LONGEST = Math.floor(HARMONY_RATE / 70);
/** A frame counts where it is no more than so much softer than the loud ones, dB; it is voiced where it is so periodic. */
const SOFTEST = 30;
const VOICED = 0.6;
const NEARLY_BEST = 0.9;
/** Above it lies what sounds of s, f, sh and the like have, Hz. */
const HISS_HZ = 2500;
/** Pitch is followed over so many hops (46 ms), in steps of less than so many semitones. */
const FOLLOWED = 4;
const LARGEST_STEP = 0.8;

/** A note is held where the mean pitch of so many hops (186 ms, a turn of vibrato) is that of those before, within so many semitones. */
const HELD_HOPS = 16;
const HELD_WITHIN = 0.3;

/** What speech is like; found on 48 passages by voices of eight languages from two synthesisers of speech, and on 842 pieces of music, of which none is so. */
const SPEECH = {
  /** Of all that sounds so much is voiced, and so much can be followed. */
  voiced: [0.45, 0.98],
  followed: [0.1, 1],
  /** Of what is followed so much glides by more than GLIDES semitones, and so much hardly moves. */
  gliding: [0.5, 1],
  standing: [0, 0.25],
  /** In so much of what is voiced a note is held: vibrato glides, too. */
  held: [0, 0.2],
  /** How far the hiss in the sound wanders, and the pitch, semitones. */
  hiss: [0.07, 1],
  range: [1.5, 10],
} as const satisfies Record<keyof SpeechFigures, readonly [number, number]>;
const GLIDES = 0.2;
const STANDS = 0.08;

/** How a voice goes: shares of 0 … 1, and semitones. */
export interface SpeechFigures {
  voiced: number;
  followed: number;
  gliding: number;
  standing: number;
  held: number;
  hiss: number;
  range: number;
}

/** Listens to a mix at HARMONY_RATE block by block, and says whether it is spoken: see `isSpeech`. */
export function speechListener() {
  const samples = new Float32Array(MOST_SECONDS * HARMONY_RATE);
  let length = 0;
  return {
    push(half: Float32Array) {
      let from = 0;
      if (length === 0) while (from < half.length && Math.abs(half[from]) < AUDIBLE) from++;
      const piece = half.subarray(from, from + samples.length - length);
      samples.set(piece, length);
      length += piece.length;
    },
    finish: (): boolean => isSpoken(samples.subarray(0, length)),
  };
}

/** Of what is longer than this, seconds, excerpts are looked at first: so long ones, one in so many. */
const GLANCED_FROM = 10;
const EXCERPT_SECONDS = 1;
const ONE_IN = 6;
/** By so much of a range's width figures of excerpts may lie beside it and be those of speech as a whole. */
const SLACK = 0.5;

/** Whether a mix at HARMONY_RATE is spoken. Nearly all music is told from speech by a glance. */
export function isSpoken(mono: Float32Array): boolean {
  if (mono.length > GLANCED_FROM * HARMONY_RATE) {
    const length = EXCERPT_SECONDS * HARMONY_RATE;
    const excerpts = new Float32Array(Math.floor(mono.length / length / ONE_IN) * length);
    for (let to = 0; to < excerpts.length; to += length)
      excerpts.set(mono.subarray(ONE_IN * to, ONE_IN * to + length), to);
    const figures = speechFigures(excerpts);
    // Excerpts may be silent.
    if (figures && !isSpeech(figures, SLACK)) return false;
  }
  return isSpeech(speechFigures(mono));
}

/**
 * Whether a voice speaks: its pitch glides nearly all the time and hardly ever stands, where singing and instruments hold
 * notes, with vibrato or without; it is one voice within an octave; and voice and hiss follow each other. `slack`: by what share of its
 * width a range is wider on either side.
 */
export function isSpeech(figures: SpeechFigures | null, slack = 0): boolean {
  if (!figures) return false;
  return (Object.keys(SPEECH) as (keyof SpeechFigures)[]).every((name) => {
    const [least, most] = SPEECH[name];
    const more = slack * (most - least);
    return figures[name] >= least - more && figures[name] <= most + more;
  });
}

/**
 * How the pitch in a mono mix at HARMONY_RATE goes, if it is one voice's, by the autocorrelation of short frames, weighed by that
 * of their window (Boersma 1993). Null where it is too short or silent.
 */
export function speechFigures(mono: Float32Array): SpeechFigures | null {
  if (mono.length < LEAST_SECONDS * HARMONY_RATE) return null;
  const fft = realFft(2 * FRAME);
  const window = hannWindow(FRAME);
  const powers = new Float32Array(2 * FRAME);
  const ofWindow = lagsOf(fft, window, powers).lags;
  const weights = ofWindow.map((lag) => ofWindow[0] / lag);
  const count = Math.floor((mono.length - FRAME) / HOP) + 1;
  const levels = new Float32Array(count);
  const pitches = new Float32Array(count);
  const clear = new Float32Array(count);
  const hisses = new Float32Array(count);
  const frame = new Float32Array(FRAME);
  for (let i = 0; i < count; i++) {
    let energy = 0;
    for (let n = 0; n < FRAME; n++) {
      const value = mono[i * HOP + n];
      energy += value * value;
      frame[n] = value * window[n];
    }
    levels[i] = 10 * Math.log10(energy / FRAME + 1e-12);
    const { lags, hiss } = lagsOf(fft, frame, powers);
    hisses[i] = hiss;
    const whole = lags[0] + 1e-12;
    const at = (lag: number) => (lags[lag] / whole) * weights[lag];
    let best = 0;
    for (let lag = SHORTEST; lag <= LONGEST; lag++) best = Math.max(best, at(lag));
    let lag = SHORTEST;
    while (lag < LONGEST && at(lag) < NEARLY_BEST * best) lag++;
    while (lag < LONGEST && at(lag + 1) > at(lag)) lag++;
    const [a, b, c] = [at(lag - 1), at(lag), at(lag + 1)];
    const bend = a - 2 * b + c;
    const beside = bend < 0 ? Math.max(-1, Math.min(1, (0.5 * (a - c)) / bend)) : 0;
    clear[i] = best;
    pitches[i] = 12 * Math.log2(HARMONY_RATE / (lag + beside));
  }
  return figuresOf(levels, clear, pitches, hisses);
}

function figuresOf(
  levels: Float32Array,
  clear: Float32Array,
  pitches: Float32Array,
  hisses: Float32Array,
): SpeechFigures | null {
  const softest = quantile(levels, 0.98) - SOFTEST;
  const sounding = [...levels.keys()].filter((i) => levels[i] > softest);
  if (sounding.length === 0) return null;
  const isVoiced = (i: number) => levels[i] > softest && clear[i] > VOICED;
  // How many frames up to each one a voice goes on without a break.
  const runs = new Uint16Array(levels.length);
  const sums = new Float64Array(levels.length + 1);
  for (let i = 0; i < levels.length; i++) {
    const goesOn = i > 0 && Math.abs(pitches[i] - pitches[i - 1]) < LARGEST_STEP;
    runs[i] = isVoiced(i) ? (goesOn ? runs[i - 1] : 0) + 1 : 0;
    sums[i + 1] = sums[i] + pitches[i];
  }
  const meanUpTo = (end: number) => (sums[end] - sums[end - HELD_HOPS]) / HELD_HOPS;
  const isHeld = (i: number) =>
    runs[i] >= 2 * HELD_HOPS && Math.abs(meanUpTo(i + 1) - meanUpTo(i + 1 - HELD_HOPS)) < HELD_WITHIN;
  const voiced = sounding.filter(isVoiced);
  const moves: number[] = [];
  for (let i = FOLLOWED; i < levels.length; i++)
    if (runs[i] > FOLLOWED) moves.push(Math.abs(pitches[i] - pitches[i - FOLLOWED]));
  if (moves.length === 0) return null;
  const pitched = Float32Array.from(voiced, (i) => pitches[i]);
  const share = (holds: (move: number) => boolean) => moves.filter(holds).length / moves.length;
  const mean = sounding.reduce((sum, i) => sum + hisses[i], 0) / sounding.length;
  const spread = sounding.reduce((sum, i) => sum + (hisses[i] - mean) ** 2, 0) / sounding.length;
  return {
    voiced: voiced.length / sounding.length,
    followed: moves.length / sounding.length,
    gliding: share((move) => move > GLIDES),
    standing: share((move) => move < STANDS),
    held: voiced.filter(isHeld).length / voiced.length,
    hiss: Math.sqrt(spread),
    range: quantile(pitched, 0.9) - quantile(pitched, 0.1),
  };
}

/** The autocorrelation of a frame, and the share of its power above HISS_HZ; `powers` is written over. */
function lagsOf(
  fft: RealFft,
  frame: Float32Array,
  powers: Float32Array,
): { lags: Float32Array; hiss: number } {
  fft.input.fill(0);
  fft.input.set(frame);
  const bins = fft.forward();
  const first = Math.ceil((HISS_HZ * 2 * FRAME) / HARMONY_RATE);
  let [all, high] = [1e-12, 0];
  for (let k = 1; k < FRAME; k++) {
    const power = bins[2 * k] ** 2 + bins[2 * k + 1] ** 2;
    powers[2 * k] = power;
    all += power;
    if (k >= first) high += power;
  }
  powers[0] = bins[0] ** 2;
  powers[1] = bins[1] ** 2;
  fft.spectrum.set(powers);
  return { lags: fft.inverse().slice(0, LONGEST + 2), hiss: high / all };
}

function quantile(values: Float32Array, share: number): number {
  const sorted = values.slice().sort();
  return sorted[Math.min(sorted.length - 1, Math.round(share * (sorted.length - 1)))] ?? 0;
}
