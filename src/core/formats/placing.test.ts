import { brokenOff, lostAtEnd, lostWords, placing } from './placing';

const RATE = 1000;

/** Everything that was handed on, in one piece. */
function heard(channels = 1) {
  const blocks: Float32Array[][] = [];
  const place = placing((block) => void blocks.push(block.map((one) => one.slice())), RATE, channels);
  return {
    place,
    whole: (channel = 0) => blocks.flatMap((block) => [...block[channel]]),
  };
}
const block = (length: number, value = 1, channels = 1) =>
  Array.from({ length: channels }, () => new Float32Array(length).fill(value));

test('blocks that follow each other are handed on as they are', () => {
  const { place, whole } = heard();
  place.append(block(3, 1));
  place.place(block(2, 2), 3);
  expect(whole()).toEqual([1, 1, 1, 2, 2]);
  expect(place.frames).toBe(5);
  expect(place.lost).toEqual([]);
});

test('silence of any length stands for what is lost, in every channel, and its place is told', () => {
  const { place, whole } = heard(2);
  place.append(block(100, 1, 2));
  place.place(block(5, 2, 2), 40_100);
  for (const channel of [0, 1]) {
    const all = whole(channel);
    expect(all).toHaveLength(40_105);
    expect(all.slice(100, 40_100).every((value) => value === 0)).toBe(true);
    expect(all.slice(40_100)).toEqual([2, 2, 2, 2, 2]);
  }
  expect(place.lost).toEqual([{ from: 0.1, seconds: 40 }]);
});

test('gaps with hardly a sound between them are told as one', () => {
  const { place } = heard();
  place.place(block(10), 100);
  place.place(block(10), 200);
  place.place(block(200), 300);
  place.place(block(10), 600);
  expect(place.lost).toEqual([
    { from: 0, seconds: 0.3 },
    { from: 0.5, seconds: expect.closeTo(0.1, 9) },
  ]);
});

test('what overlaps is left out, and a place too far away to be true is passed over', () => {
  const { place, whole } = heard();
  place.append(block(4, 1));
  place.place([Float32Array.of(7, 8, 9)], 2);
  expect(whole()).toEqual([1, 1, 1, 1, 9]);
  place.place(block(1, 5), 601 * RATE);
  expect(whole()).toEqual([1, 1, 1, 1, 9, 5]);
  expect(place.lost).toEqual([]);
});

test('an empty block is none', () => {
  const { place, whole } = heard();
  place.append(block(0));
  expect([whole(), place.frames]).toEqual([[], 0]);
});

test('what is lost is named place by place, then as a sum, and what the file says is held against it', () => {
  expect(lostWords([], 10, 10.001)).toEqual([]);
  expect(lostWords([{ from: 4, seconds: 3.5 }], 10, null)).toEqual([
    '3.50 s at 4.00 s could not be decoded; silence stands for it.',
  ]);
  const many = [1, 2, 3, 4, 65].map((from) => ({ from, seconds: 0.25 }));
  expect(lostWords(many, 70, 95)).toEqual([
    ...[1, 2, 3].map((from) => `0.25 s at ${from}.00 s could not be decoded; silence stands for it.`),
    '2 more places, 0.50 s in all, could not be decoded.',
    'The file says 1:35 min, but only 1:10 min are there.',
  ]);
  expect(lostAtEnd(0.261)).toBe('0.26 s at the end could not be decoded.');
  expect(brokenOff({ frames: 90_000, sampleRate: 1000 })).toBe(
    'The file breaks off after 1:30 min; what came then is missing.',
  );
});
