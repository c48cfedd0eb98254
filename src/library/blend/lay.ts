import { planAlong, type Plan, type Settled } from '@/core/timeStretch/plan';
import { keyWays, proposalFor, tempoWays, wholeLevels, type Fittable } from '@/core/timeStretch/proposal';
import { strainOf, strainWord } from '@/core/timeStretch/strain';
import { gridToGrid, steadyMap, timeMap, toResult, type TimeMap } from '@/core/timeStretch/timeMap';
import { loopBounds } from '@/core/rhythm/loop';
import { barsUntil, beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { Blend, Lane } from '@/contract/blend';
import type { Bend, LaneFacts, LaneScore, Part } from './parts';

/** Far below a frame. */
const EPSILON = 1e-7;
/** The farthest that time is bent. */
const MOST_BENT = 4;
/** A lane is heard no more often than this where each time is bent differently. */
const MOST_PARTS = 1024;
/** The length of a frame, seconds. */
const A_FRAME = 2.5e-5;

/** What is read of a lane's sample, and which beat of it stands where the lane is put. */
interface Stretch {
  from: number;
  to: number;
  loops: boolean;
  /** The moment that stands at the lane's place, seconds of the sample. */
  anchor: number;
  /** The same in beats of its grid; null without one. */
  anchorBeat: number | null;
  /** How many of its own beats it is long; null without a grid. */
  beats: number | null;
}

function stretchOf({ used, times }: Lane, { settled }: LaneFacts): Stretch | null {
  const { grid, loop, durationSeconds, kind } = settled;
  if (grid && used) {
    const size = feltBeatsPerBar(grid.meter);
    const first = (used.from - 1) * size;
    const from = Math.max(0, beatTime(grid, first));
    const to = Math.min(durationSeconds, beatTime(grid, first + used.bars * size));
    if (to - from < 0.03) return null;
    // What lacks at the file's end is silence, so that the next time comes when it is due.
    const beats = used.bars * size;
    return { from, to, loops: times !== 1, anchor: beatTime(grid, first), anchorBeat: first, beats };
  }
  const bounds = grid && kind === 'loop' ? loopBounds(grid, loop, durationSeconds) : null;
  if (grid && bounds) {
    const { bar, bars } = loop ?? { bar: 1, bars: barsUntil(grid, durationSeconds) };
    const size = feltBeatsPerBar(grid.meter);
    const anchorBeat = (bar - 1) * size;
    // It is so many bars, however exactly its file ends; where it turns beside the bar line the line keeps its place.
    return {
      ...{ from: bounds.start, to: bounds.end, loops: true },
      ...{ anchor: beatTime(grid, anchorBeat), anchorBeat, beats: bars * size },
    };
  }
  const all = { from: 0, to: durationSeconds, loops: false };
  if (!grid || kind === 'oneshot') return { ...all, anchor: 0, anchorBeat: null, beats: null };
  return {
    ...{ ...all, anchor: grid.one, anchorBeat: 0 },
    beats: beatPosition(grid, durationSeconds) - beatPosition(grid, 0),
  };
}

/** What is longer than this is said to want memory. */
const LONG_SECONDS = 20 * 60;
/** Of a second of two channels at the usual rate. */
const BYTES_A_SECOND = 2 * 4 * 44_100;

const longWords = (seconds: number) =>
  `${Math.round(seconds / 60)} minutes long: playing it here needs about ${((seconds * BYTES_A_SECOND) / 1e9).toFixed(1)} GB of memory`;

/** A lane on the ruler, before it is known how long the blend is. */
export interface Arranged extends Pick<
  LaneScore,
  'lane' | 'bend' | 'every' | 'durationSeconds' | 'attackMs' | 'remarks' | 'fault'
> {
  /** Beat at which it ends when it is heard so often. */
  end: (times: number) => number;
  /** Its parts within a blend of so many seconds. `isEndSet`: nothing is heard after that, not even what is heard once. */
  put: (seconds: number, isEndSet: boolean) => Part[];
}

/**
 * Lays a lane on the ruler. `facts`: null where its sample is not known; `tuning`: that of the lead, cents.
 */
export function arrange(
  lane: Lane,
  blend: Blend,
  grid: Grid,
  facts: LaneFacts | null,
  tuning: number,
): Arranged {
  const silent = (fault: string): Arranged => ({
    ...{ lane, bend: AS_IT_IS, every: null, remarks: [], fault },
    durationSeconds: facts?.settled.durationSeconds ?? null,
    attackMs: facts?.settled.attackMs ?? 0,
    end: () => 0,
    put: () => [],
  });
  if (!facts) return silent('It is not measured yet, or no longer in the library.');
  const { settled, fittable } = facts;
  const stretch = stretchOf(lane, facts);
  if (!stretch) return silent(`Bars ${lane.used?.from} and later are outside the sample.`);
  const { from, to, loops, anchor, anchorBeat, beats } = stretch;
  const size = feltBeatsPerBar(grid.meter);
  const remarks: string[] = [];
  if (settled.durationSeconds > LONG_SECONDS) remarks.push(longWords(settled.durationSeconds));

  const byBeats = lane.held === 'bars' && settled.grid !== null && anchorBeat !== null && beats !== null;
  let level: number | null = null;
  if (lane.held === 'bars' && lane.fit.to !== 'nothing') {
    if (lane.fit.to === 'bars') level = byBeats ? (lane.fit.bars * size) / beats : null;
    else if (!byBeats)
      remarks.push(
        settled.kind === 'oneshot' ? 'one-shots are not stretched' : 'no tempo; plays at its original speed',
      );
    else level = lane.fit.level ?? bestLevel(settled.grid!.tempoBpm, grid.tempoBpm);
    if (lane.fit.to === 'tempo' && byBeats && level === null)
      remarks.push('its tempo differs by more than a factor of four');
  }
  const exactSeconds =
    lane.fit.to === 'bars' && lane.held === 'bars' && !byBeats
      ? beatTime(grid, lane.at + lane.fit.bars * size) - beatTime(grid, lane.at)
      : null;

  const pitch = pitchOf(lane, blend, fittable, tuning, remarks);
  let ratio = exactSeconds !== null ? exactSeconds / (to - from) : 1;
  if (level !== null) {
    const time = (beat: number) => beatTime(grid, beat);
    ratio =
      (time(lane.at + beats! * level) - time(lane.at)) /
      (beatTime(settled.grid!, anchorBeat! + beats!) - anchor);
  }
  if (!(ratio <= MOST_BENT * 1.001 && ratio >= 0.999 / MOST_BENT))
    return silent(
      `It would need to be ${ratio > 1 ? `${ratio.toFixed(1)} times as long` : `${(1 / ratio).toFixed(1)} times as short`}; the limit is a factor of four.`,
    );
  if (lane.isTape && level === null && exactSeconds === null && pitch.semitones !== 0)
    ratio = 2 ** (-pitch.semitones / 12);
  const semitones = lane.isTape ? (ratio === 1 ? 0 : -12 * Math.log2(ratio)) : pitch.semitones;
  const cents = lane.isTape ? 0 : pitch.cents;
  const strain = strainOf({ ratio, semitones: semitones + cents / 100 }, lane.isTape);
  const bend: Bend = {
    ...{ level, ratio, semitones, cents, strain, word: strainWord(strain) },
    ...{ becomes: pitch.becomes, otherWay: pitch.otherWay },
    cleaner: lane.isTape ? null : cleanerOf({ lane, blend, grid, facts, beats, semitones, cents, strain }),
  };
  const bending = {
    semitones: semitones + cents / 100,
    ...{ isTape: lane.isTape, holdFormants: settled.isVoice && Math.round(semitones) !== 0 && !lane.isTape },
  };
  const nudge = lane.nudgeMs / 1000;

  /** How many beats of the blend it is from one time to the next. */
  const long = level !== null ? beats! * level : null;
  const straight: TimeMap = exactSeconds !== null ? timeMap([from, to], [0, exactSeconds]) : steadyMap(ratio);
  const begin = (beat: number) => (lane.held === 'time' ? lane.atSeconds : beatTime(grid, beat));
  /** Its plan when it begins at a beat, and when that sounds. */
  const at = (beat: number): { plan: Plan; start: number } => {
    const map =
      level !== null ? gridToGrid(settled.grid!, grid, level, beat - anchorBeat! * level) : straight;
    const plan = planAlong(settled, { from, to, loops }, { ...bending, map });
    const start =
      level !== null ? toResult(map, from) : begin(beat) - (toResult(map, anchor) - toResult(map, from));
    return { plan, start: start + nudge };
  };
  const first = at(lane.at);
  const isSteady = grid.movingBeats === null || level === null;
  const every =
    long ??
    (lane.held === 'time' || loops
      ? null
      : // What has no beats of its own comes again on a bar.
        Math.ceil(beatPosition(grid, first.plan.seconds) / size - 1e-6) * size);
  const turnSeconds = first.plan.seconds;
  const endOfOne = (start: number) => beatPosition(grid, start + turnSeconds);
  const end = (times: number) => {
    if (every === null) return beatPosition(grid, first.start + times * turnSeconds);
    // What rings on after the last beat is not cut.
    if (loops) return lane.at + times * every;
    return Math.max(lane.at, lane.at + (times - 1) * every + (endOfOne(first.start) - lane.at));
  };
  /** From one time to the next, seconds, where that is always the same. */
  const turn =
    every !== null && isSteady ? beatTime(grid, lane.at + every) - beatTime(grid, lane.at) : turnSeconds;
  /** It is to a frame as long as the ruler wants it, and can loop by itself. */
  const turnsItself = loops && isSteady && Math.abs(turn - turnSeconds) < A_FRAME;
  const put = (total: number, isEndSet: boolean): Part[] => {
    const isOver = (start: number) => start >= total - EPSILON;
    if (turnsItself) {
      const asked = lane.times === null ? Infinity : first.start + lane.times * turn;
      const wanted = isEndSet ? Math.min(asked, total) : asked;
      const until = Math.min(wanted, Math.max(total, first.start));
      if (isOver(first.start)) return [];
      const isCut = until < asked - EPSILON && !isNear((until - first.start) / turn);
      return [{ ...first, until, turn, isLooping: true, isCut }];
    }
    const parts: Part[] = [];
    const most = Math.min(lane.times ?? MOST_PARTS, MOST_PARTS);
    for (let time = 0; time < most; time++) {
      // On a steady ruler each time is the same, later: what is fitted once serves for all.
      const one =
        every === null || isSteady
          ? { ...first, start: first.start + time * turn }
          : at(lane.at + time * every);
      if (isOver(one.start) && (time > 0 || isEndSet)) break;
      const ends = one.start + one.plan.seconds;
      const next = loops && isSteady ? Math.min(ends, one.start + turn) : ends;
      const isOpen = lane.times === null && next > total + EPSILON;
      const until = isOpen || (isEndSet && next > total) ? total : next;
      parts.push({
        ...{ ...one, until, turn, isLooping: false },
        isCut: until < ends - EPSILON || isCutShort(stretch, settled),
      });
    }
    return parts;
  };
  const { durationSeconds, attackMs = 0 } = settled;
  return { lane, bend, every, remarks, fault: null, durationSeconds, attackMs, end, put };
}

const AS_IT_IS: Bend = {
  ...{ level: null, ratio: 1, semitones: 0, cents: 0, becomes: null, otherWay: null },
  ...{ strain: 0, word: 'none', cleaner: null },
};

const isNear = (value: number) => Math.abs(value - Math.round(value)) < 1e-6;

/** Whether the file goes on behind the stretch. */
const isCutShort = ({ to, loops }: Stretch, { durationSeconds }: Settled) =>
  !loops && to < durationSeconds - 0.001;

/** The level that strains least. */
function bestLevel(from: number, to: number): number | null {
  return tempoWays(from, to)[0]?.level ?? null;
}

function pitchOf(lane: Lane, { key, lead }: Blend, fittable: Fittable, tuning: number, remarks: string[]) {
  const way = proposalFor(fittable, { tempoBpm: null, key, isTape: false });
  if (lane.semitones === null && key) remarks.push(...way.remarks);
  // The lead gives the tuning as well: what it is fitted to is itself.
  const isTuned = fittable.key !== null && !fittable.isUnpitched && (key !== null || lane.laneId === lead);
  const cents = lane.cents ?? (isTuned ? Math.round(tuning - (fittable.tuningCents ?? 0)) : 0);
  const own = lane.semitones !== null && lane.semitones !== way.semitones;
  return {
    semitones: lane.semitones ?? way.semitones,
    cents: Math.max(-100, Math.min(100, cents)) || 0,
    becomes: own ? null : way.becomes,
    otherWay: own ? null : way.otherWay,
  };
}

/** What would strain less: another level, or the other way to the same key. */
function cleanerOf({
  lane,
  blend,
  grid,
  facts: { settled, fittable },
  beats,
  semitones,
  cents,
  strain,
}: {
  lane: Lane;
  blend: Blend;
  grid: Grid;
  facts: LaneFacts;
  beats: number | null;
  semitones: number;
  cents: number;
  strain: number;
}): Bend['cleaner'] {
  const isByTempo =
    lane.held === 'bars' && lane.fit.to === 'tempo' && settled.grid !== null && settled.kind !== 'oneshot';
  const ways = isByTempo
    ? tempoWays(settled.grid!.tempoBpm, grid.tempoBpm, wholeLevels(settled.kind === 'loop' ? beats : null))
    : [{ level: null, ratio: 1 }];
  const moves =
    blend.key && fittable.key && !fittable.isUnpitched
      ? [semitones, ...keyWays(fittable.key, blend.key).map((way) => way.semitones)]
      : [semitones];
  const all = ways.flatMap(({ level, ratio }) =>
    moves.map((move) => ({
      level,
      semitones: move,
      strain: strainOf({ ratio, semitones: move + cents / 100 }),
    })),
  );
  // Where the tempi are too far from each other there is no way at all.
  const best = all.toSorted((a, b) => a.strain - b.strain).at(0);
  return best && best.strain < strain - 0.05 ? best : null;
}
