import { realFft } from '../signal/fft';
import { addPower, earOf, samplesFrom, windowOf } from './ear';
import { logEnvelope } from './envelope';
import type { Span } from './spans';
import { makeTurns, turnInto, turnPeaks, turnsFor, type Turns } from './turns';
import { bestWindow, periodOf } from './windowChoice';

export interface VocoderSettings {
  /** Lengths of frames to choose from, powers of two, rising. */
  windows: readonly number[];
  /** How many frames overlap. */
  overlap: number;
  /** How many times as fast the result will be read: formants are moved the other way before. 1: they are left alone. */
  holdAgainst: number;
}

/** A frame holds so many periods of a tone at least: with fewer it would tell pulses. */
const PERIODS = 4;

/**
 * Stretches a span by a phase vocoder (Flanagan & Golden 1966; Laroche & Dolson 1999): frames are moved, and each peak of their
 * spectra is turned so that it goes on where the frame before left it, by as much as it turns in the source over the same
 * hop; what lies around a peak is turned with it, and all channels alike. `room`: samples to make, of the span and what it fades out
 * over; `was`: how the bins were turned before. Returns how they are turned at its end as well.
 */
export function vocoded(
  source: readonly Float32Array[],
  span: Span,
  room: number,
  isLoop: boolean,
  settings: VocoderSettings,
  was: Turns | null,
): { samples: Float32Array[]; turns: Turns | null } {
  const ear = earOf(source, isLoop, span.hears);
  const heard = mixOf(source, span, isLoop);
  const period = periodOf(heard) ?? 0;
  const long = settings.windows.filter((size) => size >= PERIODS * period);
  const windows = long.length ? long : settings.windows.slice(-1);
  const most = bestWindow(windows, span.from, span.to, ear);
  const slope = (span.to - span.from) / (span.until - span.at);
  // A loop in which nothing is struck goes round: what its phases miss at the seam is made up for little by little.
  const goesRound = isLoop && span.fade === 0 && room === span.until - span.at;
  const levels = levelsOf(heard);
  const windowAt = (tau: number) =>
    goesRound
      ? most
      : steadyWindow(
          windows,
          most,
          levels,
          tau - span.from,
          span.hears.map((place) => place - span.from),
        );

  const run = (missing: Turns | null) => {
    const sums = source.map(() => new Float32Array(room));
    const weights = new Float32Array(room);
    let turns: Turns | null = was;
    let last: { at: number; tau: number; frame: Frame } | null = null;
    for (let at = 0; ;) {
      const tau = Math.round(span.from + at * slope);
      const frame = frameOf(windowAt(tau), source.length);
      const { size, mask, spectra, before, hopBack, power, aside } = frame;
      const next = makeTurns(size / 2);
      power.fill(0);
      ear.maskAt(tau, mask);
      spectra.forEach((spectrum, c) => {
        // What the frame before heard, where it was as long as this one.
        if (last && last.frame === frame) before[c].set(spectrum);
        ear.hear(c, tau, mask, spectrum);
        addPower(spectrum, power);
      });
      if (last && turns) {
        if (last.frame !== frame) {
          ear.maskAt(last.tau, aside);
          for (let c = 0; c < source.length; c++) ear.hear(c, last.tau, aside, before[c]);
        }
        const back: number = tau - (at - last.at);
        ear.maskAt(back, aside);
        hopBack.forEach((spectrum, c) => ear.hear(c, back, aside, spectrum));
        turnPeaks(power, before, hopBack, source.length, turnsFor(size / 2, turns), next);
      } else if (turns) Object.assign(next, turnsFor(size / 2, turns));
      turns = next;
      if (!(goesRound && at >= room)) {
        const gains = settings.holdAgainst === 1 ? null : heldGains(power, settings.holdAgainst);
        lay(frame, at, missing ? closed(turns, missing, at / room) : turns, gains, sums, weights, goesRound);
      }
      last = { at, tau, frame };
      if (at >= room) break;
      at = Math.min(room, at + size / settings.overlap);
    }
    for (const sum of sums) for (let n = 0; n < room; n++) sum[n] /= Math.max(1e-4, weights[n]);
    if (settings.holdAgainst === 1) keepPower(sums, span.until - span.at, source, span, isLoop);
    return { samples: sums, turns };
  };
  const made = run(null);
  return goesRound && made.turns ? run(made.turns) : made;
}

/** What is incoherent loses power where frames overlap; so much of it is made up for at most, a factor of amplitude. */
const MOST_GAIN = 1.2;

/** Brings a span to the mean power that it has in the source. */
function keepPower(
  sums: readonly Float32Array[],
  count: number,
  source: readonly Float32Array[],
  span: Span,
  isLoop: boolean,
) {
  const size = Math.max(1, Math.round(span.to - span.from));
  let [made, meant] = [0, 0];
  source.forEach((channel, c) => {
    for (const value of samplesFrom(channel, span.from, size, isLoop)) meant += value * value;
    for (const value of sums[c].subarray(0, count)) made += value * value;
  });
  if (made <= 0) return;
  const gain = Math.sqrt(meant / size / (made / count));
  const bounded = Math.max(1 / MOST_GAIN, Math.min(MOST_GAIN, gain));
  for (const sum of sums) for (let n = 0; n < sum.length; n++) sum[n] *= bounded;
}

