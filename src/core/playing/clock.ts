import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import { legAt, type Segment } from './segments';

/** A leg shorter than this many frames would be a tone, not a turn. */
const SHORTEST_LEG = 32;

/**
 * What everything that sounds goes by: frames at the rate of the loudspeakers, counted from where the music's time is
 * 0, and, with a grid, bars and beats. It goes straight on to its end, or round its legs, at full speed or slower.
 */
export class Clock {
  /** The next frame that is to be heard; negative during a count-in. Whole at full speed. */
  position = 0;
  /** Where it stops when nothing loops. */
  end = 0;
  grid: Grid | null = null;
  private pace = 1;
  private segments: readonly Segment[] = [];
  /** The leg that is being played; −1 when what is played lies behind all of them. */
  private segment = -1;

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
    this.segment = legAt(this.segments, this.position);
  }

  /**
   * The legs that are played one after the other, again and again; none: straight on to the end. A position before a
   * leg plays into it, one behind all of them plays on.
   */
  setSegments(segments: readonly Segment[]) {
    const whole = segments.map((segment) => ({
      ...segment,
      start: Math.round(segment.start),
      end: Math.round(segment.end),
    }));
    this.segments = whole.every(({ start, end }) => end - start >= SHORTEST_LEG) ? whole : [];
    this.segment = legAt(this.segments, this.position);
  }

  /** The leg that is being played. */
  get now(): Segment | null {
    return this.segments[this.segment] ?? null;
  }

  /** The leg that is played after this one. */
  get following(): Segment | null {
    return this.segment < 0 ? null : this.segments[(this.segment + 1) % this.segments.length];
  }

  /** How many frames are heard, at most `room`, before it turns or ends. */
  ahead(room: number): number {
    const turn = this.now?.end ?? Math.max(this.end, this.position);
    return Math.min(room, Math.ceil((turn - this.position) / this.pace - 1e-9));
  }

  /** Goes on by frames that were heard, no more than are `ahead`. */
  advance(frames: number): 'on' | 'turned' | 'ended' {
    this.position += frames * this.pace;
    const segment = this.now;
    if (segment && this.position >= segment.end - 1e-6) {
      this.segment = (this.segment + 1) % this.segments.length;
      this.position = this.segments[this.segment].start + (this.position - segment.end);
      return 'turned';
    }
    return !segment && this.position >= this.end ? 'ended' : 'on';
  }
}

/** The time that stands so many bars before another, seconds. */
export function barsBefore(grid: Grid, time: number, bars: number): number {
  return beatTime(grid, beatPosition(grid, time) - bars * feltBeatsPerBar(grid.meter));
}
