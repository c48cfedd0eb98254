import { crossingGains } from './bands';
import { addPower, analyserOf, samplesFrom } from './analyser';
import { heldGains } from './envelope';
import { overlapAdd, strided, type OverlapAdd } from './overlapAdd';
import type { Span } from './spans';
import { toSource } from './timeMap';
import { makeTurns, turnPeaks, turnsFor, type Turns } from './turns';
import { bestWindow, levelsOf, periodOf, steadyWindow } from './windowChoice';

export interface VocoderSettings {
  /** Frames of audio a second. */
  rate: number;
  /** Lengths of frames to choose from, powers of two, rising. */
  windows: readonly number[];
  /** How many frames overlap. */
  overlap: number;
  /** How many times as fast the result will be read: formants are moved the other way before. 1: they are left alone. */
  holdAgainst: number;
  /** Every so many frames of the source tell all of it. */
  stride: number;
  /** It is one of two bands, which cross. */
  isPart: boolean;
}

/** A frame holds so many periods of a tone at least: with fewer it would tell pulses. */
const PERIODS = 4;

/**
 * Stretches a span by a phase vocoder (Flanagan & Golden 1966; Laroche & Dolson 1999): frames are moved, and each peak of their
 * spectra is turned so that it goes on where the frame before left it, by as much as it turns in the source over the same
 * hop; what lies around a peak is turned with it, and all channels alike. `room`: samples to make, of the span and what it fades out
 * over; `was`: how the bins were turned before. Returns how they are turned at the span's end as well.
 */
export function vocoded(
  source: readonly Float32Array[],
  span: Span,
  room: number,
  isLoop: boolean,
  settings: VocoderSettings,
  was: Turns | null,
): { samples: Float32Array[]; turns: Turns | null } {
  const { rate, overlap, holdAgainst, stride, isPart } = settings;
  const analyser = analyserOf(source, isLoop, span.hears, settings);
  const [low, high] = span.hears.map((place) => place - span.from);
  const pieces = source.map((channel) => samplesFrom(channel, span.from, span.to - span.from, isLoop));
  const period = periodOf(loudest(pieces), rate) ?? 0;
  const long = settings.windows.filter((size) => size >= PERIODS * period);
  const windows = long.length ? long : settings.windows.slice(-1);
  const most = bestWindow(windows, span.from, span.to, analyser);
  const levels = levelsOf(pieces);
  const count = span.until - span.at;
  // A loop in which nothing is struck loops: what its phases miss at the seam is made up for little by little.
  const loops = isLoop && span.fade === 0 && room === count;
  const windowAt = (place: number) => (loops ? most : steadyWindow(windows, most, levels, place, low, high));

  /** Goes through all frames and lays them; returns how the last one is turned. */
  const run = (frames: OverlapAdd | null, missing: Turns | null): Turns | null => {
    let turns = was;
    let turnsAtEnd: Turns | null = null;
    let isBehind = true;
    let last: { at: number; tau: number; frame: Frame } | null = null;
    for (let at = 0; ;) {
      const tau = Math.round(toSource(span.path, span.at + at));
      const frame = frameOf(windowAt(tau - span.from) / stride, source.length);
      const { size, spectra, before, hopOff, power } = frame;
      power.fill(0);
      const mask = analyser.maskAt(tau, frame.mask);
      spectra.forEach((spectrum, c) => {
        // What the frame before heard, where it was as long as this one.
        if (last && last.frame === frame) before[c].set(spectrum);
        analyser.hear(c, tau, mask, spectrum);
        addPower(spectrum, power);
      });
      if (last && turns) {
        if (last.frame !== frame) {
          const { tau: then } = last;
          const aside = analyser.maskAt(then, frame.aside);
          before.forEach((spectrum, c) => analyser.hear(c, then, aside, spectrum));
        }
        // How far a hop goes on is heard before this frame and behind the last one in turn: on the whole, about the middle of the way.
        const hop: number = at - last.at;
        const behind: number = last.tau + hop;
        isBehind = !isBehind && behind <= span.hears[1];
        const there = isBehind ? behind : tau - hop;
        const aside = analyser.maskAt(there, frame.aside);
        hopOff.forEach((spectrum, c) => analyser.hear(c, there, aside, spectrum));
        turns = turnPeaks(
          power,
          isBehind ? hopOff : before,
          isBehind ? spectra : hopOff,
          source.length,
          turnsFor(size / 2, turns),
        );
      } else turns = turns ? turnsFor(size / 2, turns) : makeTurns(size / 2);
      // The end of what loops is its beginning; what lies between the frames that are made is turned only.
      if (frames && !(loops && at >= room) && at % stride === 0) {
        const gains = isPart
          ? crossingGains(size / 2, rate / stride)
          : holdAgainst === 1
            ? null
            : heldGains(power, holdAgainst, rate);
        frames.arrange(at, spectra, mask, missing ? closed(turns, missing, at / room) : turns, gains);
      }
      if (at === count) turnsAtEnd = turns;
      if (at >= room) return turnsAtEnd;
      last = { at, tau, frame };
      const hop = (size * stride) / overlap;
      const next = Math.floor((at + hop) / stride) * stride;
      // Where frames are made, the last of them may stand a little beyond the end.
      at = at < count ? Math.min(count, next) : Math.min(Math.ceil(room / stride) * stride, next);
    }
  };
  const frames = loops ? overlapAdd(room, source.length, true) : strided(room, analyser);
  const turns = run(frames, loops ? run(null, null) : null);
  const samples = frames.finish();
  if (holdAgainst === 1) keepPower(samples, count, pieces);
  return { samples, turns };
}

