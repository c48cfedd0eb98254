import { medianSlope } from '../math/lines';
import { median } from '../math/median';
import { beatsWithin, feltBeatsPerBar, type Grid } from './grid';
import type { Onset } from './onsets';

/** A hit beside its grid line: positive when the hit comes after the line. */
export interface Deviation {
  time: number;
  beat: number;
  deviationMs: number;
  strength: number;
}

/** What the deviations say about the grid; null figures mean too few hits to tell. */
export interface DriftFigures {
  hits: number;
  medianMs: number | null;
  /** Median distance from the median: how tight the playing is. */
  spreadMs: number | null;
  /** Slope of the robust line, ms per bar: positive when the hits fall behind the click. */
  slopeMsPerBar: number | null;
  /** The tempo that would make the line level, minus the grid's. */
  tempoErrorBpm: number | null;
  /** After how many bars the click would be 20 ms off by the slope alone; null when never (over 9999). */
  barsUntil20Ms: number | null;
  /** How far the hits wander around the line in the course of the file: a bend, not a slope. */
  wanderMs: number | null;
  /** How tight the playing is within an eighth of the file, where a wandering tempo does not count. */
  tightMs: number | null;
  /** Single hits far from the others' line. */
  strays: number;
}

/** A place along the file where the grid is compared with the hits. */
export interface ProofPlace {
  label: string;
  from: number;
  to: number;
  hits: number;
  medianMs: number | null;
  spreadMs: number | null;
}

/** Hits further away than this, or than a fifth of a beat, belong to something else. */
const REACH_SECONDS = 0.06;
const REACH_BEATS = 0.2;

/** For each beat of the grid the strongest hit near it, if there is one. Rising in time. */
export function deviations(onsets: readonly Onset[], grid: Grid, durationSeconds: number): Deviation[] {
  const found: Deviation[] = [];
  const reach = Math.min(REACH_SECONDS, (REACH_BEATS * 60) / grid.tempoBpm);
  let i = 0;
  for (const { time, beat } of beatsWithin(grid, 0, durationSeconds)) {
    while (i < onsets.length && onsets[i].time < time - reach) i++;
    let best: Onset | null = null;
    for (let j = i; j < onsets.length && onsets[j].time <= time + reach; j++) {
      if (!best || onsets[j].strength > best.strength) best = onsets[j];
    }
    if (best)
      found.push({ time: best.time, beat, deviationMs: 1000 * (best.time - time), strength: best.strength });
  }
  return found;
}

/** Figures of a set of deviations. The line is the median of pairwise slopes (Theil 1950, Sen 1968). */
export function driftFigures(found: readonly Deviation[], grid: Grid): DriftFigures {
  if (found.length < 3) {
    return {
      hits: found.length,
      medianMs: null,
      spreadMs: null,
      slopeMsPerBar: null,
      tempoErrorBpm: null,
      barsUntil20Ms: null,
      wanderMs: null,
      tightMs: null,
      strays: 0,
    };
  }
  const values = found.map((d) => d.deviationMs);
  const medianMs = median(values);
  const spreadMs = median(values.map((v) => Math.abs(v - medianMs)));
  const slopePerBeat = theilSenSlope(found);
  const slopeMsPerBar = slopePerBeat * feltBeatsPerBar(grid.meter);
  const period = 60 / grid.tempoBpm;
  const tempoErrorBpm = 60 / (period + slopePerBeat / 1000) - grid.tempoBpm;
  const bars = 20 / Math.abs(slopeMsPerBar);
  return {
    hits: found.length,
    medianMs,
    spreadMs,
    slopeMsPerBar,
    tempoErrorBpm,
    barsUntil20Ms: bars > 9999 ? null : bars,
    ...aroundTheLine(found, slopePerBeat),
  };
}

/** Parts of the file whose medians are compared. */
const WANDER_PARTS = 8;
const STRAY_MS = 15;

function aroundTheLine(found: readonly Deviation[], slopePerBeat: number) {
  const middle = median(found.map(({ beat, deviationMs }) => deviationMs - slopePerBeat * beat));
  const rests = found.map(({ beat, deviationMs }) => deviationMs - slopePerBeat * beat - middle);
  const spread = median(rests.map(Math.abs));
  const parts = Math.min(WANDER_PARTS, Math.floor(found.length / 5));
  let wanderMs: number | null = null;
  let tightMs: number | null = null;
  if (parts >= 3) {
    const sections = Array.from({ length: parts }, (_, k) =>
      rests.slice((k * rests.length) / parts, ((k + 1) * rests.length) / parts),
    );
    const medians = sections.map((section) => median(section));
    wanderMs = Math.max(...medians) - Math.min(...medians);
    tightMs = median(sections.map((section, k) => median(section.map((r) => Math.abs(r - medians[k])))));
  }
  return {
    wanderMs,
    tightMs,
    strays: rests.filter((r) => Math.abs(r) > Math.max(STRAY_MS, 5 * spread)).length,
  };
}

