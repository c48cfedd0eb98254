import { opening, together } from '../../../tests/support/bytes';
import { byteReader } from './byteReader';
import { lameCrc16 } from './checksums';
import { claimsOf, mpegFrames, mpegHeaderAt, silentFrame, type MpegFrame } from './mpegFrames';
import { windowOf } from './window';

/** A frame of layer III: 128 kbit/s, 44100 Hz, two channels; 417 bytes, or 418 with padding. */
function frame(fill: number, isPadded = false): Uint8Array {
  const bytes = new Uint8Array(isPadded ? 418 : 417).fill(fill);
  bytes.set([0xff, 0xfb, isPadded ? 0x92 : 0x90, 0x00]);
  return bytes;
}
async function framesIn(bytes: Uint8Array, blockSize?: number): Promise<MpegFrame[]> {
  const frames: MpegFrame[] = [];
  for await (const one of mpegFrames(windowOf(byteReader(opening(bytes, blockSize)())))) frames.push(one);
  return frames;
}
const stream = [frame(1), frame(2, true), frame(3)];
const fills = (frames: MpegFrame[]) => frames.map(({ bytes }) => bytes[100]);

test.each<[string, number[], object]>([
  [
    '44.1 kHz, two channels',
    [0xff, 0xfb, 0x90, 0x00],
    { length: 417, sampleRate: 44_100, channels: 2, samples: 1152, sideBytes: 32, hasChecksum: false },
  ],
  [
    '48 kHz, one channel, with a checksum',
    [0xff, 0xfa, 0x94, 0xc0],
    { length: 384, sampleRate: 48_000, channels: 1, samples: 1152, sideBytes: 17, hasChecksum: true },
  ],
  [
    'half the rate',
    [0xff, 0xf3, 0x80, 0x00],
    { length: 208, sampleRate: 22_050, channels: 2, samples: 576, sideBytes: 17 },
  ],
  [
    'a quarter of it',
    [0xff, 0xe3, 0x80, 0xc0],
    { length: 417, sampleRate: 11_025, channels: 1, samples: 576, sideBytes: 9 },
  ],
])('a header says %s', (_, bytes, header) => {
  expect(mpegHeaderAt(Uint8Array.from(bytes), 0)).toMatchObject(header);
});

test.each([
  [[0xff, 0xfb, 0x00, 0]],
  [[0xff, 0xfb, 0xf0, 0]],
  [[0xff, 0xfb, 0x9c, 0]],
  [[0xff, 0xeb, 0x90, 0]],
  [[0xff, 0xfd, 0x90, 0]],
])('a rate, a version or a layer that is none: %j', (bytes) =>
  expect(mpegHeaderAt(Uint8Array.from(bytes), 0)).toBeNull(),
);

test.each([1, 100, 100_000])('frames are read one by one, from blocks of %d bytes', async (size) => {
  const frames = await framesIn(together(...stream), size);
  expect(fills(frames)).toEqual([1, 2, 3]);
  expect(frames.map(({ passed }) => passed)).toEqual([0, 0, 0]);
});

test('tags are no sound and not passed over; rubbish is, and counted', async () => {
  const id3 = Uint8Array.of(0x49, 0x44, 0x33, 4, 0, 0, 0, 0, 0, 20, ...new Array<number>(20).fill(0xff));
  const last = new Uint8Array(128);
  last.set([0x54, 0x41, 0x47]);
  const rubbish = new Uint8Array(50).fill(9);
  const frames = await framesIn(together(id3, stream[0], stream[1], rubbish, stream[2], last));
  expect(fills(frames)).toEqual([1, 2, 3]);
  expect(frames[2].passed).toBe(rubbish.length);
});

test('a damaged header costs its own frame and no other', async () => {
  const long = [0, 1, 2, 3, 4, 5, 6].map((fill) => frame(fill, fill % 3 === 1));
  const from = long[0].length + long[1].length + long[2].length;
  // Its sync word, its make, and its length: another bit rate, no rate, and a byte more.
  for (const [at, bits] of [
    [0, 0x80],
    [1, 0x08],
    [1, 0x40],
    [2, 0x10],
    [2, 0x60],
    [2, 0x0c],
    [2, 0x02],
    [3, 0xc0],
  ]) {
    const damaged = together(...long);
    damaged[from + at] ^= bits;
    expect([at, bits, ...fills(await framesIn(damaged))]).toEqual([at, bits, 0, 1, 2, 4, 5, 6]);
  }
});

