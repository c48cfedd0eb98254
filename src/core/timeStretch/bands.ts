import { frameAt, hannWindow, realFft } from '../signal/fft';
import { arrangeLoop } from '../signal/layRound';
import { lowPassedLoop, shareBelow } from '../signal/lowPass';

/** A band of a sound that is stretched by itself; all of them together are the sound. */
export interface Band {
  source: readonly Float32Array[];
  /** Frames of the source at which this band is struck. */
  attacks: readonly number[];
  /** It lies so low that every so many frames tell all of it. */
  stride: number;
  /** It is one of two. */
  isPart: boolean;
}

/** Below this band, Hz, are the bodies of drums, above it cymbals and noise; what lies within it is in both. */
const CROSSING = [1177, 1912] as const;
/** So many frames a second tell what lies below it. */
const SPARSE_RATE = 5500;
/** The low band is struck where it rises by so much (a factor of energy) over so many seconds, and is there at all: a share of the mean. */
const RISE = 4;
const RISE_SECONDS = 0.012;
const BEFORE_SECONDS = 0.002;
const LEAST = 1e-6;
/** It is worth the while where so many of all attacks leave the low band alone. */
const SPARED = 0.15;

/**
 * What loops, in bands: where many attacks (hats) leave the bodies of the drums alone, what lies low is stretched by itself and
 * not cut at those. One band where there is little to be spared, or where tones stand in the crossing: their halves would go
 * apart.
 */
export function bandsOf(source: readonly Float32Array[], attacks: readonly number[], rate: number): Band[] {
  const whole = [{ source, attacks, stride: 1, isPart: false }];
  if (attacks.length < 2 || flatnessAt(CROSSING, source, rate) < FLAT) return whole;
  const low = source.map((channel) => lowPassedLoop(channel, rate, CROSSING));
  const struck = attacks.filter(risesIn(low, meanEnergy(source), rate));
  if (struck.length === 0 || attacks.length - struck.length < SPARED * attacks.length) return whole;
  const high = source.map((channel, c) => {
    const [rest, less] = [channel.slice(), low[c]];
    for (let n = 0; n < rest.length; n++) rest[n] -= less[n];
    return rest;
  });
  const stride = 2 ** Math.max(0, Math.floor(Math.log2(rate / SPARSE_RATE)));
  return [
    { source: high, attacks, stride: 1, isPart: true },
    { source: low, attacks: struck, stride, isPart: true },
  ];
}

const gains = new Map<string, Float32Array>();

/**
 * What the bins of either band are multiplied by where it is stretched: each holds a share of what lies in the crossing, which
 * no longer go together as they did, so that their powers add up and not their amplitudes. `rate`: twice the frequency at which the bins end.
 */
export function crossingGains(bins: number, rate: number): Float32Array {
  const name = `${bins} ${rate}`;
  let made = gains.get(name);
  if (!made) {
    made = Float32Array.from({ length: bins }, (_, k) => {
      const low = shareBelow(CROSSING, (k * rate) / (2 * bins));
      return 1 / Math.hypot(low, 1 - low);
    });
    gains.set(name, made);
  }
  return made;
}

function meanEnergy(channels: readonly Float32Array[]): number {
  let sum = 0;
  for (const samples of channels) for (let n = 0; n < samples.length; n++) sum += samples[n] * samples[n];
  return sum / channels[0].length;
}

/** Whether a band of what loops rises at a place. `mean`: the energy of all of the sound. */
function risesIn(band: readonly Float32Array[], mean: number, rate: number): (attack: number) => boolean {
  const [span, before] = [RISE_SECONDS, BEFORE_SECONDS].map((seconds) => Math.round(seconds * rate));
  const size = band[0].length;
  const energy = (from: number) => {
    let sum = 0;
    for (const samples of band)
      for (let i = from; i < from + span; i++) sum += samples[((i % size) + size) % size] ** 2;
    return sum / span;
  };
  return (attack) => {
    const place = Math.round(attack);
    const after = energy(place);
    return after > LEAST * mean && after > RISE * energy(place - before - span);
  };
}

/** Below this flatness tones stand in the crossing; noise has 0.56. */
const FLAT = 0.3;
const FRAME = 8192;
/** So many frames are looked at, at most. */
const LOOKS = 24;

/** How flat the spectrum of a sound is in a band, Hz: the ratio of the geometric to the arithmetic mean of its power, weighed by energy. */
function flatnessAt(
  [from, to]: readonly [number, number],
  source: readonly Float32Array[],
  rate: number,
): number {
  const size = frameAt(rate, FRAME);
  const fft = realFft(size);
  const window = hannWindow(size);
  const [first, last] = [from, to].map((hz) => Math.round((hz * size) / rate));
  let [flat, all] = [0, 0];
  const hop = Math.max(size / 2, source[0].length / LOOKS);
  for (const channel of source)
    for (let place = 0; place < channel.length; place += hop) {
      const { input } = fft;
      arrangeLoop(channel, Math.floor(place), input);
      for (let i = 0; i < size; i++) input[i] *= window[i];
      const bins = fft.forward();
      let [sum, logs] = [0, 0];
      for (let k = first; k <= last; k++) {
        const power = bins[2 * k] ** 2 + bins[2 * k + 1] ** 2 + 1e-20;
        sum += power;
        logs += Math.log(power);
      }
      flat += Math.exp(logs / (last - first + 1)) * (last - first + 1);
      all += sum;
    }
  return all > 0 ? flat / all : 1;
}