/** What is wrong with a grid, if anything: its tempo, its place, a player who moves, loose playing, or it cannot be told. */
export type GridFault = 'fits' | 'tempo' | 'place' | 'moving' | 'loose' | 'unknown';

/** Hits this far off are heard beside a click. */
const HEARD_MS = 12;
/** Softer ones are not allowed more, or a grid that is beside would fit whatever comes up slowly. */
const MOST_ALLOWED_MS = 20;

/** From where on hits are heard beside a click, ms; later where they take `attackMs` to come up: they are not heard more exactly. */
export const heardBesideMs = (attackMs: number): number => HEARD_MS + Math.min(attackMs, MOST_ALLOWED_MS);
const LOOSE_MS = 18;

/**
 * Judges a grid by its figures: a slope that adds up to something audible within the file is an error of
 * the tempo, a median that stays is an error of the one's place, a wide spread a loose or moving player. `attackMs`: how
 * long the hits take to come up.
 */
export function judgeGrid(figures: DriftFigures, bars: number, attackMs = 0): GridFault {
  const { hits, medianMs, spreadMs, slopeMsPerBar, wanderMs, tightMs } = figures;
  if (hits < 4 || medianMs === null || spreadMs === null || slopeMsPerBar === null) return 'unknown';
  const creep = slopeMsPerBar * Math.max(1, bars);
  if (Math.abs(creep) > Math.max(HEARD_MS, 2 * spreadMs)) return 'tempo';
  if (wanderMs !== null && tightMs !== null && wanderMs > Math.max(2 * HEARD_MS, 3 * tightMs))
    return 'moving';
  if (Math.abs(medianMs) > heardBesideMs(attackMs)) return 'place';
  return spreadMs > LOOSE_MS ? 'loose' : 'fits';
}

/** A file is listened to at one more place for each so many seconds, and at two more when its grid moves. */
const SECONDS_PER_PLACE = 90;
const MOST_PLACES = 9;

/**
 * What a proof listens to: the beginning, the middle and the end (each two to four bars), and places between
 * them in long files and on moving grids; with their figures. Places lie where there are hits: an intro without
 * a beat is passed over.
 */
export function proofPlaces(onsets: readonly Onset[], grid: Grid, durationSeconds: number): ProofPlace[] {
  const found = deviations(onsets, grid, durationSeconds);
  const bar = (60 / grid.tempoBpm) * feltBeatsPerBar(grid.meter);
  const first = found.length ? found[0].time : grid.one;
  const last = found.length ? found[found.length - 1].time : durationSeconds;
  const span = Math.max(bar, last - first + 0.5 * bar);
  const length = Math.min(span, Math.max(2 * bar, Math.min(4 * bar, span / 3)));
  const more = Math.floor(span / SECONDS_PER_PLACE) + (grid.movingBeats && span > 8 * bar ? 2 : 0);
  const count = Math.min(MOST_PLACES, 3 + more);
  return Array.from({ length: count }, (_, k) => {
    const start = first + ((span - length) * k) / (count - 1);
    const from = Math.max(0, start - 0.05);
    const to = Math.min(durationSeconds, start + length);
    const here = found.filter((d) => d.time >= from && d.time < to).map((d) => d.deviationMs);
    const medianMs = here.length ? median(here) : null;
    return {
      label: placeLabel(k, count),
      from,
      to,
      hits: here.length,
      medianMs,
      spreadMs: medianMs === null ? null : median(here.map((v) => Math.abs(v - medianMs))),
    };
  });
}

function placeLabel(k: number, count: number): string {
  if (k === 0) return 'beginning';
  if (k === count - 1) return 'end';
  return 2 * k === count - 1 ? 'middle' : `place ${k + 1}`;
}

/** Pairs further apart than a quarter of the whole are enough: near ones carry mostly noise. */
function theilSenSlope(found: readonly Deviation[]): number {
  const beats = found.map(({ beat }) => beat);
  const stride = Math.max(1, Math.ceil(found.length / 400));
  const apart = Math.max(1, (beats[beats.length - 1] - beats[0]) / 4);
  return (
    medianSlope(
      beats,
      found.map(({ deviationMs }) => deviationMs),
      apart,
      stride,
    ) ?? 0
  );
}
