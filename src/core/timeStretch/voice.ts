import { isStruckAtTurn } from '../signal/attack';
import { frameAt } from '../signal/fft';
import { bandsOf, type Band } from './bands';
import type { Progress } from './progress';
import { reachOf, repitch } from './repitch';
import { spansBefore, spansOf, type Span } from './spans';
import { stretching } from './stretch';
import { timeMap, toSource, type TimeMap } from './timeMap';
import type { VocoderSettings } from './vocoder';

/** What a sample is to become, in frames. */
export interface TimeStretch {
  /** Frames a second, of both. */
  rate: number;
  /** Frames of the result. */
  length: number;
  semitones: number;
  /** Frames of the source at which something is struck. */
  attacks: readonly number[];
  /** The source loops, and so does the result. */
  isLoop: boolean;
  /** Formants stay where they are while the pitch moves. */
  holdFormants: boolean;
  /** How time goes, from frames of the source to frames of the result: 0 to 0, the end to the end; evenly where there is none. */
  map?: TimeMap;
  /** Pitch and speed go together, with pitch following speed's do; `semitones` is not asked then. */
  tape?: boolean;
}

/** Lengths of frames at 44.1 kHz. */
const WINDOWS = [2048, 4096, 8192];
const OVERLAP = 4;
/** The farthest that anything is bent: a quarter and four times as long as it is read, after its pitch is made up for. */
const MOST = 4;

/** So many frames are made at once by what takes long for each. */
const PART = 32_768;

/** A whole sample, exactly as long and as high as it is to be: all of `fitting` at once. */
export function fitted(source: readonly Float32Array[], wanted: TimeStretch): Float32Array[] {
  check(source, wanted);
  const out = source.map(() => new Float32Array(wanted.length));
  const steps = timeStretch(source, wanted, out);
  while (!steps.next().done);
  return out;
}

/**
 * Makes a sample exactly as long and as high as it is to be, step by step, into `out`, which is `length` long and silent.
 * Channels stay together; where nothing is asked the result is the source, to the bit. Throws RangeError for an empty source, unequal
 * channels, a length that is no whole number of frames, and what is bent too far.
 */
export function* timeStretch(
  source: readonly Float32Array[],
  wanted: TimeStretch,
  out: readonly Float32Array[],
): Generator<Progress, void, void> {
  check(source, wanted);
  const { length, semitones, isLoop, rate } = wanted;
  const size = source[0].length;
  const map = wanted.map ?? timeMap([0, size], [0, length]);
  if (wanted.tape) {
    yield* asTape(source, out, map, isLoop);
    return;
  }
  const inner = Math.max(1, Math.round(length * 2 ** (semitones / 12)));
  const ratio = inner / size;
  if (ratio > MOST * 1.001 || ratio < 0.999 / MOST)
    throw new RangeError(
      `a ratio of ${(length / size).toFixed(3)} at ${semitones} semitones is beyond a quarter to four times`,
    );
  const step = inner / length;
  const holdAgainst = wanted.holdFormants && semitones !== 0 ? step : 1;
  // All of what loops is needed before any of it is made.
  if (isLoop) yield { made: 0, needs: size };
  const attacks = isLoop && isStruckAtTurn(source, rate) ? [0, ...wanted.attacks] : wanted.attacks;
  const innerMap = { source: map.source, result: map.result.map((frame) => frame * step) };
  const made = inner === length ? out : source.map(() => new Float32Array(inner));
  const isAsItIs = inner === size && isStraight(innerMap) && holdAgainst === 1;
  const lengths = { size, length: inner, map: innerMap, isLoop, rate };
  const lanes = (
    isAsItIs
      ? []
      : isLoop && holdAgainst === 1
        ? bandsOf(source, attacks, rate)
        : [{ source, attacks, stride: 1, isPart: false }]
  ).map((band) => ({ ...band, spans: spansOf({ ...lengths, attacks: band.attacks }) }));
  const settings = {
    ...{ rate, overlap: OVERLAP, holdAgainst, stride: 1, isPart: false },
    windows: WINDOWS.map((frames) => frameAt(rate, frames)),
  };
  const reach = reachOf(step);
  let read = 0;
  const readUntil = (until: number) => {
    if (until <= read) return;
    const at = (frame: number) => frame * step;
    repitch(made, out, read, until, { at, step, isLoop });
    read = until;
  };
  if (lanes.length === 0) {
    yield { made: 0, needs: size };
    source.forEach((channel, c) => made[c].set(channel));
  } else {
    // What loops is read before its beginning too; what stands there, at its end, is made last, or twice.
    const isEndKnown = !isLoop || lanes.every(({ spans }) => spans[0].at <= -reach);
    const isEndLent =
      inner !== length &&
      !isEndKnown &&
      lanes.every(({ spans }) => (spans.findLast(({ struck }) => struck !== null)?.at ?? 0) > 4 * reach);
    let lentEnds: Float32Array[] | null = null;
    if (isEndLent) {
      const lent = source.map(() => new Float32Array(inner));
      const before = lanes.map((lane) => ({
        ...lane,
        spans: spansBefore(lane.spans, { size, length: inner }),
      }));
      const steps = together(before, lent, isLoop, settings);
      while (!steps.next().done);
      lentEnds = lent.map((samples) => samples.slice(inner - reach));
      lentEnds.forEach((end, c) => made[c].set(end, inner - reach));
    }
    for (const progress of together(lanes, made, isLoop, settings)) {
      if (inner !== length && (isEndKnown || isEndLent)) {
        readUntil(Math.floor((progress.made - reach) / step));
        if (lentEnds && read > 0) {
          // Given back, but not what the first attack has laid there meanwhile: it begins a little before the turn.
          lentEnds.forEach((end, c) => end.forEach((value, i) => (made[c][inner - reach + i] -= value)));
          lentEnds = null;
        }
      }
      yield inner === length ? progress : { ...progress, made: read };
    }
  }
  while (inner !== length && read < length) {
    readUntil(Math.min(length, read + PART));
    yield { made: read, needs: 0 };
  }
}

