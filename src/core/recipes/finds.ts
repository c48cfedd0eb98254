import { median } from '../math/median';
import { HARMONY_RATE, pitchPeakBuilder, tonalShare } from '../harmony/pitchSpectrum';
import { hannWindow, realFft } from '../signal/fft';
import { barTime, barsUntil, beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import type { Onset } from '../rhythm/onsets';
import { mixToMono } from '../signal/pcm';
import { resample } from '../signal/resample';
import { quietestShift, seamFigures, type SeamFigures } from '../signal/seam';
import type { ChromaRows, Traces } from '../traces/traces';

/** How many bars a proposed stretch may be long. */
const FIND_LENGTHS = [1, 2, 4, 8, 16] as const;

/** A stretch that loops well. */
interface StretchFind {
  kind: 'stretch';
  bar: number;
  bars: number;
  /** 0 … 1: what it is ranked by. */
  worth: number;
  /** How like its first bar what follows its end is, 0 … 1; null where the piece ends there. */
  likeness: number | null;
  /** How far the levels of its bars are apart, dB. */
  unevenDb: number;
  /** Drums alone, or something of lasting pitch. */
  sound: 'drums' | 'pitched';
  /** Its level beside that of the usual bar, dB. */
  levelDb: number;
  /** How much the chords after its end are those that it begins with, 0 … 1; null where there is no tone, or nothing follows. */
  harmony: number | null;
  /** Both ends are best moved by so much, and what the turn is like then. */
  shiftSeconds: number;
  seam: SeamFigures;
}

/** A single hit that stands free. */
interface HitFind {
  kind: 'hit';
  at: number;
  /** Until the next hit, or until it has died away. */
  until: number;
  worth: number;
  /** Level before it beside its own, dB: what is left of what sounded before. */
  beforeDb: number;
  /** How far it falls before the next hit, dB. */
  fallsDb: number;
}

export type Find = StretchFind | HitFind;

export interface Finds {
  stretches: StretchFind[];
  hits: HitFind[];
}

/** Parts of a beat whose hits are told apart. */
const PARTS = 4;
/** Bars this much quieter than the usual one are fades and gaps, dB. */
const TOO_QUIET_DB = -14;
/** A turn jumps audibly over so many usual differences; a tail that is louder than this is cut audibly. */
const CRACKS = 4;
const LOUD_TAIL_DB = -18;
/** Levels that differ by as much halve the worth, dB. */
const UNEVEN_DB = 8;
/** As similarities go, what is not better than this does not loop. */
const LEAST_LIKENESS = 0.55;
/** Two stretches whose bars have hits as like as this, and begin no farther apart (dB), are the same music: the better one stands for both. */
const SAME_HITS = 0.85;
const SAME_SOUND_DB = 4;
/** Where from its beginning on a bar is listened to, seconds, and in how many bands. */
const PLACES = [0.01, 0.07, 0.19, 0.31];
const BANDS = 18;
const LOWEST_HZ = 50;
const FRAME = 4096;
/** What lies so far under the loudest is not heard beside it, dB. */
const MASKED_DB = 48;
/** What follows is to be nearer to the beginning than this share of what two bars of the piece usually are apart. */
const NEAR_SHARE = 0.72;
/** So many candidates of a length have their turn listened to. */
const LISTENED_TO = 24;
/** What has less of its energy in lasting tones than this is drums alone: of 30 drum loops none had more, of 32 pitched ones one less (in silence). */
const PITCHED_SHARE = 0.2;
/** So much of a stretch is listened to for that, seconds. */
const SOUND_SECONDS = 4;
/** So many of a length are told. */
const OF_A_LENGTH = 6;

interface Bar {
  /** Hits by place, three bands, as a unit vector. */
  pattern: Float64Array;
  /** Notes of each beat one after the other; null where there is no tone. */
  chroma: Float64Array | null;
  /** Of the first beat alone. */
  first: Float64Array | null;
  /** What is heard from its beginning on: levels of bands at a few places, dB. */
  begins: Float64Array;
  levelDb: number;
}

/**
 * What a recording offers for cutting: stretches of whole bars after whose end the same follows that they begin with (hits by place in
 * the bar, notes beat by beat), of even level, with a clean turn; and single hits with quiet before and nothing over their decay. Best
 * first; the same music is proposed once in each length.
 */
export function findsIn(
  audio: { channels: readonly Float32Array[]; sampleRate: number; durationSeconds: number },
  traces: Pick<Traces, 'strength' | 'chords'>,
  onsets: readonly Onset[],
  grid: Grid | null,
): Finds {
  return { stretches: grid ? stretchesIn(audio, traces, grid) : [], hits: hitsIn(audio, onsets) };
}

type Audio = Parameters<typeof findsIn>[0];

function stretchesIn(audio: Audio, traces: Pick<Traces, 'strength' | 'chords'>, grid: Grid): StretchFind[] {
  const count = Math.min(4000, barsUntil(grid, audio.durationSeconds));
  const first = grid.one >= -1e-3 ? 1 : Math.ceil(1 - grid.one / (barTime(grid, 2) - barTime(grid, 1)));
  const bars = Array.from({ length: count }, (_, i) => barOf(i + 1, audio, traces, grid));
  const heard = bars.map(({ levelDb }) => levelDb).filter((level) => level > -70);
  if (heard.length === 0) return [];
  const usual = median(heard);
  const usualApart = apartUsually(bars);
  const found: StretchFind[] = [];
  for (const length of FIND_LENGTHS) {
    const candidates: {
      bar: number;
      worth: number;
      likeness: number | null;
      harmony: number | null;
      unevenDb: number;
      levelDb: number;
    }[] = [];
    for (let at = first - 1; at + length <= count; at++) {
      const inside = bars.slice(at, at + length);
      const levels = inside.map(({ levelDb }) => levelDb);
      if (Math.min(...levels) < usual + TOO_QUIET_DB) continue;
      const next = bars[at + length] as Bar | undefined;
      const follows = next && next.levelDb > usual + TOO_QUIET_DB ? next : null;
      const likeness = follows && likenessOf(follows, bars[at]);
      if (likeness !== null && likeness < LEAST_LIKENESS) continue;
      const apart = follows && apartDb(follows.begins, bars[at].begins) / usualApart;
      if (apart !== null && apart > NEAR_SHARE) continue;
      const [begins, goesOn] = [bars[at].first, follows?.first ?? null];
      const harmony = begins && goesOn ? dot(begins, goesOn) : null;
      const unevenDb = Math.max(...levels) - Math.min(...levels);
      // Where nothing follows that could tell, a whole loop may still turn: it counts for little more than what barely does.
      const turning = likeness ?? LEAST_LIKENESS + 0.1;
      // Phrases begin with every second, fourth, eighth bar.
      const phrase = at % Math.min(length, 4) === 0 ? 1 : 0.93;
      const near = 1 - 0.6 * (apart ?? NEAR_SHARE);
      const worth = turning * near * (0.7 + 0.3 * (harmony ?? 0.7)) * phrase * 0.5 ** (unevenDb / UNEVEN_DB);
      const levelDb = median(levels) - usual;
      candidates.push({ bar: at + 1, worth, likeness, harmony, unevenDb, levelDb });
    }
    candidates.sort((a, b) => b.worth - a.worth);
    const listened = candidates
      .slice(0, LISTENED_TO)
      .map((one): Omit<StretchFind, 'sound'> => ({
        kind: 'stretch',
        bars: length,
        ...one,
        ...turnOf(audio, grid, one, length),
      }))
      .sort((a, b) => b.worth - a.worth);
    const taken: Omit<StretchFind, 'sound'>[] = [];
    for (const one of listened) {
      if (taken.length >= OF_A_LENGTH) break;
      if (taken.every((other) => !isSameMusic(bars, one, other))) taken.push(one);
    }
    found.push(
      ...taken.map((one) => ({
        ...one,
        sound: soundOf(audio, barTime(grid, one.bar), barTime(grid, one.bar + one.bars)),
      })),
    );
  }
  return found.sort((a, b) => b.worth - a.worth);
}

/** What the turn of a stretch is like at its best place, and what that leaves of its worth. */
function turnOf(
  { channels, sampleRate, durationSeconds }: Audio,
  grid: Grid,
  { bar, worth }: { bar: number; worth: number },
  length: number,
): Pick<StretchFind, 'shiftSeconds' | 'seam' | 'worth'> {
  const start = Math.max(0, barTime(grid, bar));
  const end = Math.min(durationSeconds, barTime(grid, bar + length));
  const found = quietestShift(channels, sampleRate, start, end);
  const shiftSeconds = start + found >= 0 && end + found <= durationSeconds ? found : 0;
  const seam = seamFigures(channels, sampleRate, start + shiftSeconds, end + shiftSeconds);
  const cracks = seam.stepRatio > CRACKS ? CRACKS / seam.stepRatio : 1;
  const levels = 0.5 ** (Math.abs(seam.levelDb) > 20 && seam.levelDb < 0 ? (-seam.levelDb - 20) / 20 : 0);
  // What rings on is no fault where the same rings on from the end into the beginning.
  const tail = seam.tailDb !== null && seam.tailDb > LOUD_TAIL_DB ? 0.97 : 1;
  return { shiftSeconds, seam, worth: worth * cracks * levels * tail };
}

/** Whether drums play alone in a stretch, by its first seconds: nothing of what sounds lasts as tones do. */
function soundOf({ channels, sampleRate }: Audio, start: number, end: number): StretchFind['sound'] {
  const from = Math.max(0, Math.round(start * sampleRate));
  const to = Math.min(end * sampleRate, from + SOUND_SECONDS * sampleRate);
  const peaks = pitchPeakBuilder();
  const mono = mixToMono(channels.map((channel) => channel.subarray(from, to)));
  peaks.push(resample(mono, sampleRate, HARMONY_RATE));
  return tonalShare(peaks.finish()) < PITCHED_SHARE ? 'drums' : 'pitched';
}

type Placed = Pick<StretchFind, 'bar' | 'bars'>;

function isSameMusic(bars: readonly Bar[], a: Placed, b: Placed): boolean {
  if (Math.abs(a.bar - b.bar) < a.bars / 2) return true;
  for (let i = 0; i < a.bars; i++) {
    const [x, y] = [bars[a.bar - 1 + i], bars[b.bar - 1 + i]];
    if (dot(x.pattern, y.pattern) < SAME_HITS || apartDb(x.begins, y.begins) > SAME_SOUND_DB) return false;
  }
  return true;
}

function barOf(
  bar: number,
  { channels, sampleRate }: Audio,
  { strength, chords }: Pick<Traces, 'strength' | 'chords'>,
  grid: Grid,
): Bar {
  const size = feltBeatsPerBar(grid.meter);
  const from = (bar - 1) * size;
  const places = size * PARTS;
  const pattern = new Float64Array(places * strength.bands.length);
  for (let place = 0; place < places; place++) {
    const [begin, end] = [-0.5, 0.5].map((half) =>
      Math.round(beatTime(grid, from + (place + half) / PARTS) * strength.rate),
    );
    strength.bands.forEach((band, b) => {
      let most = 0;
      for (let i = Math.max(0, begin); i < Math.min(band.length, end); i++) most = Math.max(most, band[i]);
      pattern[b * places + place] = most;
    });
  }
  const beats = Array.from({ length: size }, (_, beat) =>
    notesOf(chords, beatTime(grid, from + beat), beatTime(grid, from + beat + 1)),
  );
  const chroma = new Float64Array(12 * size);
  beats.forEach((notes, i) => notes && chroma.set(notes, 12 * i));
  const [start, stop] = [barTime(grid, bar), barTime(grid, bar + 1)].map((time) =>
    Math.round(time * sampleRate),
  );
  return {
    pattern: unit(centred(pattern)),
    chroma: beats.some((notes) => notes !== null) ? unit(chroma) : null,
    first: beats[0],
    begins: beginningOf(channels, sampleRate, start),
    levelDb: levelOf(channels, start, stop),
  };
}

const fft = realFft(FRAME);
const window = hannWindow(FRAME);

/** Levels of bands at a few places from a frame on, dB. */
function beginningOf(channels: readonly Float32Array[], sampleRate: number, start: number): Float64Array {
  const levels = new Float64Array(PLACES.length * BANDS);
  const octaves = Math.log2(sampleRate / 2 / LOWEST_HZ);
  PLACES.forEach((place, p) => {
    const from = start + Math.round(place * sampleRate);
    for (let n = 0; n < FRAME; n++) {
      let sum = 0;
      for (const channel of channels) sum += channel[from + n] ?? 0;
      fft.input[n] = (sum / channels.length) * window[n];
    }
    const bins = fft.forward();
    const power = new Float64Array(BANDS).fill(1e-7);
    for (let k = 1; k < FRAME / 2; k++) {
      const band = Math.floor((Math.log2((k * sampleRate) / FRAME / LOWEST_HZ) / octaves) * BANDS);
      if (band >= 0 && band < BANDS) power[band] += bins[2 * k] ** 2 + bins[2 * k + 1] ** 2;
    }
    power.forEach((value, band) => (levels[p * BANDS + band] = 10 * Math.log10(value)));
  });
  return levels;
}

/** Root mean square difference of what is heard, dB; what lies under the loudest of both counts as alike. */
function apartDb(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let from = 0; from < a.length; from += BANDS) {
    let floor = -Infinity;
    for (let i = from; i < from + BANDS; i++) floor = Math.max(floor, a[i], b[i]);
    floor -= MASKED_DB;
    for (let i = from; i < from + BANDS; i++) sum += (Math.max(floor, a[i]) - Math.max(floor, b[i])) ** 2;
  }
  return Math.sqrt(sum / a.length);
}

