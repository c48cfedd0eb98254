import { keepMissingFeatures } from '@/server/likeFeatures';
import { closeDatabase, database } from '@/store/database';
import { emptyLibrary, measuredLoop } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const kept = async () =>
  (
    await database().query(
      `select sample_id, like_rhythm::text, like_sound::text, like_harmony::text, like_all::text from settled order by 1`,
    )
  ).rows;

test('features that a library from before them lacks are kept as measuring would keep them, once', async () => {
  await measuredLoop('One.wav', 5);
  await measuredLoop('Other.wav', 6);
  const measured = await kept();
  for (const row of measured) expect(Object.values(row)).not.toContain(null);
  await database().query(
    'update settled set like_rhythm = null, like_sound = null, like_harmony = null, like_all = null',
  );
  expect(await keepMissingFeatures()).toBe(2);
  expect(await kept()).toEqual(measured);
  expect(await keepMissingFeatures()).toBe(0);
});
