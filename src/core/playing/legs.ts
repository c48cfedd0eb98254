/** One leg of what goes round, in frames or seconds of the clock. */
export interface Leg {
  start: number;
  end: number;
  /** The turn at its end is none that is to be heard: the audio fades out before it. */
  fades?: boolean;
  /** What stands before the next one comes in over its last frames: nothing breaks off, and the next is heard whole. */
  joins?: boolean;
}

/** The leg that is played at a position: the one that it lies in, else the next; −1 behind all of them. */
export function legAt(legs: readonly Leg[], position: number): number {
  const inside = legs.findIndex(({ start, end }) => position >= start && position < end);
  return inside >= 0 ? inside : legs.findIndex(({ end }) => position < end);
}

/** Where somebody stands who was at `from` and went on by `by`, round the legs. */
export function alongLegs(legs: readonly Leg[], from: number, by: number): number {
  let leg = legAt(legs, from);
  let position = from + by;
  while (leg >= 0 && position >= legs[leg].end) {
    const over = position - legs[leg].end;
    leg = (leg + 1) % legs.length;
    position = legs[leg].start + over;
  }
  return position;
}
