import { lastNotAfter } from '../math/bisect';
import { edgeAt } from './analyser';
import { timeMap, toResult, toSource, type TimeMap } from './timeMap';

/**
 * A piece of the source and where it stands in the result, in frames of both. Equally long on both sides, it is
 * copied as it is (but for what is carried through an attack); otherwise it is stretched.
 */
export interface Span {
  from: number;
  to: number;
  at: number;
  until: number;
  /** How time goes within it: from (from, at) to (to, until). */
  path: TimeMap;
  /** Between these places of the source nothing of a neighbouring attack sounds: the stretching hears no further. */
  hears: readonly [number, number];
  /** How long it fades in beside the span before it; 0 where there is none. */
  fade: number;
  /** Of a span that begins with an attack: where it is in the source, and those before and after it. */
  struck: { attack: number; before: number; after: number } | null;
}

/** What is asked of a stretch, in frames. */
export interface Lengths {
  /** Of the source. */
  size: number;
  /** Of the result. */
  length: number;
  /** From frames of the source to frames of the result: 0 to 0, `size` to `length`. */
  map: TimeMap;
  /** Places of the source at which something is struck. */
  attacks: readonly number[];
  isLoop: boolean;
  /** Frames a second. */
  rate: number;
}

/** Seconds, as the attacks of drums, plucks and words are. */
const SECONDS = {
  /** A span begins so long before its attack, and is there in full so much later: attacks are known to half a millisecond. */
  before: 0.001,
  fade: 0.0005,
  /** So much of an attack is copied. */
  head: 0.01,
  /** What is stretched fades in beside what was copied. */
  headFade: 0.005,
  /** Attacks that lie nearer to each other are one. */
  gap: 0.0068,
  /** So much of an attack is not heard by what is stretched after it. */
  burst: 0.0041,
};
/** What is stretched is cut where it would be longer, seconds of either side: it can be heard before all of it is made. */
const LONGEST = 1.5;
/** What was copied is made up for after it: time goes so much faster or slower until it is where it should be. */
const CATCHES_UP = 0.07;
/** It is where it takes at most this share of what follows. */
const CATCHES_UP_WITHIN = 0.3;
/** Of what lies before the next attack, at most this share is copied. */
const HEAD_SHARE = 0.5;
const FAR = Number.MAX_SAFE_INTEGER;

/**
 * Cuts a source at its attacks: each is copied to where it is to stand, and what lies between is stretched, so that all is
 * as long as it is to be. The spans follow each other in time; those of a loop begin at or before 0: with its last attack where
 * what is struck there sounds over the turn.
 */
export function spansOf({ size, length, map, attacks, isLoop, rate }: Lengths): Span[] {
  const frames = (seconds: number) => Math.round(seconds * rate);
  const [before, fade, most] = [frames(SECONDS.before), frames(SECONDS.fade), frames(SECONDS.head)];
  const [headFade, burst] = [frames(SECONDS.headFade), frames(SECONDS.burst)];
  const kept = apart(attacks, size, (frame) => toResult(map, frame), frames(SECONDS.gap), isLoop);
  if (kept.length === 0 && isLoop)
    return [
      {
        ...{ from: 0, to: size, at: 0, until: length, path: map },
        ...{ hears: [-FAR, FAR], fade: 0, struck: null },
      },
    ];
  const spans: Span[] = [];
  const way = isLoop ? roundAndRound(map, size, length) : map;
  const stretched = (place: Place, end: Place, hears: Span['hears'], fadeIn: number) => {
    const path = pathBetween(way, place, end, caughtUp(way, place, end));
    const room = end.at - place.at;
    const parts = Math.ceil(Math.max(room, end.from - place.from) / frames(LONGEST));
    let from = place;
    for (let part = 1; part <= parts; part++) {
      const at = place.at + Math.round((room * part) / parts);
      const to = part === parts ? end : { from: Math.round(toSource(path, at)), at };
      const fadeIns = part === 1 ? fadeIn : headFade;
      spans.push({
        ...{ from: from.from, to: to.from, at: from.at, until: to.at, path: pathBetween(path, from, to) },
        ...{ hears, fade: Math.min(fadeIns, to.at - from.at), struck: null },
      });
      from = to;
    }
  };
  const begins = { from: 0, at: 0 };
  // Beyond what does not loop there is nothing that could be heard.
  const edge = edgeAt(rate);
  const all: Span['hears'] = [-edge, size + edge];
  const ends = { attack: all[1] + before - fade, from: size, at: length };
  if (kept.length === 0) {
    stretched(begins, ends, all, 0);
    return spans;
  }
  const starts = kept.map((attack) => ({
    attack,
    from: Math.round(attack) - before,
    at: Math.round(toResult(map, attack)) - before,
  }));
  const turned = ({ attack, from, at }: (typeof starts)[number], by: number) => ({
    ...{ attack: attack + by * size, from: from + by * size, at: at + by * length },
  });
  let end = ends;
  if (isLoop && starts[0].at > 0) {
    end = starts.pop()!;
    starts.unshift(turned(end, -1));
  } else if (isLoop) end = turned(starts[0], 1);
  const [first] = starts;
  if (!isLoop) {
    if (first.at > 0 && first.from > 0) stretched(begins, first, [all[0], first.attack - before + fade], 0);
    else starts[0] = { ...first, from: first.from - first.at, at: 0 };
  }
  starts.forEach((start, i) => {
    const next = starts[i + 1] ?? end;
    const last = starts[i - 1]?.attack ?? (isLoop ? starts[starts.length - 1].attack - size : 0);
    const room = next.at - start.at;
    const head = Math.max(1, Math.round(Math.min(most, HEAD_SHARE * Math.min(next.from - start.from, room))));
    const isFirst = !isLoop && i === 0 && start.at === 0;
    const headEnd = { from: start.from + head, at: start.at + head };
    spans.push({
      ...{ from: start.from, to: headEnd.from, at: start.at, until: headEnd.at },
      path: timeMap([start.from, headEnd.from], [start.at, headEnd.at]),
      hears: [start.attack - before, next.attack - before + fade],
      fade: isFirst ? 0 : fade,
      struck: { attack: start.attack, before: last, after: next.attack },
    });
    if (room <= head) return;
    stretched(
      headEnd,
      { from: Math.max(headEnd.from + 1, next.from), at: next.at },
      [start.attack + burst, next.attack - before + fade],
      Math.min(headFade, room - head),
    );
  });
  return spans;
}

