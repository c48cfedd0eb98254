import { ENGINE } from '@/core/measurement/engine';
import { browseIntake, countIntake } from '@/server/browse';
import { compareAll, engineState, stopComparing } from '@/server/engine';
import { readEntry } from '@/server/entry';
import { giveBack, measureAgain } from '@/server/tasks';
import { closeDatabase, database } from '@/store/database';
import { MOST_ATTEMPTS, takeTask } from '@/store/tasks';
import {
  emptyLibrary,
  inBulk,
  measureAll,
  measuredLoop,
  prove,
  setInBin,
  setSaved,
  settle,
} from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

/** As if what is here had been measured before an upgrade. */
const upgrade = () => database().query('update samples set engine = $1', [ENGINE.version - 1]);
const differing = async () =>
  (await browseIntake(new URLSearchParams({ show: 'measured anew' }))).rows.map(({ sampleId }) => sampleId);
const newer = async (sampleId: string) =>
  (await readEntry(sampleId)).readings.filter(
    ({ source, superseded }) => source === 'newer measurement' && !superseded,
  );
/** A loop at 100 BPM that somebody settled at half of it. */
async function halvedLoop(name: string, seed: number): Promise<string> {
  const sampleId = await measuredLoop(name, seed);
  const { settled, sequence } = await readEntry(sampleId);
  const grid = { ...settled.grid!, tempoBpm: settled.grid!.tempoBpm / 2 };
  await settle(sampleId, { base: sequence, words: 'half', patch: { grid } });
  return sampleId;
}

test('what an older engine measured is compared when somebody asks, and nothing that is settled changes', async () => {
  const same = await measuredLoop('same.wav', 5);
  const other = await halvedLoop('other.wav', 6);
  const proved = await halvedLoop('proved.wav', 7);
  await prove(proved, {
    ...{ base: (await readEntry(proved)).sequence, verdict: 'on', signedBy: 'Ada Wilmot' },
    heard: [{ label: 'beginning', verdict: 'on' }],
  });
  await setSaved(proved, true);
  const binned = await measuredLoop('binned.wav', 8);
  await setInBin(binned, true);
  expect(await engineState()).toEqual({ older: 0, comparing: 0 });
  expect(await compareAll()).toBe(0);

  await upgrade();
  expect(await engineState()).toEqual({ older: 3, comparing: 0 });
  const before = await Promise.all([same, other, proved].map((id) => readEntry(id)));
  expect(await compareAll()).toBe(3);
  expect(await compareAll()).toBe(0);
  expect(await engineState()).toEqual({ older: null, comparing: 3 });
  await measureAll();
  expect(await engineState()).toEqual({ older: 0, comparing: 0 });
  const after = await Promise.all([same, other, proved].map((id) => readEntry(id)));
  after.forEach((entry, i) => {
    expect(entry.settled).toEqual(before[i].settled);
    expect(entry.sequence).toBe(before[i].sequence);
    expect(entry.measurement).toEqual(before[i].measurement);
    expect(entry.summary.standing).toBe(before[i].summary.standing);
  });
  // Those that come out otherwise are listed, saved and proved ones as well, with both values and how sure it is.
  expect(new Set(await differing())).toEqual(new Set([other, proved]));
  expect((await countIntake(new URLSearchParams()))['measured anew']).toBe(2);
  const said = after[1].summary.todos.find(({ code }) => code === 'newer tempo');
  expect(said).toMatchObject({
    saysBpm: expect.closeTo(100, 1),
    bpm: expect.closeTo(50, 1),
    sureness: expect.any(Number),
  });
  expect(await newer(same)).toEqual([]);
  expect((await newer(other)).map(({ property }) => property)).toContain('tempo');
});

test('its values are used, or kept out, as those of any other source', async () => {
  const [used, kept, again] = [
    await halvedLoop('used.wav', 5),
    await halvedLoop('kept.wav', 6),
    await halvedLoop('again.wav', 7),
  ];
  await upgrade();
  await compareAll();
  await measureAll();
  expect(await differing()).toHaveLength(3);
  await inBulk({ do: 'choose', source: 'newer measurement' }, [used]);
  expect((await readEntry(used)).settled.grid!.tempoBpm).toBeCloseTo(100, 1);
  await inBulk({ do: 'accept', above: null }, [kept]);
  expect((await readEntry(kept)).settled.grid!.tempoBpm).toBeCloseTo(50, 1);
  expect(await differing()).toEqual([again]);
  await measureAgain(again, {});
  await measureAll();
  expect(await newer(again)).toEqual([]);
  expect(await differing()).toEqual([]);
});

test('a comparison neither takes the place of a measurement that somebody asked for, nor survives its cancelling', async () => {
  const [asked, waiting] = [await measuredLoop('asked.wav', 5), await measuredLoop('waiting.wav', 6)];
  await upgrade();
  await measureAgain(asked, { range: { low: 150, high: 220 } });
  expect(await compareAll()).toBe(1);
  expect(await stopComparing()).toBe(1);
  await measureAll();
  expect((await readEntry(asked)).settled.grid!.tempoBpm).toBeCloseTo(200, 0);
  expect(await engineState()).toEqual({ older: 1, comparing: 0 });
  expect((await readEntry(waiting)).summary.measuring).toBeNull();
});

test('a comparison that ends its process each time takes nothing from the sample', async () => {
  const sampleId = await measuredLoop('heavy.wav', 5);
  const before = await readEntry(sampleId);
  await upgrade();
  await compareAll();
  for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++)
    await giveBack((await takeTask(1, ['measure']))!, 'it was killed');
  const after = await readEntry(sampleId);
  expect(after.summary).toMatchObject({ fault: null, standing: before.summary.standing, measuring: null });
  expect(after.settled).toEqual(before.settled);
  expect(await engineState()).toEqual({ older: 0, comparing: 0 });
});

test('a file that can be read no more keeps what was measured of it', async () => {
  const sampleId = await measuredLoop('rotten.wav', 5);
  const before = await readEntry(sampleId);
  await upgrade();
  await database().query(
    'update original_chunks set bytes = set_byte(bytes, 2000, (get_byte(bytes, 2000) + 1) % 256)',
  );
  await compareAll();
  await measureAll();
  const after = await readEntry(sampleId);
  expect(after.measurement).toEqual(before.measurement);
  expect(after.settled).toEqual(before.settled);
  expect(await engineState()).toEqual({ older: 0, comparing: 0 });
});
