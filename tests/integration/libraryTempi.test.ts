import { encodeWave } from '@/core/formats/encodeWave';
import { readEntry } from '@/server/entry';
import { changeSettings } from '@/server/settings';
import { closeDatabase, database } from '@/store/database';
import { readProvedTempi } from '@/store/provedTempi';
import { halfTime } from '../support/music';
import { bring, emptyLibrary, measureAll } from '../support/library';

beforeEach(emptyLibrary);
afterEach(() => jest.restoreAllMocks());
afterAll(closeDatabase);

/** As if so many samples of one folder had been proved at these tempi. */
async function proved(folder: string, tempi: readonly number[]) {
  for (const [i, bpm] of tempi.entries()) {
    const bytes = encodeWave([new Float32Array(1000 + i).fill(bpm / 1000)], 8000);
    const { sampleId } = await bring(`${folder} ${i}.wav`, bytes, folder);
    await database().query(
      "update settled set proof = 'current', tempo_bpm = $2, one_seconds = 0, beats_per_bar = 4, beat_unit = 4, kind = 'loop' where sample_id = $1",
      [sampleId, bpm],
    );
  }
  await database().query("delete from tasks where kind = 'measure'");
}

/** At 120 BPM by itself, with 60 in doubt. */
async function measuredHalfTime() {
  const { left, right, sampleRate } = halfTime();
  const { sampleId } = await bring('Half time.wav', encodeWave([left, right], sampleRate));
  await measureAll();
  return readEntry(sampleId);
}

test('what lies in one folder at one tempo counts once, and only what is proved counts', async () => {
  await proved('Parade', [60, 60.02, 61, 61]);
  await proved('Cellar', [60]);
  await database().query("update settled set proof = null where tempo_bpm > 60.9 and name like '%3%'");
  expect((await readProvedTempi()).sort()).toEqual([60, 60, 61]);
});

test('the library’s proved tempi decide between two levels; told not to, they have no say', async () => {
  await proved(
    'Slow',
    Array.from({ length: 24 }, (_, i) => 56 + i / 3),
  );
  await changeSettings({ learnsTempi: false });
  const alone = await measuredHalfTime();
  expect(alone.settled.grid!.tempoBpm).toBeCloseTo(120, 1);
  await database().query('delete from samples where sample_id = $1', [alone.summary.sampleId]);

  await changeSettings({ learnsTempi: true });
  // What was known half a minute ago is asked anew.
  const now = Date.now;
  jest.spyOn(Date, 'now').mockImplementation(() => now() + 60_000);
  const told = await measuredHalfTime();
  expect(told.settled.grid!.tempoBpm).toBeCloseTo(60, 1);
  expect(told.measurement!.remarks).toContainEqual({ code: 'as in library', bpm: expect.closeTo(120, 0) });
});