/** How far apart any two bars begin, in the middle, dB. */
function apartUsually(bars: readonly Bar[]): number {
  const found: number[] = [];
  for (let i = 0; i < Math.min(80, bars.length); i++) {
    const [a, b] = [(i * 7) % bars.length, (i * 13 + 5) % bars.length];
    if (a !== b) found.push(apartDb(bars[a].begins, bars[b].begins));
  }
  // Where all bars begin alike, what is as near as any is near enough.
  return Math.max(4, found.length ? median(found) : 0);
}

/** How like two bars are, 0 … 1: their hits and, where both have any, their notes. */
function likenessOf(a: Bar, b: Bar): number {
  const hits = Math.max(0, dot(a.pattern, b.pattern));
  if (!a.chroma || !b.chroma) return hits;
  // Notes of any two bars of a piece have much in common.
  const notes = Math.max(0, (dot(a.chroma, b.chroma) - 0.6) / 0.4);
  return 0.5 * hits + 0.5 * notes;
}

function notesOf({ rate, rows }: ChromaRows, from: number, to: number): Float64Array | null {
  const sum = new Float64Array(12);
  const first = Math.max(0, Math.floor(from * rate));
  const last = Math.min(rows.length / 12, Math.max(first + 1, Math.round(to * rate)));
  for (let row = first; row < last; row++)
    for (let note = 0; note < 12; note++) sum[note] += rows[row * 12 + note];
  return sum.some((value) => value > 0) ? unit(sum) : null;
}

