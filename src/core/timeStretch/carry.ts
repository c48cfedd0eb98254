import { addPower, analyserOf, type Analyser } from './analyser';
import { strided } from './overlapAdd';
import type { Span } from './spans';
import { advanceAt, forEachPeak, makeTurns, turnsFor, type Turns } from './turns';
import type { VocoderSettings } from './vocoder';

/**
 * What is looked at before and after an attack, at most, seconds; and at most this share of what lies between two attacks, or the one
 * before would be looked at as well.
 */
const MOST = 0.093;
const MOST_SHARE = 0.75;
/** Share of all energy that a peak has at least, and all that are carried through together. */
const LEAST_PEAK = 1e-4;
const LEAST_SHARE = 0.02;
/** A peak whose energy grows no more than this was not struck. */
const STRUCK = 1.3;
/** One that goes on as it went is the same tone, also when it grows this much: how far off it may be, radians. */
const SAME_PHASE = 0.8;
const SAME_TONE = 2.5;

/**
 * What sounds on through an attack (a pad under a drum, the tail of the drum before) goes on turned as it was; what is
 * struck is not turned. Null where next to nothing goes on. `was`: how the bins were turned before it.
 */
export function carriedThrough(
  source: readonly Float32Array[],
  struck: NonNullable<Span['struck']>,
  was: Turns,
  isLoop: boolean,
  { windows, rate, stride }: VocoderSettings,
): Turns | null {
  const { attack, before, after } = struck;
  const place = Math.round(attack);
  const room = Math.min(MOST_SHARE * (place - before), MOST_SHARE * (after - place), MOST * rate);
  const size = [...windows].reverse().find((one) => one <= room);
  if (!size) return null;
  const analyser = analyserOf(source, isLoop, [-Infinity, Infinity], { rate, stride });
  const count = size / stride;
  const bins = count / 2;
  const hop = size / 4;
  const spectraAt = (centre: number) =>
    source.map((_, c) => {
      const into = new Float32Array(count);
      analyser.hear(c, centre, null, into);
      return into;
    });
  const earlier = spectraAt(place - size / 2 - hop);
  const last = spectraAt(place - size / 2);
  const first = spectraAt(place + size / 2);
  const power = new Float32Array(bins);
  const powerBefore = new Float32Array(bins);
  for (const spectrum of first) addPower(spectrum, power);
  for (const spectrum of last) addPower(spectrum, powerBefore);
  const all = power.reduce((sum, value) => sum + value, 0);

  const old = turnsFor(bins, was);
  const turns = makeTurns(bins);
  let carried = 0;
  forEachPeak(power, (peak, from, until) => {
    if (power[peak] < all * LEAST_PEAK) return;
    const growth = power[peak] / Math.max(1e-20, powerBefore[peak]);
    // How far it goes on in a hop, unwrapped about its bin, and so from the frame before the attack to the one after it.
    const [re, im] = advanceAt(peak, last, earlier, source.length);
    const centre = (2 * Math.PI * peak * hop) / size;
    const expected = ((centre + wrapped(Math.atan2(im, re) - centre)) / hop) * size;
    const [foundRe, foundIm] = advanceAt(peak, first, last, source.length);
    const miss = Math.abs(wrapped(Math.atan2(foundIm, foundRe) - expected));
    if (growth > STRUCK && !(miss < SAME_PHASE && growth < SAME_TONE)) return;
    for (let k = from; k < until; k++) {
      turns.re[k] = old.re[peak];
      turns.im[k] = old.im[peak];
      carried += power[k];
    }
  });
  return carried > LEAST_SHARE * all ? turns : null;
}

const wrapped = (angle: number) => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));

/** So many frames of the source from a place on, its bins turned alike throughout. */
export function turnedCopy(
  analyser: Analyser,
  from: number,
  count: number,
  turns: Turns,
  overlap: number,
): Float32Array[] {
  const size = turns.re.length * 2;
  const [room, length] = [new Float32Array(size), size * analyser.stride];
  const spectra = Array.from({ length: analyser.channels }, () => new Float32Array(size));
  const frames = strided(count, analyser);
  for (let at = -length / 2; at < count + length / 2; at += length / overlap) {
    const mask = analyser.maskAt(from + at, room);
    spectra.forEach((spectrum, c) => analyser.hear(c, from + at, mask, spectrum));
    frames.arrange(at, spectra, mask, turns, null);
  }
  return frames.finish();
}
