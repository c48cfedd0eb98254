import { decoded, DecoderStandIn } from '../../../tests/support/decoderStandIn';
import { OpenSample } from './openSample';

const RATE = 1000;

const silence = (seconds: number) => [new Float32Array(seconds * RATE)];
beforeEach(() => DecoderStandIn.install());

let nextId = 0;
/** Opens a sample that nobody opened before, and waits for its worker. */
async function open(seconds: number | null, id = `sample-${nextId++}`) {
  const events = {
    onPlayable: jest.fn<void, [Float32Array[]]>(),
    onMore: jest.fn<void, [number]>(),
    onFault: jest.fn<void, [string]>(),
  };
  const sample = new OpenSample(id, seconds, RATE);
  sample.listen(events);
  await Promise.resolve();
  return { sample, events, worker: DecoderStandIn.last };
}

test('it can be heard from the moment that its memory is there, as far as it is decoded', async () => {
  const { sample, events, worker } = await open(10);
  expect(worker!.asked).toEqual(expect.objectContaining({ playRate: RATE, durationSeconds: 10 }));
  expect(sample.channels).toBeNull();
  const channels = silence(10);
  worker!.answer({ kind: 'begun', playChannels: channels });
  await expect(sample.ready).resolves.toBe(true);
  expect(events.onPlayable).toHaveBeenCalledWith(channels);
  expect(sample.durationSeconds).toBe(10);
  expect(sample.isThere(0)).toBe(false);

  worker!.answer({ kind: 'progress', share: 0.3, decodedSeconds: 3 });
  expect(events.onMore).toHaveBeenLastCalledWith(0.3);
  expect(sample.isThere(2)).toBe(true);
  expect(sample.isThere(2.8)).toBe(false);
  // While it plays it may come nearer to the edge than where it may begin.
  expect(sample.runsOut(2.7)).toBe(false);
  expect(sample.runsOut(2.9)).toBe(true);
  expect(sample.audio).toBeNull();

  worker!.answer(decoded(silence(10), null));
  const whole = await sample.whole;
  expect(whole?.playChannels).toBe(channels);
  expect(sample.audio).toBe(whole);
  expect(events.onPlayable).toHaveBeenCalledTimes(1);
  expect(events.onMore).toHaveBeenLastCalledWith(1);
  expect(sample.isThere(9.99)).toBe(true);
  expect(sample.runsOut(9.99)).toBe(false);
});

test('near its end nothing more needs to be there', async () => {
  const { sample, worker } = await open(4);
  worker!.answer({ kind: 'begun', playChannels: silence(4) });
  worker!.answer({ kind: 'progress', share: 0.99, decodedSeconds: 4 });
  expect(sample.isThere(3.9)).toBe(true);
  expect(sample.runsOut(3.95)).toBe(false);
});

test('where its length is not known it is heard when all of it is there', async () => {
  const { sample, events, worker } = await open(null);
  worker!.answer({ kind: 'progress', share: 0.5, decodedSeconds: 2 });
  expect(events.onPlayable).not.toHaveBeenCalled();
  const channels = silence(4);
  worker!.answer(decoded(channels, channels));
  await expect(sample.ready).resolves.toBe(true);
  expect(events.onPlayable).toHaveBeenCalledWith(channels);
  expect(sample.isThere(3)).toBe(true);
});

test('where its length was not what it was said to be, what is played is told again', async () => {
  const { sample, events, worker } = await open(10);
  worker!.answer({ kind: 'begun', playChannels: silence(10) });
  const real = silence(7);
  worker!.answer(decoded(real, real));
  await sample.whole;
  expect(events.onPlayable).toHaveBeenCalledTimes(2);
  expect(events.onPlayable).toHaveBeenLastCalledWith(real);
  expect(sample.durationSeconds).toBe(7);
});

test('closed before it is there: no more is told, and its worker ends', async () => {
  const { sample, events, worker } = await open(10);
  worker!.answer({ kind: 'begun', playChannels: silence(10) });
  sample.close();
  expect(worker!.ended).toBe(true);
  worker!.answer({ kind: 'progress', share: 0.5, decodedSeconds: 5 });
  await expect(sample.whole).resolves.toBeNull();
  expect(events.onMore).not.toHaveBeenCalled();
  expect(events.onFault).not.toHaveBeenCalled();
});

test('closed before anything is there it is not ready', async () => {
  const { sample, events } = await open(10);
  sample.close();
  await expect(sample.ready).resolves.toBe(false);
  await expect(sample.whole).resolves.toBeNull();
  expect(events.onPlayable).not.toHaveBeenCalled();
});

test('what cannot be decoded says why', async () => {
  const { sample, events, worker } = await open(3);
  worker!.answer({ kind: 'failed', message: 'Pellworth.wav ends inside its format.' });
  await expect(sample.ready).resolves.toBe(false);
  await expect(sample.whole).resolves.toBeNull();
  expect(events.onFault).toHaveBeenCalledWith('Pellworth.wav ends inside its format.');
});

test('a decoder that does not start says so', async () => {
  const { sample, events, worker } = await open(3);
  worker!.onerror!({ message: '' });
  await expect(sample.whole).resolves.toBeNull();
  expect(events.onFault).toHaveBeenCalledWith('The decoder could not start.');
});

test('who listens later is told of what is there, and not of what it left', async () => {
  const { sample, worker } = await open(10);
  const channels = silence(10);
  worker!.answer({ kind: 'begun', playChannels: channels });
  worker!.answer({ kind: 'progress', share: 0.3, decodedSeconds: 3 });
  const later = { onPlayable: jest.fn(), onMore: jest.fn(), onFault: jest.fn() };
  const leave = sample.listen(later);
  expect(later.onPlayable).toHaveBeenCalledWith(channels);
  expect(later.onMore).toHaveBeenCalledWith(0.3);
  leave();
  worker!.answer({ kind: 'progress', share: 0.4, decodedSeconds: 4 });
  expect(later.onMore).toHaveBeenCalledTimes(1);
});
