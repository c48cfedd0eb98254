import { opening, together } from '../../../tests/support/bytes';
import { byteReader } from './byteReader';
import { mpegHeaderAt } from './mpegFrames';
import { framesLost } from './mpegGaps';
import { windowOf } from './window';

/** A frame of layer III at one of the bit rates of the standard, 44100 Hz, two channels. */
function frame(bitRateIndex: number): Uint8Array {
  const head = Uint8Array.of(0xff, 0xfb, bitRateIndex << 4, 0x00);
  const bytes = new Uint8Array(mpegHeaderAt(head, 0)!.length).fill(0x11);
  bytes.set(head);
  return bytes;
}

/** The first frame, which holds no sound, of a stream of so many. */
function claims(frames: number, encoder = 'LAME'): Uint8Array {
  const bytes = frame(9).fill(0, 4);
  bytes.set(new TextEncoder().encode('Xing'), 36);
  new DataView(bytes.buffer).setUint32(40, 1);
  new DataView(bytes.buffer).setUint32(44, frames);
  bytes.set(new TextEncoder().encode(encoder), 48);
  return bytes;
}

const gapsIn = (...parts: Uint8Array[]) => framesLost(windowOf(byteReader(opening(together(...parts))())));
const lostIn = async (...parts: Uint8Array[]) => (await gapsIn(...parts)).map(({ count }) => count);

/** Quiet at first, then loud: 40 short frames and 60 long ones whose bit rate changes. */
const stream = Array.from({ length: 100 }, (_, i) => frame(i < 40 ? 2 : 9 + (i % 4)));
const noise = (from: number, to: number) => {
  const length = stream.slice(from, to).reduce((sum, one) => sum + one.length, 0);
  return new Uint8Array(length).map((_, i) => (i * 73 + 5) % 251);
};
/** The stream with noise in place of some of its frames. */
const broken = (...gaps: [number, number][]) => {
  const parts = [...stream];
  for (const [from, to] of [...gaps].reverse()) parts.splice(from, to - from, noise(from, to));
  return parts;
};

test('a whole stream has no gaps', async () => {
  expect(await lostIn(claims(100), ...stream)).toEqual([]);
});

test('frames are counted by those around the gap, not by all', async () => {
  // By the mean of all that stood before it, it would have been 30.
  expect(await lostIn(...broken([60, 70]))).toEqual([10]);
  expect(await lostIn(...broken([10, 15]))).toEqual([5]);
});

test.each([2, 5, 9, 12, 14])(
  'a gap that one frame of bit rate %i fits into exactly is one frame',
  async (index) => {
    const one = frame(index);
    const around = [...stream.slice(40, 60), one.fill(0x22), ...stream.slice(60, 80)];
    const [lost] = await lostIn(...around);
    // What is far longer than those around it may be two of them.
    expect(lost).toBe(index === 14 ? 2 : 1);
  },
);

test('what the first frame claims makes it exact, also where bytes were cut out', async () => {
  for (let n = 1; n <= 30; n++) expect(await lostIn(claims(100), ...broken([50, 50 + n]))).toEqual([n]);
  const several = await lostIn(claims(100), ...broken([20, 23], [50, 57], [80, 82]));
  expect(several).toHaveLength(3);
  expect(several.reduce((sum, count) => sum + count)).toBe(12);
  // Half a frame here and half of another there, and all between them gone.
  const cut = [
    ...stream.slice(0, 50),
    stream[50].subarray(0, 200),
    stream[64].subarray(300),
    ...stream.slice(65),
  ];
  expect(await lostIn(claims(100), ...cut)).toEqual([15]);
});

test('a claim that cannot be, or of a stream that was cut off as well, is not believed', async () => {
  expect(await lostIn(claims(90_000), ...broken([60, 64]), stream[99].subarray(0, 300))).toEqual([4]);
  expect(await lostIn(claims(20), ...broken([60, 64]))).toEqual([4]);
  expect(await lostIn(claims(100), ...broken([60, 64]).slice(0, -20), stream[80].subarray(0, 300))).toEqual([
    4,
  ]);
  // Others than LAME may count the first frame as well.
  expect(await lostIn(claims(101, 'Else'), ...broken([60, 64]))).toEqual([4]);
});
