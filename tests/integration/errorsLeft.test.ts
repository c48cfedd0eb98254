import { errorsLeft } from '@/server/errorsLeft';
import { browseIntake } from '@/server/browse';
import { readEntry } from '@/server/entry';
import { closeDatabase } from '@/store/database';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll, prove, setInBin, setSaved, settle, step } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const tempi = async (of = 'all') => (await errorsLeft(new URLSearchParams({ of }))).tempo;
const leastCertain = () =>
  browseIntake(new URLSearchParams({ show: 'measured tempo', sort: 'tempo confidence', direction: 'up' }));

test('measured tempi are guesses until they are proved, accepted or chosen; the least certain are listed first', async () => {
  const ids: string[] = [];
  for (const [i, bpm] of [84, 100, 121.3, 143].entries())
    ids.push((await bring(`loop ${i}.wav`, drumFile({ bpm, bars: 4, one: 0.2, seed: i + 3 }))).sampleId);
  expect(await tempi()).toMatchObject({ guesses: 0, expected: 0 });
  await measureAll();
  const measured = await Promise.all(ids.map((id) => readEntry(id)));
  const missing = measured.map(({ measurement }) => 1 - measurement!.tempo!.sureness);
  const sum = (values: readonly number[]) => values.reduce((all, value) => all + value, 0);
  const all = await tempi();
  expect(all).toMatchObject({ guesses: 4, first: 4 });
  expect(all.expected).toBeCloseTo(sum(missing), 5);
  expect(all.expectedInFirst).toBeCloseTo(all.expected, 5);
  const listed = (await leastCertain()).rows.map(({ tempoSureness }) => tempoSureness!);
  expect(listed).toEqual([...listed].sort((a, b) => a - b));
  expect(listed).toHaveLength(4);

  // A proof, an acceptance and a tempo of one's own settle one each; taken back, it is a guess again.
  await prove(ids[0], {
    ...{ base: measured[0].sequence, verdict: 'on', signedBy: 'Ada Wilmot' },
    heard: [{ label: 'beginning', verdict: 'on' }],
  });
  expect((await tempi()).guesses).toBe(3);
  await settle(ids[1], { base: measured[1].sequence, words: 'accepted', patch: { accepted: true } });
  expect((await tempi()).guesses).toBe(2);
  const { grid } = measured[2].settled;
  await settle(ids[2], {
    ...{ base: measured[2].sequence, words: 'half the tempo' },
    patch: { grid: { ...grid!, tempoBpm: grid!.tempoBpm / 2 } },
    reading: { property: 'tempo', value: grid!.tempoBpm / 2, source: 'taps', sureness: 0.9, detail: '' },
  });
  const left = await tempi();
  expect(left.guesses).toBe(1);
  expect(left.expected).toBeCloseTo(missing[3], 5);
  expect((await leastCertain()).rows.map(({ sampleId }) => sampleId)).toEqual([ids[3]]);
  await step(ids[2], 'undo');
  expect((await tempi()).guesses).toBe(2);
  // What lies in the bin is of no matter; what is saved unproved still is.
  await setInBin(ids[3], true);
  expect((await tempi()).guesses).toBe(1);
  await setSaved(ids[2], true);
  expect(await tempi('saved')).toMatchObject({ guesses: 1 });
  expect((await tempi('saved')).expected).toBeCloseTo(missing[2], 5);
});

test('a query that is not understood is refused', async () => {
  await expect(errorsLeft(new URLSearchParams({ of: 'some' }))).rejects.toThrow();
});
