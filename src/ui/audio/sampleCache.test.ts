import { decoded, DecoderStandIn } from '../../../tests/support/decoderStandIn';
import { SampleCache } from './sampleCache';

const RATE = 1000;
/** One second of mono, bytes. */
const SECOND = 4 * RATE;

beforeEach(() => DecoderStandIn.install());

/** Takes a sample of some seconds and decodes it. */
async function taken(cache: SampleCache, id: string, seconds: number, sampleRate = RATE) {
  const sample = cache.take(id, null);
  const own = [new Float32Array(seconds * sampleRate)];
  const played = sampleRate === RATE ? own : [new Float32Array(seconds * RATE)];
  DecoderStandIn.of(id)!.answer(decoded(own, played, sampleRate));
  await sample.whole;
  return sample;
}

test('what two use is decoded once, and there for who comes back', async () => {
  const cache = new SampleCache(() => RATE, 10 * SECOND);
  const sample = cache.take('trapdoor', 3);
  expect(cache.take('trapdoor', 3)).toBe(sample);
  expect(DecoderStandIn.all).toHaveLength(1);
  cache.giveBack(sample);
  // One still waits for it.
  expect(DecoderStandIn.last!.ended).toBe(false);
  const channels = [new Float32Array(3 * RATE)];
  DecoderStandIn.last!.answer(decoded(channels, channels));
  await sample.whole;
  cache.giveBack(sample);
  expect(cache.take('trapdoor', 3)).toBe(sample);
  expect(DecoderStandIn.all).toHaveLength(1);
});

test('what nobody waits for is not decoded any further', () => {
  const cache = new SampleCache(() => RATE, 10 * SECOND);
  const sample = cache.take('curtain', 3);
  cache.giveBack(sample);
  expect(DecoderStandIn.last!.ended).toBe(true);
  expect(cache.take('curtain', 3)).not.toBe(sample);
});

test('beyond its bound those that were used longest ago go; those in use stay, however large', async () => {
  const cache = new SampleCache(() => RATE, 10 * SECOND);
  const first = await taken(cache, 'first', 4);
  const second = await taken(cache, 'second', 4);
  const third = await taken(cache, 'third', 4);
  expect(cache.bytes).toBe(12 * SECOND);
  cache.giveBack(second);
  // Nothing else can go.
  expect(cache.bytes).toBe(8 * SECOND);
  cache.giveBack(third);
  cache.giveBack(first);
  expect(cache.bytes).toBe(8 * SECOND);
  await taken(cache, 'fourth', 5);
  expect(cache.bytes).toBe(13 * SECOND);
  cache.giveBack(cache.take('first', null));
  // The third was used longer ago than the first.
  expect(cache.bytes).toBe(9 * SECOND);
  expect(cache.take('first', null)).toBe(first);
});

test('audio at two rates takes memory at both', async () => {
  const cache = new SampleCache(() => RATE);
  await taken(cache, 'slower', 2, RATE / 2);
  expect(cache.bytes).toBe(3 * SECOND);
});

test('what could not be decoded is tried again', async () => {
  const cache = new SampleCache(() => RATE);
  const sample = cache.take('broken', null);
  DecoderStandIn.last!.answer({ kind: 'failed', message: 'It ends too soon.' });
  await sample.whole;
  expect(sample.fault).toBe('It ends too soon.');
  expect(cache.take('broken', null)).not.toBe(sample);
  expect(DecoderStandIn.all).toHaveLength(2);
  // Who gives the first one back does not take the second away.
  cache.giveBack(sample);
  expect(DecoderStandIn.last!.ended).toBe(false);
});
