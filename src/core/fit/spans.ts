/**
 * A piece of the source and where it stands in the result, in frames of both. Equally long on both sides, it is
 * copied as it is (but for what is carried through an attack); otherwise it is stretched.
 */
export interface Span {
  from: number;
  to: number;
  at: number;
  until: number;
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
  head: 0.0204,
  /** What is stretched fades in beside what was copied. */
  headFade: 0.005,
  /** Attacks that lie nearer to each other are one. */
  gap: 0.0068,
  /** So much of an attack is not heard by what is stretched after it. */
  burst: 0.0041,
};
/** Of what lies before the next attack, at most this share is copied. */
const HEAD_SHARE = 0.5;
const FAR = Number.MAX_SAFE_INTEGER;

/**
 * Cuts a source at its attacks: each is copied to where it is to stand, and what lies between is stretched, so that all is
 * as long as it is to be.
 */
export function spansOf({ size, length, attacks, isLoop, rate }: Lengths): Span[] {
  const ratio = length / size;
  const frames = (seconds: number) => Math.round(seconds * rate);
  const [before, fade, most] = [frames(SECONDS.before), frames(SECONDS.fade), frames(SECONDS.head)];
  const [headFade, burst] = [frames(SECONDS.headFade), frames(SECONDS.burst)];
  const kept = apart(attacks, size, frames(SECONDS.gap) * Math.max(1, 1 / ratio), isLoop);
  const whole: Span = { from: 0, to: size, at: 0, until: length, hears: [-FAR, FAR], fade: 0, struck: null };
  if (kept.length === 0) return [whole];
  const starts = kept.map((attack) => ({
    attack,
    from: Math.round(attack) - before,
    at: Math.round(attack * ratio) - before,
  }));
  const [first] = starts;
  const spans: Span[] = [];
  if (!isLoop) {
    if (first.at > 0 && first.from > 0)
      spans.push({ ...whole, to: first.from, until: first.at, hears: [-FAR, first.attack - before + fade] });
    else starts[0] = { ...first, from: first.from - first.at, at: 0 };
  }
  const around = { attack: first.attack + size, from: first.from + size, at: first.at + length };
  const end = isLoop ? around : { attack: FAR, from: size, at: length };
  starts.forEach((start, i) => {
    const next = starts[i + 1] ?? end;
    const last = starts[i - 1]?.attack ?? (isLoop ? starts[starts.length - 1].attack - size : 0);
    const room = next.at - start.at;
    const head = Math.max(1, Math.round(Math.min(most, HEAD_SHARE * Math.min(next.from - start.from, room))));
    const isFirst = !isLoop && i === 0 && start.at === 0;
    spans.push({
      from: start.from,
      to: start.from + head,
      at: start.at,
      until: start.at + head,
      hears: [start.attack - before, next.attack - before + fade],
      fade: isFirst ? 0 : fade,
      struck: { attack: start.attack, before: last, after: next.attack },
    });
    if (room <= head) return;
    spans.push({
      from: start.from + head,
      to: Math.max(start.from + head + 1, next.from),
      at: start.at + head,
      until: next.at,
      hears: [start.attack + burst, next.attack - before + fade],
      fade: Math.min(headFade, room - head),
      struck: null,
    });
  });
  return spans;
}

/** The attacks inside the source that lie far enough from each other, on both sides, rising. */
function apart(attacks: readonly number[], size: number, least: number, isLoop: boolean): number[] {
  const kept: number[] = [];
  for (const attack of [...attacks].sort((a, b) => a - b)) {
    if (!(attack >= 0 && attack < size - 1)) continue;
    if (kept.length === 0 || attack - kept[kept.length - 1] >= least) kept.push(attack);
  }
  if (isLoop && kept.length > 1 && kept[0] + size - kept[kept.length - 1] < least) kept.pop();
  return kept;
}
