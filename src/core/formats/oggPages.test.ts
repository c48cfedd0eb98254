import { opening, together } from '../../../tests/support/bytes';
import { byteReader } from './byteReader';
import { oggCrc32 } from './checksums';
import { oggPages, packetsOf, type OggPage } from './oggPages';
import { windowOf } from './window';

/** A page as RFC 3533 says, with pieces of packets of the given lengths, their bytes counted on from `fill`. */
function page(sequence: number, lacing: number[], granule = -1, flags = 0, fill = 0): Uint8Array {
  const body = lacing.reduce((sum, piece) => sum + piece, 0);
  const bytes = new Uint8Array(27 + lacing.length + body);
  const view = new DataView(bytes.buffer);
  bytes.set([0x4f, 0x67, 0x67, 0x53, 0, flags]);
  view.setBigInt64(6, BigInt(granule), true);
  view.setUint32(14, 4242, true);
  view.setUint32(18, sequence, true);
  bytes[26] = lacing.length;
  bytes.set(lacing, 27);
  for (let i = 0; i < body; i++) bytes[27 + lacing.length + i] = fill + i;
  view.setUint32(22, oggCrc32(bytes), true);
  return bytes;
}

async function pagesIn(bytes: Uint8Array, blockSize?: number): Promise<OggPage[]> {
  const pages: OggPage[] = [];
  for await (const one of oggPages(windowOf(byteReader(opening(bytes, blockSize)())))) pages.push(one);
  return pages;
}

const stream = [page(0, [30], 0, 2), page(1, [255, 10, 40], 960), page(2, [12], 1920, 4)];

test.each([1, 7, 28, 100_000])('pages are read with what they say, from blocks of %d bytes', async (size) => {
  const pages = await pagesIn(together(...stream), size);
  expect(
    pages.map(({ sequence, granule, isFirst, isLast, serial }) => [
      sequence,
      granule,
      isFirst,
      isLast,
      serial,
    ]),
  ).toEqual([
    [0, 0, true, false, 4242],
    [1, 960, false, false, 4242],
    [2, 1920, false, true, 4242],
  ]);
  expect(pages.map(({ bytes }) => bytes)).toEqual(stream);
});

test('a page with a flipped bit is left out, and with it nothing else', async () => {
  const whole = together(...stream);
  for (const at of [0, 5, 26, 40]) {
    const damaged = whole.slice();
    damaged[stream[0].length + at] ^= 1;
    expect((await pagesIn(damaged)).map(({ sequence }) => sequence)).toEqual([0, 2]);
  }
});

test('rubbish between pages, a false sync and a page that is cut short are passed over', async () => {
  const rubbish = Uint8Array.of(1, 0x4f, 0x4f, 0x67, 0x67, 0x53, 0, 9, 0x4f);
  const bytes = together(rubbish, stream[0], rubbish, stream[1], stream[2].subarray(0, 20));
  expect((await pagesIn(bytes)).map(({ sequence }) => sequence)).toEqual([0, 1]);
  expect(await pagesIn(new Uint8Array(0))).toEqual([]);
});

test('a page with a flag that there is none of is no page, whatever its checksum', async () => {
  expect(await pagesIn(together(page(0, [30], 0, 2), page(1, [9], 5, 8), page(2, [9], 9)))).toHaveLength(2);
});

test('packets end where a piece is shorter than 255, over pages as well', async () => {
  const held: Uint8Array[] = [];
  const pages = await pagesIn(together(page(0, [255, 3, 5, 255]), page(1, [0, 255]), page(2, [2, 7])));
  const lengths = pages.map((one) => packetsOf(one, held).map(({ length }) => length));
  expect(lengths).toEqual([[258, 5], [255], [257, 7]]);
  expect(held).toEqual([]);
});