function loudest(channels: readonly Float32Array[]): Float32Array {
  const energies = channels.map((samples) => {
    let sum = 0;
    for (let n = 0; n < samples.length; n++) sum += samples[n] * samples[n];
    return sum;
  });
  return channels[energies.indexOf(Math.max(...energies))];
}

/** What is incoherent loses power where frames overlap; so much of it is made up for at most, a factor of amplitude. */
const MOST_GAIN = 1.2;

/** Brings what was made, of which the first `count` samples are meant, to the mean power of the source's pieces. */
function keepPower(made: readonly Float32Array[], count: number, pieces: readonly Float32Array[]) {
  const mean = (channels: readonly Float32Array[], length: number) => {
    let sum = 0;
    for (const samples of channels) for (let n = 0; n < length; n++) sum += samples[n] * samples[n];
    return sum / length;
  };
  const now = mean(made, count);
  if (now <= 0) return;
  const wanted = Math.sqrt(mean(pieces, pieces[0].length) / now);
  const gain = Math.max(1 / MOST_GAIN, Math.min(MOST_GAIN, wanted));
  for (const samples of made) for (let n = 0; n < samples.length; n++) samples[n] *= gain;
}

/** What is kept of frames of one length. */
interface Frame {
  size: number;
  mask: Float32Array;
  aside: Float32Array;
  spectra: Float32Array[];
  before: Float32Array[];
  hopOff: Float32Array[];
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
    hopOff: spectra(),
    power: new Float32Array(size / 2),
  };
  frames.set(name, made);
  return made;
}

/** Turns of a loop, less what they would be off by at its end, as far as it is gone. */
function closed(turns: Turns, missing: Turns, share: number): Turns {
  const bins = turns.re.length;
  const off = turnsFor(bins, missing);
  const made = makeTurns(bins);
  for (let k = 0; k < bins; k++) {
    const angle = -share * Math.atan2(off.im[k], off.re[k]);
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    made.re[k] = turns.re[k] * cos - turns.im[k] * sin;
    made.im[k] = turns.re[k] * sin + turns.im[k] * cos;
  }
  return made;
}
