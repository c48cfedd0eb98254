import { obey } from '@/core/playing/commands';
import { Mixer } from '@/core/playing/mixer';
import { AS_RECORDED } from '@/core/playing/voice';
import { decoded, DecoderStandIn } from '../../../tests/support/decoderStandIn';
import { SampleCache } from './sampleCache';
import { Voices } from './voices';

const RATE = 1000;
beforeEach(() => DecoderStandIn.install());

/** Voices that are told to a mixer as the audio thread would be; `level` is what is heard of them now. */
function clock() {
  const mixer = new Mixer(RATE);
  const events = { onPlayable: jest.fn(), onMore: jest.fn(), onFault: jest.fn() };
  const voices = new Voices({ tell: (message) => obey(mixer, message) }, new SampleCache(() => RATE), events);
  const level = () => {
    const [left, right] = [new Float32Array(128), new Float32Array(128)];
    mixer.render(left, right);
    return Number(left[127].toFixed(3));
  };
  return { mixer, voices, events, level };
}

const steady = (value: number, seconds = 10) => [new Float32Array(seconds * RATE).fill(value)];
/** All of a sample arrives. */
const arrives = async (id: string, value: number) => {
  const channels = steady(value);
  DecoderStandIn.of(id)!.answer(decoded(channels, channels));
  await new Promise(setImmediate);
};
const sounding = (sampleId: string, muted = false) => ({
  sampleId,
  durationSeconds: 10,
  hearing: { ...AS_RECORDED, muted },
});

test('one leads and is heard as it was recorded', async () => {
  const { mixer, voices, events, level } = clock();
  const sample = voices.open('lead', 10);
  expect(voices.areThere(0)).toBe(false);
  await arrives('lead', 0.5);
  expect(events.onPlayable).toHaveBeenCalledTimes(1);
  expect(voices.lead).toBe(sample);
  expect(voices.areThere(0)).toBe(true);
  expect(voices.loadedBeside()).toBe(1);
  mixer.start(0);
  expect(level()).toBe(0.5);
});

test('those beside it join in while it plays, each when it is there; solo again, all others go', async () => {
  const { mixer, voices, level } = clock();
  voices.open('lead', 10);
  await arrives('lead', 0.5);
  mixer.start(0);
  voices.soundTogether([sounding('lead'), sounding('a'), sounding('b')]);
  // The lead does not wait for them.
  expect(voices.runOut(3)).toBe(false);
  expect(voices.loadedBeside()).toBe(0);
  expect(level()).toBe(0.5);
  await arrives('a', 0.2);
  voices.join(1);
  level();
  expect(level()).toBe(0.7);
  expect(voices.loadedBeside()).toBe(0.5);
  // What has joined is waited for.
  DecoderStandIn.of('b')!.answer({ kind: 'begun', playChannels: steady(0.1) });
  DecoderStandIn.of('b')!.answer({ kind: 'progress', share: 0.5, decodedSeconds: 5 });
  voices.join(2);
  level();
  expect(level()).toBe(0.8);
  expect(voices.runOut(2)).toBe(false);
  expect(voices.runOut(4.9)).toBe(true);
  expect(voices.areThere(4.9)).toBe(false);

  voices.soundTogether([sounding('lead', true), sounding('a'), sounding('b', true)]);
  level();
  expect(level()).toBe(0.2);
  expect(voices.runOut(4.9)).toBe(false);
  voices.soundTogether(null);
  level();
  expect(level()).toBe(0.5);
  expect(DecoderStandIn.of('b')!.ended).toBe(true);
});

test('opening another takes all of them away', async () => {
  const { mixer, voices, level } = clock();
  voices.open('lead', 10);
  await arrives('lead', 0.5);
  voices.soundTogether([sounding('lead'), sounding('a')]);
  await arrives('a', 0.25);
  voices.open('other', 10);
  expect(mixer.playing).toBe(false);
  await arrives('other', 0.125);
  mixer.start(0);
  expect(level()).toBe(0.125);
});

test('one that cannot be decoded says so and is not waited for', async () => {
  const { voices, events } = clock();
  voices.open('lead', 10);
  await arrives('lead', 0.5);
  voices.soundTogether([sounding('lead'), sounding('a')]);
  expect(voices.areThere(0)).toBe(false);
  DecoderStandIn.of('a')!.answer({ kind: 'failed', message: 'Rope.flac is cut off.' });
  await new Promise(setImmediate);
  expect(events.onFault).toHaveBeenCalledWith('a', 'Rope.flac is cut off.');
  expect(voices.areThere(0)).toBe(true);
});
