import { ALL_KEYS, tonicName } from '@/core/harmony/keyNames';
import { explainRhythm } from '@/core/measurement/measure';
import { scorerOf } from '@/core/weights/weights';
import { hearSamples } from './excerpts';
import { practicePiece } from './practice';
import { practiceOneShot } from './practiceOneShots';
import { fitSound, namedSound, observeSound, type SoundItem } from './soundWeights';
import type { Truth } from './truth';

const observed = async (
  truth: Truth,
  samples: Float32Array,
  origin: 'recording' | 'practice' = 'recording',
) => {
  const heard = await hearSamples(samples);
  return observeSound(truth, heard, explainRhythm(heard), origin);
};
const hum = (seconds: number) =>
  Float32Array.from({ length: seconds * 22050 }, (_, i) => 0.3 * Math.sin(i / 9));
const oneShotTruth: Truth = { id: 'O', file: '', kind: 'oneshot', bpm: null, keyUnknown: true };

/** Loops with tones, and one-shots. */
const TONAL = [2, 3, 10, 12, 17, 18, 19, 20, 21, 22];
const loops = await Promise.all(
  TONAL.map(async (seed) => {
    const { truth, samples } = practicePiece(seed);
    return { truth, item: (await observed(truth, samples))! };
  }),
);
const oneShots = (
  await Promise.all(
    [1, 2, 3, 4, 5, 6].map((seed) => observed({ ...oneShotTruth, id: `O${seed}` }, practiceOneShot(seed))),
  )
).filter((item): item is SoundItem => item !== null);

test('the right one of 24 keys is that of the truth; without one there is none to learn', () => {
  for (const { truth, item } of loops) {
    if (!truth.key) {
      expect(item.key).toBeNull();
      continue;
    }
    const right = ALL_KEYS.filter((_, k) => item.key!.right[k]);
    expect(right).toHaveLength(1);
    expect(`${tonicName(right[0])} ${right[0].mode}`.replace('Db', 'C#')).toBe(
      `${truth.key.tonic} ${truth.key.mode}`.replace('Db', 'C#'),
    );
  }
});

test('drums have no key, and that is known; of a one-shot nobody knows it', () => {
  for (const { truth, item } of loops) expect(item.tonal!.right).toEqual([Boolean(truth.key), !truth.key]);
  for (const { tonal } of oneShots) expect(tonal).toBeNull();
});

test('one-shots and loops are told apart, songs by their length', async () => {
  for (const { oneshot } of oneShots) expect(oneshot!.right).toEqual([true, false]);
  for (const { item } of loops) expect(item.oneshot!.right).toEqual([false, true]);
  const long = await observed({ ...oneShotTruth, kind: 'song' }, hum(45));
  expect(long!.oneshot).toBeNull();
});

test('silence teaches nothing', async () => {
  expect(await observed(oneShotTruth, new Float32Array(22050))).toBeNull();
});

test('practice counts less than a recording', async () => {
  const { truth, samples } = practicePiece(10);
  const [recording, practice] = [
    (await observed(truth, samples))!,
    (await observed(truth, samples, 'practice'))!,
  ];
  expect(practice.oneshot!.weight).toBeLessThan(recording.oneshot!.weight!);
});

describe('a fit', () => {
  const items = [...loops.map(({ item }) => item), ...oneShots];
  const model = fitSound(items);
  const best = (scores: number[]) => scores.indexOf(Math.max(...scores));

  test('knows what it was fitted on', () => {
    for (const stage of ['key', 'oneshot'] as const) {
      const choices = items.flatMap((item) => item[stage] ?? []);
      const right = choices.filter((choice) => choice.right[best(choice.rows.map(scorerOf(model[stage])))]);
      expect([stage, right.length / choices.length > 0.85]).toEqual([stage, true]);
    }
  });

  test('is stored by the names of the decisions', () => {
    const named = namedSound(
      model,
      items.map((item) => ({ item, model })),
    );
    expect(Object.keys(named)).toEqual(['keys', 'tonal', 'oneshot']);
    for (const { temperature, standard } of Object.values(named)) {
      expect(temperature).toBeGreaterThan(0);
      expect(Object.keys(standard).length).toBeGreaterThan(5);
    }
  });
});