test('what stands behind the last frame is counted, but for tags and what a file is filled up with', async () => {
  const behind = async (...rest: Uint8Array[]) => {
    const frames = mpegFrames(windowOf(byteReader(opening(together(...stream, ...rest), 100)())));
    let next = await frames.next();
    let count = 0;
    for (; !next.done; next = await frames.next()) count++;
    return [count, next.value];
  };
  const noise = new Uint8Array(417).map((_, i) => (i * 73 + 5) % 251);
  const tag = new Uint8Array(128);
  tag.set([0x54, 0x41, 0x47]);
  const items = new Uint8Array(60).fill(0x61);
  const footer = new Uint8Array(32);
  footer.set(new TextEncoder().encode('APETAGEX'));
  new DataView(footer.buffer).setUint32(12, items.length + footer.length, true);
  expect(await behind()).toEqual([3, 0]);
  expect(await behind(tag)).toEqual([3, 0]);
  expect(await behind(new Uint8Array(5000))).toEqual([3, 0]);
  expect(await behind(items, footer, tag)).toEqual([3, 0]);
  expect(await behind(new TextEncoder().encode('LYRICSBEGIN and what is sung'.repeat(40)))).toEqual([3, 0]);
  expect(await behind(noise)).toEqual([3, 417]);
  expect(await behind(noise, new Uint8Array(900), tag)).toEqual([3, 417]);
});

test('a frame of another make within the stream is passed over, one that is cut short is none', async () => {
  const other = new Uint8Array(384).fill(5);
  other.set([0xff, 0xfb, 0x94, 0x00]);
  expect(fills(await framesIn(together(stream[0], stream[1], other, stream[2], stream[0])))).toEqual([
    1, 2, 3, 1,
  ]);
  expect(fills(await framesIn(together(stream[0], stream[1].subarray(0, 200))))).toEqual([1]);
});

test('what a first frame claims is read: how many frames, and the checksum of the sound', async () => {
  const first = frame(0);
  const claims = new DataView(first.buffer);
  first.set(new TextEncoder().encode('Xing'), 36);
  claims.setUint32(40, 1);
  claims.setUint32(44, 250);
  first.set(new TextEncoder().encode('LAME3.100'), 48);
  claims.setUint16(48 + 32, 0xbeef);
  const [told, sound] = await framesIn(together(first, stream[0]));
  expect(claimsOf(told)).toEqual({ frames: 250 * 1152, musicCrc: 0xbeef, isDamaged: false });
  expect(claimsOf(sound)).toBeNull();
  first.fill(0, 4);
  first.set(new TextEncoder().encode('VBRI'), 36);
  claims.setUint32(50, 12);
  expect(claimsOf((await framesIn(together(first, stream[0])))[0])).toEqual({
    frames: 12 * 1152,
    musicCrc: null,
    isDamaged: false,
  });
});

test('a first frame whose own checksum is wrong is damaged, whichever of its bytes it is', async () => {
  const first = frame(0);
  first.set(new TextEncoder().encode('Info'), 36);
  first.set(new TextEncoder().encode('LAME3.100'), 44);
  new DataView(first.buffer).setUint16(44 + 34, lameCrc16(first.subarray(0, 44 + 34), 0));
  const isDamaged = async (bytes: Uint8Array) =>
    claimsOf((await framesIn(together(bytes, stream[0])))[0])?.isDamaged;
  expect(await isDamaged(first)).toBe(false);
  for (const place of [20, 44 + 9, 44 + 21, 44 + 33, 44 + 34]) {
    const broken = first.slice();
    broken[place] ^= 0x10;
    expect(await isDamaged(broken)).toBe(true);
  }
});

test('a silent frame is of the same make and length', async () => {
  const [one] = await framesIn(together(...stream));
  const silent = silentFrame(one);
  expect(silent).toHaveLength(417);
  expect(mpegHeaderAt(silent, 0)).toMatchObject({ length: 417, hasChecksum: false });
  expect(silent.subarray(4).every((byte) => byte === 0)).toBe(true);
});
