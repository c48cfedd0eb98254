import { barTempi, averageOfBars, followHits, asMoving } from './movingGrid';
import { lengthProposals } from './lengthReading';
import { beatTime, type Grid } from './grid';
import { bendToPins, countFrom, fitPins, moveTheOne, pullPin, scalePinned, withPin } from './pins';

const METER = { beatsPerBar: 4, beatUnit: 4 };
const steady = (tempoBpm: number, one = 0): Grid => ({ tempoBpm, one, meter: METER, movingBeats: null });

test('two pins give the tempo between them', () => {
  const { tempoBpm, one, residualsMs } = fitPins([
    { beat: 0, time: 0.25 },
    { beat: 64, time: 0.25 + (64 * 60) / 88.402 },
  ]);
  expect(tempoBpm).toBeCloseTo(88.402, 9);
  expect(one).toBeCloseTo(0.25, 9);
  expect(residualsMs.every((ms) => Math.abs(ms) < 1e-6)).toBe(true);
});

test('one misplaced pin of six does not turn the grid, and its residual tells', () => {
  const pins = [0, 16, 32, 48, 64, 96].map((beat) => ({ beat, time: 1 + (beat * 60) / 101.617 }));
  pins[3].time += 0.08;
  const fit = fitPins(pins);
  expect(Math.abs(fit.tempoBpm - 101.617)).toBeLessThan(0.002);
  expect(fit.residualsMs[3]).toBeGreaterThan(75);
});

test('pins on one beat make no tempo; moving a pin replaces it', () => {
  expect(() => fitPins([{ beat: 4, time: 2 }])).toThrow(RangeError);
  const pins = withPin(withPin([{ beat: 8, time: 4 }], { beat: 0, time: 0 }), { beat: 8, time: 4.1 });
  expect(pins).toEqual([
    { beat: 0, time: 0 },
    { beat: 8, time: 4.1 },
  ]);
});

test('pins carry the beats between them along', () => {
  const moving = asMoving(steady(120), 16);
  const bent = bendToPins(moving, [
    { beat: 0, time: 0 },
    { beat: 8, time: 4.2 },
    { beat: 16, time: 8 },
  ]);
  expect(beatTime(bent, 4)).toBeCloseTo(2.1, 9);
  expect(beatTime(bent, 12)).toBeCloseTo(6.1, 9);
  expect(beatTime(bent, 20)).toBeCloseTo(10, 9);
  expect(() =>
    bendToPins(moving, [
      { beat: 0, time: 0 },
      { beat: 1, time: -1 },
    ]),
  ).toThrow(RangeError);
});

/** Somebody speeds up from 92 to 100 BPM over 32 bars, with single loose hits. */
function speedingUp() {
  const beats = [0.4];
  for (let i = 0; i < 128; i++) beats.push(beats[i] + 60 / (92 + (8 * i) / 128));
  const onsets = beats.map((time, i) => ({ time: time + (i % 11 === 5 ? 0.045 : 0), strength: 6 }));
  return { beats, onsets, duration: beats[128] + 0.3 };
}

test('a grid follows a player who speeds up; loose hits are not followed', () => {
  const { beats, onsets, duration } = speedingUp();
  const moving = followHits(onsets, steady(95.9, 0.4), duration, 8);
  const worst = Math.max(...beats.map((time, i) => Math.abs(beatTime(moving, i) - time)));
  expect(worst).toBeLessThan(0.012);
  const bars = barTempi(moving, duration);
  expect(bars).toHaveLength(32);
  expect(bars[2].bpm).toBeLessThan(94);
  expect(bars[30].bpm).toBeGreaterThan(98);
  const average = averageOfBars(moving, 1, 32);
  expect(average.movingBeats).toBeNull();
  expect(Math.abs(average.tempoBpm - (60 * 128) / (beats[128] - beats[0]))).toBeLessThan(0.1);
});

test('a stretch near a known tempo is the number of bars that agrees with it', () => {
  expect(lengthProposals(10.0, METER, 96)[0]).toMatchObject({ bars: 4, beats: 16, bpm: 96 });
  expect(lengthProposals(10.0, METER, 50)[0]).toMatchObject({ bars: 2 });
  expect(lengthProposals(8.0, METER, null)[0]).toMatchObject({ bars: 4, bpm: 120 });
  expect(lengthProposals(0.6, METER, 100)[0]).toMatchObject({ bars: null, beats: 1 });
  expect(() => lengthProposals(0, METER, null)).toThrow(RangeError);
});

test('pulling a later bar line keeps the one and changes the one tempo', () => {
  const free = { grid: steady(120, 0.25), pins: [] };
  const pulled = pullPin(free, 32, 0.25 + (32 * 60) / 119.5);
  expect(pulled.grid.one).toBeCloseTo(0.25, 9);
  expect(pulled.grid.tempoBpm).toBeCloseTo(119.5, 9);
  expect(pulled.grid.movingBeats).toBeNull();
  expect(pulled.pins.map(({ beat }) => beat)).toEqual([0, 32]);
  expect(() => pullPin(free, 8, 0.2)).toThrow(RangeError);
});

test('pulling beat 0 moves the one, and its pin with it', () => {
  const pinned = pullPin({ grid: steady(120, 0.25), pins: [] }, 8, 4.3);
  const moved = pullPin(pinned, 0, 0.3);
  expect(moved).toEqual(moveTheOne(pinned, 0.3));
  expect(moved.pins[0]).toEqual({ beat: 0, time: 0.3 });
  expect(moved.grid.tempoBpm).toBe(pinned.grid.tempoBpm);
});

test('counting from another beat and scaling leave pins where they are in the audio', () => {
  const pinned = pullPin({ grid: steady(120, 0), pins: [] }, 8, 4.1);
  const later = countFrom(pinned, 1);
  expect(later.pins.map(({ beat }) => beat)).toEqual([-1, 7]);
  expect(beatTime(later.grid, 7)).toBeCloseTo(4.1, 9);
  const half = scalePinned(pinned, 0.5);
  expect(beatTime(half.grid, half.pins[1].beat)).toBeCloseTo(4.1, 9);
});

test('on a moving grid a pull bends it there and makes no tempo change elsewhere', () => {
  const moving = asMoving(steady(120), 16);
  const pulled = pullPin({ grid: moving, pins: [] }, 4, 2.15);
  expect(beatTime(pulled.grid, 4)).toBeCloseTo(2.15, 9);
  expect(beatTime(pulled.grid, 2)).toBeCloseTo(1.075, 9);
  expect(beatTime(pulled.grid, 8) - beatTime(pulled.grid, 6)).toBeCloseTo(1, 9);
  expect(() => pullPin({ grid: moving, pins: [] }, 4, -3)).toThrow(RangeError);
});
