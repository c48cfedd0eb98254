import type { Grid } from '../rhythm/grid';
import { barsBefore, Clock } from './clock';
import { alongSegments, legAt } from './segments';

const segments = [
  { start: 400, end: 800 },
  { start: 100, end: 300 },
];

test('the leg at a position: the one around it, the next, or none behind all', () => {
  expect([0, 100, 299, 300, 400, 799, 800, 900].map((at) => legAt(segments, at))).toEqual([
    0, 1, 1, 0, 0, 0, -1, -1,
  ]);
});

test('along legs: round and round; behind them straight on', () => {
  expect(alongSegments(segments, 500, 100)).toBe(600);
  expect(alongSegments(segments, 500, 350)).toBe(150);
  // Six hundred frames are one round.
  expect(alongSegments(segments, 500, 6000)).toBe(500);
  expect(alongSegments(segments, 900, 5000)).toBe(5900);
  expect(alongSegments([], 3, 4)).toBe(7);
});

/** Every position at which `count` frames are heard in portions of up to `room`, and how it ended. */
function run(clock: Clock, count: number, room: number) {
  const heard: number[] = [];
  let how = 'on';
  while (heard.length < count && how !== 'ended') {
    const ahead = clock.ahead(Math.min(room, count - heard.length));
    for (let i = 0; i < ahead; i++) heard.push(clock.position + i * clock.speed);
    how = clock.advance(ahead);
  }
  return { heard, how };
}

test('it goes on to its end and no further', () => {
  const clock = new Clock(1000);
  clock.end = 300;
  clock.seek(100.4);
  const { heard, how } = run(clock, 1000, 128);
  expect(how).toBe('ended');
  expect(heard).toEqual(Array.from({ length: 200 }, (_, i) => 100 + i));
});

test('round its legs it is where `alongLegs` says, whatever the portions', () => {
  for (const speed of [1, 0.5, 0.75])
    for (const room of [1, 50, 128, 4096]) {
      const clock = new Clock(1000);
      clock.end = 1000;
      clock.setSpeed(speed);
      clock.setSegments(segments);
      clock.seek(420);
      run(clock, 1777, room);
      expect(clock.position).toBeCloseTo(alongSegments(segments, 420, 1777 * speed), 6);
    }
});

test('legs that are too short to be turns are none; what is no speed is refused', () => {
  const clock = new Clock(1000);
  clock.end = 100;
  clock.setSegments([{ start: 10, end: 20 }]);
  expect(clock.now).toBeNull();
  for (const speed of [0, -1, 1.1, NaN]) expect(() => clock.setSpeed(speed)).toThrow(RangeError);
});

test('a count-in begins whole bars before', () => {
  const grid: Grid = { tempoBpm: 120, one: 1, meter: { beatsPerBar: 6, beatUnit: 8 }, movingBeats: null };
  // Two felt beats of half a second.
  expect(barsBefore(grid, 3, 2)).toBe(1);
  const moving = { ...grid, movingBeats: [0, 0.4, 1, 1.8] };
  expect(barsBefore(moving, 1, 1)).toBeCloseTo(0);
});