/** What is kept of frames of one length. */
interface Frame {
  size: number;
  mask: Float32Array;
  aside: Float32Array;
  spectra: Float32Array[];
  before: Float32Array[];
  hopBack: Float32Array[];
  power: Float32Array;
}
const frames = new Map<string, Frame>();

function frameOf(size: number, channels: number): Frame {
  const name = `${size} ${channels}`;
  let made = frames.get(name);
  if (made) return made;
  const spectra = () => Array.from({ length: channels }, () => new Float32Array(size));
  made = {
    size,
    mask: new Float32Array(size),
    aside: new Float32Array(size),
    spectra: spectra(),
    before: spectra(),
    hopBack: spectra(),
    power: new Float32Array(size / 2),
  };
  frames.set(name, made);
  return made;
}

/** Lays a frame over the result about a place. */
function lay(
  { size, mask, spectra }: Frame,
  at: number,
  turns: Turns,
  gains: Float32Array | null,
  sums: readonly Float32Array[],
  weights: Float32Array,
  goesRound: boolean,
) {
  const fft = realFft(size);
  const window = windowOf(size);
  const room = weights.length;
  const start = at - size / 2;
  const first = goesRound ? 0 : Math.max(0, -start);
  const end = goesRound ? size : Math.min(size, room - start);
  const place = (i: number) => (goesRound ? (((start + i) % room) + room) % room : start + i);
  spectra.forEach((spectrum, c) => {
    turnInto(fft.spectrum, spectrum, turns, gains);
    const samples = fft.inverse();
    for (let i = first; i < end; i++) sums[c][place(i)] += samples[i] * window[i] * mask[i];
  });
  for (let i = first; i < end; i++) weights[place(i)] += (window[i] * mask[i]) ** 2;
}

/** Turns of a loop, less what they would be off by at its end, as far as it is gone. */
function closed(turns: Turns, missing: Turns, share: number): Turns {
  const bins = turns.re.length;
  const off = missing.re.length === bins ? missing : turnsFor(bins, missing);
  const made = makeTurns(bins);
  for (let k = 0; k < bins; k++) {
    const angle = -share * Math.atan2(off.im[k], off.re[k]);
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    made.re[k] = turns.re[k] * cos - turns.im[k] * sin;
    made.im[k] = turns.re[k] * sin + turns.im[k] * cos;
  }
  return made;
}

/**
 * What each bin is multiplied by, so that formants stand where they stood once all is read `step` times as fast. The slope of the voice
 * itself goes with its pitch.
 */
function heldGains(power: Float32Array, step: number): Float32Array {
  const envelope = logEnvelope(power);
  const last = envelope.length - 1;
  return envelope.map((here, k) => {
    const at = Math.min(last, k * step);
    const i = Math.min(last - 1, Math.floor(at));
    const there = envelope[i] + (at - i) * (envelope[i + 1] - envelope[i]);
    return step * Math.exp(Math.max(-6, Math.min(4, there - here)));
  });
}

function mixOf(source: readonly Float32Array[], span: Span, isLoop: boolean): Float32Array {
  const count = Math.max(1, Math.round(span.to - span.from));
  const mix = samplesFrom(source[0], span.from, count, isLoop);
  for (const channel of source.slice(1)) {
    const other = samplesFrom(channel, span.from, count, isLoop);
    for (let i = 0; i < count; i++) mix[i] += other[i];
  }
  return mix;
}

/** Energies are summed over so many samples. */
const BLOCK = 128;
/** A frame within which the level changes by more than this (a factor of energy) hears too long: something ends there. */
const CHANGE = 60;

/** Sums of energy up to each block. */
function levelsOf(samples: Float32Array): Float64Array {
  const sums = new Float64Array(Math.ceil(samples.length / BLOCK) + 1);
  for (let b = 0; b + 1 < sums.length; b++) {
    let sum = sums[b];
    for (let i = b * BLOCK; i < Math.min(samples.length, (b + 1) * BLOCK); i++)
      sum += samples[i] * samples[i];
    sums[b + 1] = sum;
  }
  return sums;
}

/** The longest frame up to `most` about a place of a span within which the level keeps. */
function steadyWindow(
  windows: readonly number[],
  most: number,
  levels: Float64Array,
  centre: number,
  [low, high]: readonly number[],
): number {
  const blocks = levels.length - 1;
  const blockAt = (place: number) =>
    Math.max(0, Math.min(blocks, Math.round(Math.max(low, Math.min(high, place)) / BLOCK)));
  for (let i = windows.indexOf(most); i > 0; i--) {
    const part = windows[i] / 5;
    let top = 1e-12;
    let least = Infinity;
    for (const at of [-1.5, -0.5, 0.5]) {
      const [from, to] = [blockAt(centre + at * part), blockAt(centre + (at + 1) * part)];
      if (to <= from) continue;
      const mean = (levels[to] - levels[from]) / (to - from);
      top = Math.max(top, mean);
      least = Math.min(least, mean);
    }
    if (least * CHANGE >= top) return windows[i];
  }
  return windows[0];
}
