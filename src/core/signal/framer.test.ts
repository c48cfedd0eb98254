import { randomFrom } from '@/demo/random';
import { createFramer } from './framer';

/** All frames that come out, as arrays. */
function framesOf(blocks: Float32Array[], size: number, hop: number): number[][] {
  const frames: number[][] = [];
  const framer = createFramer(size, hop, (samples, from, index) => {
    expect(index).toBe(frames.length);
    frames.push(Array.from(samples.subarray(from, from + size)));
  });
  for (const block of blocks) framer.push(block);
  expect(framer.finish()).toBe(frames.length);
  return frames;
}

const ramp = Float32Array.from({ length: 100 }, (_, i) => i + 1);

test('frame i is centred on sample i · hop, with silence outside', () => {
  const frames = framesOf([ramp], 8, 10);
  expect(frames).toHaveLength(11);
  expect(frames[0]).toEqual([0, 0, 0, 0, 1, 2, 3, 4]);
  expect(frames[3]).toEqual([27, 28, 29, 30, 31, 32, 33, 34]);
  expect(frames[10]).toEqual([97, 98, 99, 100, 0, 0, 0, 0]);
});

test('a hop may be a fraction of a sample', () => {
  const frames = framesOf([ramp], 4, 7.5);
  expect(frames[1]).toEqual([7, 8, 9, 10]);
  expect(frames[2]).toEqual([14, 15, 16, 17]);
});

test('how the stream is cut into blocks makes no difference', () => {
  const random = randomFrom(3);
  const blocks: Float32Array[] = [];
  for (let at = 0; at < ramp.length;) {
    const length = Math.floor(random() * 13);
    blocks.push(ramp.subarray(at, at + length));
    at += length;
  }
  expect(framesOf(blocks, 16, 5.3)).toEqual(framesOf([ramp], 16, 5.3));
});

test('an empty stream has one silent frame', () => {
  expect(framesOf([], 4, 3)).toEqual([[0, 0, 0, 0]]);
});