function levelOf(channels: readonly Float32Array[], from: number, to: number): number {
  let sum = 0;
  let count = 0;
  const end = Math.min(channels[0].length, to);
  // Every fourth sample says as much.
  for (const channel of channels)
    for (let n = Math.max(0, from); n < end; n += 4) {
      sum += channel[n] * channel[n];
      count++;
    }
  return 10 * Math.log10(sum / Math.max(1, count) + 1e-12);
}

/** A hit's own level is taken over this, what sounded before it over that, seconds. */
const HIT_SECONDS = 0.03;
const BEFORE_SECONDS = 0.04;
/** What is told to stand free. */
const FREE_BEFORE_DB = -20;
const FREE_FALL_DB = 20;
const LEAST_SECONDS = 0.12;
const LONGEST_HIT = 4;
const MOST_HITS = 12;

function hitsIn({ channels, sampleRate, durationSeconds }: Audio, onsets: readonly Onset[]): HitFind[] {
  const found: HitFind[] = [];
  const level = (from: number, to: number) =>
    levelOf(channels, Math.round(from * sampleRate), Math.round(to * sampleRate));
  for (const [i, { time }] of onsets.entries()) {
    const next = Math.min(durationSeconds, onsets[i + 1]?.time ?? durationSeconds, time + LONGEST_HIT);
    if (next - time < LEAST_SECONDS) continue;
    const own = level(time, time + HIT_SECONDS);
    const beforeDb = (time < 0.01 ? -120 : level(time - BEFORE_SECONDS, time - 0.002)) - own;
    const fallsDb = own - level(next - 0.03, next - 0.005);
    if (own < -50 || beforeDb > FREE_BEFORE_DB || fallsDb < FREE_FALL_DB) continue;
    // Of those that stand as free, what is heard longest.
    const worth =
      Math.min(1, -beforeDb / 60) * Math.min(1, fallsDb / 60) * Math.min(1, 0.6 + 0.2 * (next - time));
    found.push({ kind: 'hit', at: time, until: next, worth, beforeDb, fallsDb });
  }
  return found.sort((a, b) => b.worth - a.worth).slice(0, MOST_HITS);
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < Math.min(a.length, b.length); i++) sum += a[i] * b[i];
  return sum;
}

function unit(values: Float64Array): Float64Array {
  const length = Math.sqrt(dot(values, values));
  return length > 0 ? values.map((value) => value / length) : values;
}

/** Without their mean: bars that are busy everywhere are not alike by that. */
function centred(values: Float64Array): Float64Array {
  const mean = values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  return values.map((value) => value - mean);
}
