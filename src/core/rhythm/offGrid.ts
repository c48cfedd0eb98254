import { median } from '../math/median';
import { beatPosition, beatTime, beatsWithin, type Grid } from './grid';
import { measureSwing, swungPlace } from './swing';

/** A hit that stands away from its place in the grid. */
export interface OffGrid {
  /** Where it stands, seconds. */
  time: number;
  /** By how much it is late, ms; negative where it is early. */
  ms: number;
}

/** Equal parts of a beat that hits may mean. */
const PARTS = 4;
/** Nearer than this a hit is on the grid, ms; below it nobody hears it. */
const LEAST_MS = 12;
/** Beside the others it is off when it stands so many times farther away than they usually do. */
const TIMES_USUAL = 4;
/** More than these are not told: where so many are off, the grid is. */
const MOST = 60;

/**
 * Hits that stand off the grid, beside how exactly the others are played: the worst first. Places are the quarters of a
 * beat, with the second half where the piece itself swings it; that all hits come late together (by their median) counts
 * as the grid's matter. `times`: seconds, rising.
 */
export function hitsOffGrid(times: readonly number[], grid: Grid): OffGrid[] {
  if (times.length === 0) return [];
  const beat = 60 / grid.tempoBpm;
  const beats = beatsWithin(grid, times[0] - beat, times[times.length - 1] + beat).map(({ time }) => time);
  const onsets = times.map((time) => ({ time, strength: 1 }));
  const swing = Math.max(0.5, measureSwing(onsets, beats) ?? 0.5);
  const places = Array.from({ length: PARTS + 1 }, (_, part) => swungPlace(part, PARTS, swing));
  const all = times.map((time): OffGrid => {
    const at = beatPosition(grid, time);
    const whole = Math.floor(at);
    const nearest = places.reduce((best, place) =>
      Math.abs(at - whole - place) < Math.abs(at - whole - best) ? place : best,
    );
    return { time, ms: 1000 * (time - beatTime(grid, whole + nearest)) };
  });
  const usual = median(all.map(({ ms }) => ms));
  const spread = median(all.map(({ ms }) => Math.abs(ms - usual)));
  const least = Math.max(LEAST_MS, TIMES_USUAL * spread);
  return all
    .filter(({ ms }) => Math.abs(ms - usual) > least)
    .sort((a, b) => Math.abs(b.ms - usual) - Math.abs(a.ms - usual))
    .slice(0, MOST);
}
