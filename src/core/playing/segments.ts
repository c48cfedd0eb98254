/** One leg of what loops, in frames or seconds of the clock. */
export interface Segment {
  start: number;
  end: number;
  /** The turn at its end is none that is to be heard: the audio fades out before it. */
  fades?: boolean;
  /** What stands before the next one comes in over its last frames: nothing breaks off, and the next is heard whole. */
  joins?: boolean;
}

/** The leg that is played at a position: the one that it lies in, else the next; −1 behind all of them. */
export function legAt(segments: readonly Segment[], position: number): number {
  const inside = segments.findIndex(({ start, end }) => position >= start && position < end);
  return inside >= 0 ? inside : segments.findIndex(({ end }) => position < end);
}

/** Where somebody stands who was at `from` and went on by `by`, round the legs. */
export function alongSegments(segments: readonly Segment[], from: number, by: number): number {
  let segment = legAt(segments, from);
  let position = from + by;
  while (segment >= 0 && position >= segments[segment].end) {
    const over = position - segments[segment].end;
    segment = (segment + 1) % segments.length;
    position = segments[segment].start + over;
  }
  return position;
}
