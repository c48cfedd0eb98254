import { median } from '../math/median';
import { beatPosition, beatTime, beatsWithin, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import { measureSwing } from '../rhythm/swing';
import { toResult, type TimeMap } from '../fit/timeMap';
import type { Feel, HitMoves } from './recipe';

/** A hit, where the map puts it by itself, and where it is to stand; seconds. */
export interface MovedHit {
  at: number;
  /** In the result, unmoved. */
  from: number;
  to: number;
}

/** A hit is one that somebody pointed at if it lies no farther away, seconds. */
const POINTED = 0.004;

/** Where in a beat the place `part` of `parts` stands when its second half stands at `swing`. */
export function swungPlace(part: number, parts: number, swing: number): number {
  const place = part / parts;
  // Both halves are filled evenly: what is between stretches with its half.
  return place <= 0.5 ? place * 2 * swing : swing + (place - 0.5) * 2 * (1 - swing);
}

/**
 * Which hits are moved, and where to. `grid` is the result's; `map` goes there from the parent. First all are drawn to their places by
 * the share (those within the window), with a swing of their own or the one that is set; then the feel of another sample is laid on
 * them; what somebody moved by hand comes last and counts alone for its hit.
 */
export function movedHits(
  hits: readonly number[],
  map: TimeMap,
  grid: Grid | null,
  { moves, pull, parts, windowMs, swing, feel, feelShare }: HitMoves,
): MovedHit[] {
  const played = grid && pull > 0 ? playedSwing(hits, map, grid, parts) : 0.5;
  return hits.map((at) => {
    const from = toResult(map, at);
    const byHand = moves.find((move) => Math.abs(move.at - at) <= POINTED);
    if (byHand) return { at, from, to: from + byHand.ms / 1000 };
    if (!grid) return { at, from, to: from };
    let to = from;
    if (pull > 0) {
      // Which place a hit means is told by how the piece swings; where that place is, by how it is to swing.
      const { whole, part } = nearestPlace(grid, from, parts, played);
      const meant = beatTime(grid, whole + swungPlace(part, parts, played));
      const place = beatTime(grid, whole + swungPlace(part, parts, swing ?? played));
      if (Math.abs(meant - from) <= windowMs / 1000) to = from + pull * (place - from);
    }
    if (feel && feelShare > 0) {
      const late = lateAt(feel, grid, from);
      if (late !== null) to += feelShare * (late.place + late.ms / 1000 - to);
    }
    return { at, from, to };
  });
}

/** The nearest place of a grid whose beats have so many parts: the beat, and the part of it. */
function nearestPlace(
  grid: Grid,
  time: number,
  parts: number,
  swing: number,
): { whole: number; part: number } {
  const beat = beatPosition(grid, time);
  const first = Math.floor(beat);
  let best = { whole: first, part: 0 };
  let least = Infinity;
  for (let whole = first; whole <= first + 1; whole++)
    for (let part = 0; part < (whole === first ? parts : 1); part++) {
      const away = Math.abs(whole + swungPlace(part, parts, swing) - beat);
      if (away < least) [best, least] = [{ whole, part }, away];
    }
  return best;
}

/** Where the second half of a beat is played; straight where too few hits tell. */
function playedSwing(hits: readonly number[], map: TimeMap, grid: Grid, parts: number): number {
  if (![2, 4].includes(parts) || hits.length === 0) return 0.5;
  const onsets = hits.map((at) => ({ time: toResult(map, at), strength: 1 }));
  const last = onsets[onsets.length - 1].time + 60 / grid.tempoBpm;
  const beats = beatsWithin(grid, onsets[0].time - 60 / grid.tempoBpm, last).map(({ time }) => time);
  return Math.max(0.5, measureSwing(onsets, beats) ?? 0.5);
}

/**
 * The feel of a sample: how late its hits are at each of `parts` places of every beat of the bar, ms, as the median over all bars.
 * A hit counts for the place that is nearest; places with fewer than two hits have none. `of` names the sample.
 */
export function feelOf(hits: readonly number[], grid: Grid, parts: number, of: string): Feel {
  const size = feltBeatsPerBar(grid.meter);
  const found: number[][] = Array.from({ length: size * parts }, () => []);
  for (const time of hits) {
    const { place, index } = straightPlace(grid, time, parts);
    found[index].push(1000 * (time - place));
  }
  return { of, parts, lateMs: found.map((late) => (late.length >= 2 ? median(late) : null)) };
}

/** The straight place of the bar that a time is nearest to. */
function straightPlace(grid: Grid, time: number, parts: number): { place: number; index: number } {
  const size = feltBeatsPerBar(grid.meter);
  const count = Math.round(beatPosition(grid, time) * parts);
  const around = size * parts;
  return { place: beatTime(grid, count / parts), index: ((count % around) + around) % around };
}

/** What a feel says of a hit: its straight place, and how late it is there. Bars of another length go by the beat. */
function lateAt({ parts, lateMs }: Feel, grid: Grid, time: number): { place: number; ms: number } | null {
  const { place, index } = straightPlace(grid, time, parts);
  const ms = lateMs[index % lateMs.length] ?? null;
  return ms === null ? null : { place, ms };
}
