import pg from 'pg';

/** 64-bit integers here are identifiers and byte counts well below 2^53. */
pg.types.setTypeParser(pg.types.builtins.INT8, Number);
/** Times travel as ISO text; the pool's sessions are set to UTC. */
pg.types.setTypeParser(pg.types.builtins.TIMESTAMPTZ, (text) => new Date(text).toISOString());

/** What statements run on: the pool, or one client inside a transaction. */
export type Queryable = pg.Pool | pg.PoolClient;

let pool: pg.Pool | null = null;

/** The address of the database. Throws when the environment does not tell it. */
export function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set; start Grento with `npm start`');
  return url;
}

/** The process's pool of connections, made at first use. */
export function database(): pg.Pool {
  if (!pool) {
    pool = new pg.Pool({
      connectionString: databaseUrl(),
      max: Number(process.env.GRENTO_POOL ?? 10),
      idleTimeoutMillis: 30_000,
    });
    // An idle connection that breaks (server restart) is replaced by the pool; it must not end the process.
    pool.on('error', () => {});
  }
  return pool;
}

/** Ends the pool; a later `database()` makes a new one. */
export async function closeDatabase(): Promise<void> {
  const ending = pool;
  pool = null;
  await ending?.end();
}

/** Runs `work` in one transaction: all of it or nothing. */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await database().connect();
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch(() => {});
    throw error;
  } finally {
    client.release();
  }
}
