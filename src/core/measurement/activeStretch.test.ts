import { FRAME_RATE, type OnsetFeatures } from '../rhythm/onsetFeatures';
import { activeStretch } from './activeStretch';

const levels = (levelDb: readonly number[]): OnsetFeatures => ({
  frames: levelDb.length,
  registers: [],
  strength: new Float32Array(levelDb.length),
  levelDb: Float32Array.from(levelDb),
  centroidHz: 0,
  flatness: 0,
});
const quiet = (frames: number, db: number) => Array.from({ length: frames }, () => db);

test('sound lasts from its first frame to its last, silences between belong to it', () => {
  const found = activeStretch(
    levels([...quiet(50, -100), ...quiet(20, -12), ...quiet(100, -100), ...quiet(30, -20), ...quiet(7, -95)]),
  );
  expect(found).toEqual({ start: 50 / FRAME_RATE, end: 200 / FRAME_RATE });
});

test('hiss far under the loudest is silence, a soft recording is not', () => {
  const loud = levels([...quiet(40, -62), ...quiet(40, -6), ...quiet(40, -62)]);
  expect(activeStretch(loud)).toEqual({ start: 40 / FRAME_RATE, end: 80 / FRAME_RATE });
  const soft = levels([...quiet(40, -62), ...quiet(40, -55), ...quiet(40, -62)]);
  expect(activeStretch(soft)).toEqual({ start: 0, end: 120 / FRAME_RATE });
});

test('where nothing sounds there is no stretch', () => {
  expect(activeStretch(levels(quiet(100, -90)))).toBeNull();
  expect(activeStretch(levels([]))).toBeNull();
});
