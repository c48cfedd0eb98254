import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import { legAt, type Leg } from './legs';

/** A leg shorter than this many frames would be a tone, not a turn. */
const SHORTEST_LEG = 32;

/**
 * What everything that sounds goes by: frames at the rate of the loudspeakers, counted from where the music's time is
 * 0, and, with a grid, bars and beats. It goes straight on to its end, or round its legs, at full speed or slower.
 */
export class Clock {
  /** The next frame that is to be heard; negative during a count-in. Whole at full speed. */
  position = 0;
  /** Where it stops when nothing goes round. */
  end = 0;
  grid: Grid | null = null;
  private pace = 1;
  private legs: readonly Leg[] = [];
  /** The leg that is being played; −1 when what is played lies behind all of them. */
  private leg = -1;

  constructor(readonly rate: number) {}

  /** Frames of the clock for each frame that is heard, at most 1. */
  get speed(): number {
    return this.pace;
  }

  /** Throws RangeError for what is no speed. */
  setSpeed(speed: number) {
    if (!(speed > 0 && speed <= 1)) throw new RangeError(`a speed of ${speed} is none`);
    this.pace = speed;
    this.seek(this.position);
  }

  seek(position: number) {
    this.position = Math.round(position);
    this.leg = legAt(this.legs, this.position);
  }

  /**
   * The legs that are played one after the other, again and again; none: straight on to the end. A position before a
   * leg plays into it, one behind all of them plays on.
   */
  setLegs(legs: readonly Leg[]) {
    const whole = legs.map((leg) => ({ ...leg, start: Math.round(leg.start), end: Math.round(leg.end) }));
    this.legs = whole.every(({ start, end }) => end - start >= SHORTEST_LEG) ? whole : [];
    this.leg = legAt(this.legs, this.position);
  }

  /** The leg that is being played. */
  get now(): Leg | null {
    return this.legs[this.leg] ?? null;
  }

  /** The leg that is played after this one. */
  get following(): Leg | null {
    return this.leg < 0 ? null : this.legs[(this.leg + 1) % this.legs.length];
  }

  /** How many frames are heard, at most `room`, before it turns or ends. */
  ahead(room: number): number {
    const turn = this.now?.end ?? Math.max(this.end, this.position);
    return Math.min(room, Math.ceil((turn - this.position) / this.pace - 1e-9));
  }

  /** Goes on by frames that were heard, no more than are `ahead`. */
  advance(frames: number): 'on' | 'turned' | 'ended' {
    this.position += frames * this.pace;
    const leg = this.now;
    if (leg && this.position >= leg.end - 1e-6) {
      this.leg = (this.leg + 1) % this.legs.length;
      this.position = this.legs[this.leg].start + (this.position - leg.end);
      return 'turned';
    }
    return !leg && this.position >= this.end ? 'ended' : 'on';
  }
}

/** The time that stands so many bars before another, seconds. */
export function barsBefore(grid: Grid, time: number, bars: number): number {
  return beatTime(grid, beatPosition(grid, time) - bars * feltBeatsPerBar(grid.meter));
}
