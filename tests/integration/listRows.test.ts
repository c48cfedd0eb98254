import { ROW_RULES } from '@/library/samples/listRow';
import { sayRowsAnew } from '@/server/rowsAnew';
import { closeDatabase, database } from '@/store/database';
import { drumFile } from '../support/files';
import { askNow, bring, emptyLibrary, measureAll, measuredLoop } from '../support/library';
import { readEntry } from '@/server/entry';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

/** What lists have of all samples, but for names and words. */
const rows = async () =>
  (
    await database().query(
      `select sample_id, doubts, doubt_sorts, todos, urgency, tempo_bpm, bars, said_by,
              like_rhythm::text, like_sound::text, like_harmony::text, like_all::text from settled order by 1`,
    )
  ).rows;

/** A sample whose settled tempo its hits speak against. */
async function misfit(): Promise<string> {
  const { sampleId } = await bring('Leaning.wav', drumFile({ bpm: 120, bars: 8, seed: 31 }));
  await measureAll();
  const { grid } = (await readEntry(sampleId)).settled;
  await askNow(sampleId, {
    do: 'settle',
    words: 'a little faster',
    patch: { grid: { ...grid!, tempoBpm: 120.4 } },
  });
  return sampleId;
}

test('what a list says of the hits stays when something else of the sample changes', async () => {
  const sampleId = await misfit();
  const [before] = await rows();
  expect(JSON.stringify(before.doubts)).toMatch(/tempo|grid leans/);
  expect(before.like_rhythm).not.toMatch(/^\((0, )*0\)$/);
  await askNow(sampleId, { do: 'settle', words: 'a note', patch: { note: 'from the cellar' } });
  await askNow(sampleId, { do: 'settle', words: 'a name', patch: { title: 'Leaning on' } });
  expect(await rows()).toEqual([before]);
});

test('rows that older rules wrote are said again as measuring would say them, once', async () => {
  await misfit();
  await measuredLoop('Other.wav', 6);
  const { sampleId: unheard } = await bring('Not measured.wav', drumFile({ bpm: 90, bars: 1, seed: 7 }));
  const before = await rows();
  await database().query(
    `update settled set said_by = $1, doubts = '[]', doubt_sorts = 0, todos = '[{"code": "damaged", "weight": 1}]', urgency = 0, like_rhythm = null, like_sound = null,
            like_harmony = null, like_all = null where sample_id <> $2`,
    [ROW_RULES - 1, unheard],
  );
  expect(await sayRowsAnew()).toBeGreaterThanOrEqual(2);
  expect(await rows()).toEqual(before.map((row) => ({ ...row, said_by: ROW_RULES })));
  expect(await sayRowsAnew()).toBe(0);
});

test('it ends early when it is asked to, and goes on where it was', async () => {
  await measuredLoop('One.wav', 5);
  await database().query('update settled set said_by = 0');
  expect(await sayRowsAnew(() => true)).toBe(0);
  expect(await sayRowsAnew()).toBe(1);
});