/** Lays bands over each other, each along its own spans: the one that is least made goes on. */
function* together(
  lanes: readonly (Band & { spans: readonly Span[] })[],
  out: readonly Float32Array[],
  isLoop: boolean,
  settings: VocoderSettings,
): Generator<Progress, void, void> {
  const going = lanes.map(({ source, spans, stride, isPart }) => {
    const steps = stretching(source, spans, out, isLoop, { ...settings, stride, isPart });
    return { steps, told: steps.next() };
  });
  for (;;) {
    const next = going.reduce((a, b) => (madeBy(b) < madeBy(a) ? b : a));
    if (next.told.done) return;
    yield next.told.value;
    next.told = next.steps.next();
  }
}

const madeBy = ({ told }: { told: IteratorResult<Progress, void> }) =>
  told.done ? Infinity : told.value.made;

/** Pitch and speed together: the source read along the map. */
function* asTape(
  source: readonly Float32Array[],
  out: readonly Float32Array[],
  map: TimeMap,
  isLoop: boolean,
): Generator<Progress, void, void> {
  const [size, length] = [source[0].length, out[0].length];
  const at = (frame: number) => toSource(map, frame);
  for (let from = 0; from < length; from += PART) {
    const until = Math.min(length, from + PART);
    const step = (at(until) - at(from)) / (until - from);
    yield { made: from, needs: isLoop ? size : Math.ceil(at(until)) + reachOf(step) };
    repitch(source, out, from, until, { at, step, isLoop });
  }
}

const isStraight = ({ source, result }: TimeMap) =>
  source.length === 2 && result[1] - result[0] === source[1] - source[0];

function check(source: readonly Float32Array[], { length, semitones, rate }: TimeStretch) {
  const size = source[0]?.length ?? 0;
  if (size === 0 || source.some((channel) => channel.length !== size))
    throw new RangeError('there is no sound, or its channels are not equally long');
  if (!Number.isInteger(length) || length < 1) throw new RangeError(`${length} frames cannot be made`);
  if (!(rate >= 4000 && rate <= 400_000)) throw new RangeError(`${rate} Hz is no rate of audio`);
  if (!Number.isFinite(semitones) || Math.abs(semitones) > 24)
    throw new RangeError(`${semitones} semitones are beyond ± 24`);
}
