import { movedKey, type Key } from '../harmony/keyNames';
import {
  steadyMap,
  anchored,
  cut,
  gridToGrid,
  gridToTempo,
  timeMap,
  toResult,
  type TimeMap,
} from '../timeStretch/timeMap';
import { laterBy } from '../timeStretch/plan';
import type { TimeStretch } from '../timeStretch/voice';
import { barsUntil, beatPosition, beatsWithin, beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import { bentBy } from './bentBy';
import { movedHits, playedSwing, withinReach, type MovedHit } from './hitMoves';
import { RecipeError } from './recipeError';
import { LONGEST_MADE, type Recipe, type Region } from './recipe';

/** What a recipe comes to for a sample of so many frames at a rate. Frames are those of that rate. */
export interface RenderPlan {
  rate: number;
  /** Frames of the parent that are read, from `first` on. */
  first: number;
  size: number;
  /** How they are fitted; its length is before + body + after. */
  timeStretch: TimeStretch;
  /** Frames that stand before the stretch: kept around it, its pickup, or what is faded over its end. */
  before: number;
  /** The stretch itself. */
  body: number;
  /** What rings on, or stands behind the stretch. */
  after: number;
  /** Of what stands before, so much is heard in front of the first time. */
  lead: number;
  countIn: number;
  /** The count-in clicks from the beginning up to here, seconds. */
  clicksTo: number;
  /** Frames of the whole result. */
  length: number;
  /** It loops as a whole: nothing stands before the stretch or behind it. */
  turns: boolean;
  /** Tempo, bars and beats of the result; null where the parent has none. */
  grid: Grid | null;
  key: Key | null;
  tuningCents: number | null;
  /** How many whole bars the result has from its bar 1 on; null where it has none. */
  bars: number | null;
  /** Silence that stands for what is missing of the stretch at the end of the file, seconds of the parent. */
  missingSeconds: number;
  /** What the rounding to a whole number of frames changes, ms and per mille of the stretch. */
  rounding: { ms: number; perMille: number };
  /** Where the hits of the first time stand in the result, seconds. */
  hits: readonly number[];
  moved: readonly MovedHit[];
  /** The swing that is kept where hits are drawn to the grid: where the second half of a beat is played. Null where none is kept. */
  keptSwing: number | null;
}

/** A hit so near before the beginning of what loops is the one on its first beat, seconds: hits are not known better. */
const TURN = 0.004;
/** A stretch must be as long as this, seconds. */
const SHORTEST = 0.03;
/** The farthest that any piece of it may be bent. */
const MOST_BENT = 4;
/** So much silence may stand for what is missing at the end, seconds, where that is asked for … */
const MOST_PADDED = 2;
/** … and without being asked: bars are counted though their last beat is a little short, and what turns keeps its length. */
const MOST_FILLED = 0.06;
/** So much of what stands outside is bent like the edge of the stretch, seconds. */
const OUTSIDE = 0.001;

/** What a recipe comes to. `frames` and `rate` are those of the decoded parent. Throws RecipeError. */
export function renderPlanOf(recipe: Recipe, frames: number, rate: number): RenderPlan {
  const { parent, region, time, pitch, times, keepAround, countInBars } = recipe;
  const { grid } = parent;
  const duration = frames / rate;
  if (region && !grid) throw new RecipeError('Without a grid there are no bars that could be cut.');
  if ((time.tempoBpm !== null || time.even !== 'no') && !grid)
    throw new RecipeError('Without a tempo it cannot be brought to another one.');
  const { start, end } = region && grid ? edgesOf(grid, region, duration) : { start: 0, end: duration };
  const beats = time.exactBeats ?? (region ? (region.to - region.from) * time.level : null);

  const whole = wholeMap(recipe);
  const lead =
    region && grid
      ? start - Math.max(0, beatTime(grid, region.from - region.pickupBeats) + region.shiftSeconds)
      : 0;
  const fadeOver = region ? region.crossfadeMs / 1000 : 0;
  const sourceFrom = keepAround
    ? 0
    : Math.max(0, start - Math.max(lead, sourceSpan(whole, start, -fadeOver)));
  const tail = region && region.tail !== 'cut' ? region.tailSeconds : 0;
  // What goes over the end of the file is silence.
  const sourceTo = Math.max(end, keepAround ? duration : Math.min(duration, end + tail));
  if (fadeOver > 0 && toResult(whole, start) - toResult(whole, 0) < fadeOver - 1e-6)
    throw new RecipeError(
      `Nothing stands ${region!.crossfadeMs} ms before the beginning that could be faded in over the end; the file begins there.`,
    );

  const bodySeconds = toResult(whole, end) - toResult(whole, start);
  const bpm = time.tempoBpm ?? (grid ? grid.tempoBpm * time.level : 60);
  const wanted = time.exactBeats !== null && grid ? (60 * time.exactBeats) / bpm : bodySeconds;
  const body = Math.max(1, Math.round(wanted * rate));
  const before = Math.round((toResult(whole, start) - toResult(whole, sourceFrom)) * rate);
  const after = Math.round((toResult(whole, sourceTo) - toResult(whole, end)) * rate);
  const leadFrames = keepAround
    ? before
    : Math.min(before, Math.round((toResult(whole, start) - toResult(whole, start - lead)) * rate));
  if (fadeOver * rate > body / 2) throw new RecipeError('The crossfade is longer than half of the stretch.');

  // The edges of the stretch meet a frame each; between them the map is as it was, to within half a frame.
  const first = Math.round(sourceFrom * rate);
  const size =
    (end > duration ? Math.round(sourceTo * rate) : Math.min(frames, Math.round(sourceTo * rate))) - first;
  const at = (seconds: number) => seconds * rate - first;
  const straight = framesMap(whole, {
    sourceFrom,
    start,
    end,
    sourceTo,
    rate,
    first,
    size,
    before,
    body,
    after,
  });
  const told = resultGrid(recipe, whole, { start, before, body, beats, rate });
  // Nothing but the stretch is read: the voice reads on round its turn.
  const isAlone = region !== null && before + after === 0 && !keepAround;
  const hits = parent.hits.filter((hit) => hit >= sourceFrom - TURN && hit < sourceTo - (isAlone ? TURN : 0));
  const inFrames = hits.map((hit) => Math.max(0, at(hit)));
  const seconds = timeMap(
    straight.source.map((frame) => frame / rate),
    straight.result.map((frame) => frame / rate),
  );
  const drawn = movedHits(
    inFrames.map((frame) => frame / rate),
    seconds,
    told,
    { ...recipe.hits, moves: recipe.hits.moves.map(({ at: hit, ms }) => ({ at: hit - first / rate, ms })) },
  );
  // Notes are moved each by itself: they may meet and cross, and are as long as they are held.
  const isNotes = recipe.write.format === 'midi';
  const extent = { size: size / rate, length: (before + body + after) / rate };
  const moved = isNotes ? drawn : withinReach(drawn, { ...extent, most: MOST_BENT });
  const bent = isNotes ? seconds : bentBy(moved, seconds, extent.size, extent.length);
  if (!isNotes) check(bent, first / rate, pitch.tape);
  const { pull, swing, parts } = recipe.hits;
  const isSwingKept = pull > 0 && swing === null && told !== null;
  const keptSwing = isSwingKept
    ? playedSwing(
        inFrames.map((frame) => frame / rate),
        seconds,
        told,
        parts,
      )
    : null;
  const map = timeMap(
    bent.source.map((one, i) => (i === bent.source.length - 1 ? size : one * rate)),
    bent.result.map((one, i) => (i === bent.result.length - 1 ? before + body + after : one * rate)),
  );

  const counted = countInOf(told, countInBars, told ? told.one - (before - leadFrames) / rate : 0);
  const countIn = Math.round(counted.seconds * rate);
  const length =
    countIn + leadFrames + times * body + (region?.tail === 'rings on' || keepAround ? after : 0);
  if (length / rate > LONGEST_MADE)
    throw new RecipeError(`It would be ${Math.round(length / rate / 60)} minutes long; an hour is the most.`);
  const shift = countIn / rate - (before - leadFrames) / rate;
  const shifted = told && laterBy(told, shift);
  const { semitones, cents } = pitch;
  return {
    ...{ rate, first, size, before, body, after, countIn, length, moved, keptSwing },
    lead: leadFrames,
    turns: recipe.kind === 'loop' && region !== null && length === times * body,
    clicksTo: counted.clicksTo,
    timeStretch: {
      ...{ rate, map, length: before + body + after },
      semitones: semitones + cents / 100,
      attacks: inFrames,
      isLoop: recipe.kind === 'loop' && isAlone,
      holdFormants: pitch.holdFormants,
      tape: pitch.tape,
    },
    grid: shifted,
    key: parent.key && !recipe.clickOnly ? movedKey(parent.key, semitones) : null,
    tuningCents: recipe.clickOnly ? null : tuningAfter(recipe),
    bars: shifted && barsOfResult(recipe, beats, shifted, length / rate),
    missingSeconds: Math.max(0, end - duration),
    rounding: {
      ms: 1000 * (body / rate - bodySeconds),
      perMille: 1000 * (body / rate / bodySeconds - 1),
    },
    hits:
      recipe.clickOnly && told
        ? beatsWithin(laterBy(told, shift), 0, length / rate).map(({ time: beat }) => beat)
        : moved.map(({ to }) => to + shift).filter((hit) => hit >= 0 && hit < length / rate),
  };
}

/** Whole bars of the result from its bar 1 on; null where it is not made of whole bars. What only rings on is none. */
function barsOfResult(
  { parent, region, time, times, keepAround }: Recipe,
  beats: number | null,
  grid: Grid,
  seconds: number,
): number | null {
  const size = feltBeatsPerBar(grid.meter);
  const all = parent.bars === null ? null : parent.bars * time.level;
  if (!region && all !== null && Number.isInteger(all)) return all;
  if (!region || keepAround) return barsUntil(grid, seconds) || null;
  const bars = (times * beats!) / size;
  return Math.abs(bars - Math.round(bars)) < 1e-6 ? Math.round(bars) : null;
}

/** From seconds of the parent to seconds of the result, before any hit is moved and anything is rounded. */
function wholeMap({ parent: { grid }, time }: Recipe): TimeMap {
  const { tempoBpm, level, even } = time;
  if (!grid) return steadyMap(1);
  const bpm = tempoBpm ?? grid.tempoBpm * level;
  if (even === 'no') {
    if (tempoBpm === null) return steadyMap(1);
    return grid.movingBeats ? steadyMap((grid.tempoBpm * level) / bpm) : gridToTempo(grid, bpm, level);
  }
  if (even === 'beat' || !grid.movingBeats) return gridToTempo(grid, bpm, level);
  return anchored(gridToGrid(barsOnly(grid), { ...grid, tempoBpm: bpm, movingBeats: null }, level), 0, 0);
}

/** A moving grid of which only the bar lines count: beats between them stand evenly. */
function barsOnly(grid: Grid): Grid {
  const size = feltBeatsPerBar(grid.meter);
  const beats = grid.movingBeats!;
  // The first bar line at or after the first beat.
  let from = 0;
  while (Math.round(beatPosition(grid, beats[from])) % size !== 0 && from < beats.length - 1) from++;
  const lines = beats.filter((_, i) => i >= from && (i - from) % size === 0);
  if (lines.length < 2) return grid;
  const filled = lines
    .slice(1)
    .flatMap((line, i) =>
      Array.from({ length: size }, (_, beat) => lines[i] + (beat * (line - lines[i])) / size),
    );
  return { ...grid, movingBeats: [...filled, lines[lines.length - 1]] };
}

/** Seconds of a stretch of bars, within the file. Throws RecipeError for nothing, and for what lies outside. */
function edgesOf(grid: Grid, { from, to, shiftSeconds, pad }: Region, duration: number) {
  const [start, end] = [beatTime(grid, from) + shiftSeconds, beatTime(grid, to) + shiftSeconds];
  if (!(end - start >= SHORTEST))
    throw new RecipeError(
      end > start
        ? `The stretch is ${Math.round(1000 * (end - start))} ms long; ${1000 * SHORTEST} ms are the least.`
        : 'Nothing is chosen: the stretch ends where it begins.',
    );
  // Less than a frame over the end is the end.
  const overEnd = end - duration - (pad ? MOST_PADDED : MOST_FILLED);
  if (start < -0.0005 || overEnd > 0.0005)
    throw new RecipeError(
      `The stretch goes over the ${start < 0 ? 'beginning' : 'end'} of the file by ${Math.ceil(1000 * (start < 0 ? -start : overEnd))} ms.`,
    );
  return { start: Math.max(0, start), end: pad || end > duration + 0.0005 ? end : Math.min(duration, end) };
}

/** How many seconds of the parent lie between a place and so many seconds of the result before (or after) it. */
function sourceSpan(map: TimeMap, at: number, seconds: number): number {
  const slope = (toResult(map, at) - toResult(map, at - OUTSIDE)) / OUTSIDE;
  return Math.abs(seconds) / slope;
}

interface Places {
  sourceFrom: number;
  start: number;
  end: number;
  sourceTo: number;
  rate: number;
  first: number;
  size: number;
  before: number;
  body: number;
  after: number;
}

/** The map in frames: from what is read to what is made, its edges on whole frames. */
function framesMap(whole: TimeMap, places: Places): TimeMap {
  const { sourceFrom, start, end, sourceTo, rate, first, size, before, body, after } = places;
  const source: number[] = [];
  const result: number[] = [];
  // Edges stand on whole frames of both sides: what is not bent is then copied, to the bit.
  const edge = (seconds: number) => Math.max(0, Math.min(size, Math.round(seconds * rate) - first));
  const piece = (from: number, to: number, at: number, length: number) => {
    if (edge(to) - edge(from) < 1 || length === 0) return;
    const inside = cut(whole, from, to);
    const last = inside.source.length - 1;
    const read = (edge(to) - edge(from)) / inside.source[last];
    const made = length / inside.result[last];
    inside.source.forEach((seconds, i) => {
      if (i === 0 && source.length) return;
      source.push(i === last ? edge(to) : edge(from) + seconds * read);
      result.push(i === last ? at + length : at + inside.result[i] * made);
    });
  };
  piece(sourceFrom, start, 0, before);
  piece(start, end, before, body);
  piece(end, sourceTo, before + body, after);
  return withoutIdle(timeMap(source, result));
}

/** The same map without the knots that lie on the line between their neighbours. */
function withoutIdle({ source, result }: TimeMap): TimeMap {
  const kept = [0];
  for (let i = 1; i < source.length - 1; i++) {
    const from = kept[kept.length - 1];
    const share = (source[i] - source[from]) / (source[i + 1] - source[from]);
    const line = result[from] + share * (result[i + 1] - result[from]);
    if (Math.abs(result[i] - line) > 1e-6) kept.push(i);
  }
  kept.push(source.length - 1);
  return timeMap(
    kept.map((i) => source[i]),
    kept.map((i) => result[i]),
  );
}

/** The grid of what is made, its first time around; bar 1 stands where the stretch begins, or where the parent's one does. */
function resultGrid(
  recipe: Recipe,
  whole: TimeMap,
  {
    start,
    before,
    body,
    beats,
    rate,
  }: { start: number; before: number; body: number; beats: number | null; rate: number },
): Grid | null {
  const { parent, time, region } = recipe;
  const { grid } = parent;
  if (!grid || recipe.kind === 'oneshot') return null;
  const zero = before / rate - toResult(whole, start);
  const movesOn = grid.movingBeats !== null && time.even === 'no';
  const one = region ? before / rate - region.shiftSeconds : toResult(whole, grid.one) + zero;
  if (movesOn) {
    const movingBeats = grid.movingBeats!.map((beat) => toResult(whole, beat) + zero);
    return { ...grid, one, tempoBpm: time.tempoBpm ?? grid.tempoBpm, movingBeats };
  }
  // The exact tempo of what turns is what its frames say.
  const exact = beats !== null ? (60 * beats * rate) / body : null;
  const tempoBpm = exact ?? time.tempoBpm ?? grid.tempoBpm * time.level;
  return { ...grid, tempoBpm, one, movingBeats: null };
}

function check({ source, result }: TimeMap, from: number, isTape: boolean) {
  for (let i = 1; i < source.length; i++) {
    const span = source[i] - source[i - 1];
    const ratio = (result[i] - result[i - 1]) / span;
    // What is shorter than a few ms is the edge of a rounding, not a stretch.
    if (span < 0.004 || (ratio <= MOST_BENT * 1.001 && ratio >= 0.999 / MOST_BENT)) continue;
    throw new RecipeError(
      `At ${(from + source[i - 1]).toFixed(2)} s it would have to be ${ratio > 1 ? `${ratio.toFixed(1)} times as long` : `${(1 / ratio).toFixed(1)} times as short`}; four times is the most${isTape ? '' : ' that sounds of anything'}.`,
    );
  }
}

/**
 * How long the count-in is, and up to where it clicks, seconds: up to the one, or to a bar line where much stands before it. A pickup
 * hangs before its bar, so that it sounds into the last of the counted ones.
 */
function countInOf(grid: Grid | null, bars: number, one: number): { seconds: number; clicksTo: number } {
  if (bars === 0) return { seconds: 0, clicksTo: 0 };
  if (!grid) throw new RecipeError('Without a tempo there is nothing to count in.');
  const bar = feltBeatsPerBar(grid.meter) * firstBeat(grid);
  const hung = one <= bar + 1e-6 ? Math.max(0, one) : one % bar;
  const clicksTo = bars * bar;
  return { seconds: Math.max(0, clicksTo - hung), clicksTo };
}

/** More repeats than these are none that anybody hears out. */
const MOST_TIMES = 4096;

/**
 * How often a stretch is repeated so that the whole file, with its count-in and all that is kept around the stretch, is as near as can be
 * to so many seconds. `times`: how often `plan` repeats it.
 */
export function timesForLength({ length, body, rate }: RenderPlan, times: number, seconds: number): number {
  const around = length - times * body;
  return Math.max(1, Math.min(MOST_TIMES, Math.round((seconds * rate - around) / body)));
}

/** How long the first beat is, seconds. */
export const firstBeat = (grid: Grid): number =>
  grid.movingBeats ? beatTime(grid, 1) - beatTime(grid, 0) : 60 / grid.tempoBpm;

/** What is left of the parent's tuning, cents. */
function tuningAfter({ parent, pitch }: Recipe): number | null {
  if (parent.tuningCents === null) return null;
  const cents = parent.tuningCents + pitch.cents + 100 * (pitch.semitones - Math.round(pitch.semitones));
  return cents - 100 * Math.round(cents / 100);
}