/** The spans of a loop from its last attack on, a turn earlier: what stands before its beginning. */
export function spansBefore(
  spans: readonly Span[],
  { size, length }: Pick<Lengths, 'size' | 'length'>,
): Span[] {
  const last = spans.findLastIndex(({ struck }) => struck !== null);
  return spans.slice(Math.max(0, last)).map((span) => ({
    ...span,
    ...{ from: span.from - size, to: span.to - size, at: span.at - length, until: span.until - length },
    hears: [span.hears[0] - size, span.hears[1] - size],
    path: timeMap(
      span.path.source.map((frame) => frame - size),
      span.path.result.map((frame) => frame - length),
    ),
    struck: span.struck && {
      attack: span.struck.attack - size,
      before: span.struck.before - size,
      after: span.struck.after - size,
    },
  }));
}

interface Place {
  from: number;
  at: number;
}

/**
 * Where what begins beside the map is on it again, going faster or slower by a little; null where it hardly begins beside it, or what
 * follows is nearer, or there is no way.
 */
function caughtUp(map: TimeMap, begin: Place, end: Place): Place | null {
  const off = begin.at - toResult(map, begin.from);
  if (Math.abs(off) < 1) return null;
  const slope = (end.at - begin.at) / (end.from - begin.from);
  const from = Math.round(begin.from + Math.abs(off) / (CATCHES_UP * slope));
  const at = toResult(map, from);
  const isSoon = from - begin.from < CATCHES_UP_WITHIN * (end.from - begin.from);
  // Where the map itself is bent sharply it may be no way there.
  return isSoon && at > begin.at + 1 && at < end.at - 1 ? { from, at } : null;
}

/** How time goes between two places, and over `via`: straight, but for the knots of `map` that rise between them. */
function pathBetween(map: TimeMap, begin: Place, end: Place, via: Place | null = null): TimeMap {
  if (via) {
    const [to, on] = [pathBetween(map, begin, via), pathBetween(map, via, end)];
    return timeMap([...to.source, ...on.source.slice(1)], [...to.result, ...on.result.slice(1)]);
  }
  const [source, result] = [[begin.from], [begin.at]];
  for (let i = Math.max(0, lastNotAfter(map.source, begin.from)); i < map.source.length; i++) {
    const [from, at] = [map.source[i], map.result[i]];
    if (from >= end.from - 1 || at >= end.at - 1) break;
    if (from <= source.at(-1)! + 1 || at <= result.at(-1)! + 1) continue;
    source.push(from);
    result.push(at);
  }
  return timeMap([...source, end.from], [...result, end.at]);
}

/** The map of a loop, one turn more on each side. */
function roundAndRound({ source, result }: TimeMap, size: number, length: number): TimeMap {
  const turns = [-1, 0, 1];
  const inside = source.map((_, i) => i).filter((i) => source[i] >= 0 && source[i] < size - 1e-6);
  return timeMap(
    turns.flatMap((turn) => inside.map((i) => source[i] + turn * size)),
    turns.flatMap((turn) => inside.map((i) => result[i] + turn * length)),
  );
}

/** The attacks inside the source that lie far enough from each other, on both sides, rising. */
function apart(
  attacks: readonly number[],
  size: number,
  place: (frame: number) => number,
  least: number,
  isLoop: boolean,
): number[] {
  const kept: number[] = [];
  const far = (a: number, b: number) => b - a >= least && place(b) - place(a) >= least;
  for (const attack of [...attacks].sort((a, b) => a - b)) {
    if (!(attack >= 0 && attack < size - 1)) continue;
    if (kept.length === 0 || far(kept[kept.length - 1], attack)) kept.push(attack);
  }
  const isNearTurn = () => {
    const last = kept[kept.length - 1] - size;
    return kept[0] - last < least || place(kept[0]) - (place(last + size) - place(size)) < least;
  };
  if (isLoop && kept.length > 1 && isNearTurn()) kept.pop();
  return kept;
}
