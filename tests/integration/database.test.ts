import type pg from 'pg';
import { closeDatabase, database, transaction } from '@/store/database';
import { emptyLibrary } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const nameOf = async (setId: string) =>
  (await database().query('select name from stem_sets where set_id = $1', [setId])).rows[0].name;
const rename = (client: pg.PoolClient, setId: string, by: string) =>
  client.query('update stem_sets set name = name || $2 where set_id = $1', [setId, by]);

test('two transactions that wait for each other both come through, each once', async () => {
  const { rows } = await database().query(
    "insert into stem_sets (name, state, reasons) values ('a', 'proposed', '{}'), ('b', 'proposed', '{}') returning set_id as id",
  );
  const [a, b] = rows.map(({ id }) => id as string);
  let begun = 0;
  let bothHoldOne = () => {};
  const meeting = new Promise<void>((resolve) => (bothHoldOne = resolve));
  let tries = 0;
  const work = (first: string, second: string, by: string) => async (client: pg.PoolClient) => {
    tries++;
    await rename(client, first, by);
    if (++begun >= 2) bothHoldOne();
    await meeting;
    await rename(client, second, by);
  };
  await Promise.all([transaction(work(a, b, '1')), transaction(work(b, a, '2'))]);
  // One of them was begun again, under load perhaps more than once; what it had done before is gone.
  expect(tries).toBeGreaterThanOrEqual(3);
  expect([...(await nameOf(a))].sort().join('')).toBe('12a');
  expect([...(await nameOf(b))].sort().join('')).toBe('12b');
});

test('what fails measured alone: is not tried again and leaves nothing', async () => {
  let tries = 0;
  const failing = transaction(async (client) => {
    tries++;
    await client.query("insert into stem_sets (name, state, reasons) values ('a', 'proposed', '{}')");
    await client.query('select 1 / 0');
  });
  await expect(failing).rejects.toThrow('division by zero');
  expect(tries).toBe(1);
  expect((await database().query('select count(*) as n from stem_sets')).rows[0].n).toBe(0);
});
