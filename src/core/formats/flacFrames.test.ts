import { flacFrame as frame } from '../../../tests/support/flacStream';
import { opening, together } from '../../../tests/support/bytes';
import { byteReader } from './byteReader';
import { flacEnd, flacFrames, flacInfo, frameHeaderAt, framePlaces, type FlacFrame } from './flacFrames';
import { windowOf } from './window';

const info = { sampleRate: 44_100, channels: 1, bits: 16, frames: null, md5: null };

async function framesIn(bytes: Uint8Array, blockSize?: number): Promise<FlacFrame[]> {
  const frames: FlacFrame[] = [];
  for await (const one of flacFrames(windowOf(byteReader(opening(bytes, blockSize)())), info))
    frames.push(one);
  return frames;
}
const stream = [0, 1, 2, 3, 130].map((number) => frame(number));
const placesOf = (frames: FlacFrame[]) => frames.map(({ at }) => at / 4096);

test.each([1, 13, 100_000])('frames are read with their places, from blocks of %d bytes', async (size) => {
  const frames = await framesIn(together(...stream), size);
  expect(placesOf(frames)).toEqual([0, 1, 2, 3, 130]);
  expect(frames.map(({ bytes }) => bytes)).toEqual(stream);
});

test('a damaged frame costs itself and no other, and moves none', async () => {
  const whole = together(...stream);
  const second = stream[0].length;
  for (let at = second; at < second + stream[1].length; at++) {
    const damaged = whole.slice();
    damaged[at] ^= 4;
    expect(placesOf(await framesIn(damaged))).toEqual([0, 2, 3, 130]);
  }
});

test('a sync word inside of a frame is none, nor is a tag behind the last frame part of it', async () => {
  const tag = new Uint8Array(128);
  tag.set([0x54, 0x41, 0x47]);
  const odd = frame(1, { value: -8 & 0xffff });
  expect(placesOf(await framesIn(together(stream[0], odd, stream[2], tag)))).toEqual([0, 1, 2]);
  expect(await framesIn(Uint8Array.of(0xff, 0xf8, 0xff))).toEqual([]);
});

test('the last bytes tell where a stream ends: by a frame behind a whole one', () => {
  const end = together(frame(500_000), frame(500_001), frame(500_002, { blockSize: 100 }));
  // Torn at the beginning, as bytes from anywhere are; a tag behind it is none of it.
  expect(flacEnd(together(end.subarray(3), new Uint8Array(128)), info)).toBe(500_002 * 4096 + 100);
  const variable = together(
    frame(9000, { isVariable: true }),
    frame(13_096, { isVariable: true, blockSize: 7 }),
  );
  expect(flacEnd(variable, info)).toBe(13_103);
  // One frame alone may be chance, and so may be one behind a damaged one.
  expect(flacEnd(frame(500_000), info)).toBeNull();
  const damaged = together(frame(500_000), frame(500_001));
  damaged[8] ^= 1;
  expect(flacEnd(damaged, info)).toBeNull();
  expect(flacEnd(new Uint8Array(50), info)).toBeNull();
});

test('numbers of a fixed stream count frames, those of a variable one count samples', () => {
  const fixed = framePlaces();
  expect(fixed({ length: 0, blockSize: 4096, number: 2, isVariable: false })).toBe(8192);
  expect(fixed({ length: 0, blockSize: 100, number: 3, isVariable: false })).toBe(3 * 4096);
  expect(framePlaces()({ length: 0, blockSize: 4096, number: 77, isVariable: true })).toBe(77);
});

test('headers of another make than the stream are none', () => {
  const bytes = together(frame(5), new Uint8Array(16));
  expect(frameHeaderAt(bytes, 0, info)).toMatchObject({ blockSize: 4096, number: 5, isVariable: false });
  for (const other of [{ channels: 2 }, { bits: 24 }, { sampleRate: 48_000 }])
    expect(frameHeaderAt(bytes, 0, { ...info, ...other })).toBeNull();
});

test('what a stream says of itself is read to its last bit, and what cannot be is said', () => {
  const body = new Uint8Array(34);
  // 96000 Hz, 2 channels, 24 bits, 2^35 + 5 samples.
  body.set([0x17, 0x70, 0x03, 0x78, 0, 0, 0, 5], 10);
  body.fill(0xab, 18);
  expect(flacInfo(body)).toEqual({
    ...{ sampleRate: 96_000, channels: 2, bits: 24, frames: 2 ** 35 + 5 },
    md5: 'ab'.repeat(16),
  });
  body.fill(0, 13);
  body[13] = 0x70;
  expect(flacInfo(body)).toMatchObject({ frames: null, md5: null });
  expect(() => flacInfo(body.subarray(0, 20))).toThrow('This FLAC file ends inside its description.');
  expect(() => flacInfo(new Uint8Array(34))).toThrow(/its beginning is damaged/);
});
