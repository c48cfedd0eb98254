import { median } from '../math/median';
import { beatPosition, beatTime, beatsWithin, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import { measureSwing, swungPlace } from '../rhythm/swing';
import { toResult, type TimeMap } from '../timeStretch/timeMap';
import type { Feel, HitMoves } from './recipe';

/** A hit, where the map puts it by itself, and where it is to stand; seconds. */
export interface MovedHit {
  at: number;
  /** In the result, unmoved. */
  from: number;
  to: number;
  /** The place in the beat that it is drawn to; null where it is drawn to none, or lies outside of the window. */
  place: number | null;
  /** Somebody moved it by itself. */
  isByHand: boolean;
}

/** A hit is one that somebody pointed at if it lies no farther away, seconds. */
const POINTED = 0.004;

/**
 * Which hits are moved, and where to. `grid` is the result's; `map` goes there from the parent. First all are drawn to their places by
 * the share (those within the window), with a swing of their own or the one that is set; then the groove of another sample is laid on
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
    if (byHand) return { at, from, to: from + byHand.ms / 1000, place: null, isByHand: true };
    if (!grid) return { at, from, to: from, place: null, isByHand: false };
    let to = from;
    let drawnTo: number | null = null;
    if (pull > 0) {
      // Which place a hit means is told by how the piece swings; where that place is, by how it is to swing.
      const { whole, part } = nearestPlace(grid, from, parts, played);
      const meant = beatTime(grid, whole + swungPlace(part, parts, played));
      const place = beatTime(grid, whole + swungPlace(part, parts, swing ?? played));
      if (Math.abs(meant - from) <= windowMs / 1000) {
        to = from + pull * (place - from);
        drawnTo = place;
      }
    }
    if (feel && feelShare > 0) {
      const late = lateAt(feel, grid, from);
      if (late !== null) to += feelShare * (late.place + late.ms / 1000 - to);
    }
    return { at, from, to, place: drawnTo, isByHand: false };
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

/**
 * Hits that are drawn, as far as what is between them can be bent `most` times: a hit that stands late behind the beginning cannot be
 * drawn quite onto it. What somebody moved by itself stays where it was put. Hits rise; `size` and `length`: of the source and the
 * result, seconds.
 */
export function withinReach(
  hits: readonly MovedHit[],
  { size, length, most }: { size: number; length: number; most: number },
): MovedHit[] {
  const placed = hits.map((hit) => ({ ...hit }));
  const isFixed = ({ from, to, isByHand }: MovedHit) => isByHand || Math.abs(to - from) < 1e-9;
  let before = { at: 0, to: 0 };
  for (const hit of placed) {
    const span = hit.at - before.at;
    if (!isFixed(hit) && span > 0)
      hit.to = Math.max(before.to + span / most, Math.min(before.to + span * most, hit.to));
    before = hit;
  }
  let behind = { at: size, to: length };
  for (const hit of placed.toReversed()) {
    const span = behind.at - hit.at;
    if (!isFixed(hit) && span > 0)
      hit.to = Math.max(behind.to - span * most, Math.min(behind.to - span / most, hit.to));
    behind = hit;
  }
  return placed;
}

/** What drawing hits to the grid comes to. */
export interface DrawnHits {
  /** So many stand elsewhere than before, of so many. */
  moved: number;
  of: number;
  /** So many lie farther from any place than the window, and stay. */
  outside: number;
  /** How far they are from their places, in the middle and at most, ms: as they are played, and drawn. */
  before: { usualMs: number; mostMs: number };
  after: { usualMs: number; mostMs: number };
}

/** How many hits are drawn to their places, and how near they come; null where none has a place. */
export function drawnHits(hits: readonly MovedHit[]): DrawnHits | null {
  const placed = hits.filter(({ place }) => place !== null);
  if (placed.length === 0) return null;
  const away = (of: (hit: MovedHit) => number) => {
    const ms = placed.map((hit) => 1000 * Math.abs(of(hit) - hit.place!));
    return { usualMs: median(ms), mostMs: Math.max(...ms) };
  };
  return {
    moved: hits.filter(({ from, to }) => Math.abs(to - from) > 5e-5).length,
    of: hits.length,
    outside: hits.length - placed.length,
    before: away(({ from }) => from),
    after: away(({ to }) => to),
  };
}

/** Where the second half of a beat is played; straight where too few hits tell. */
export function playedSwing(hits: readonly number[], map: TimeMap, grid: Grid, parts: number): number {
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
