import pg from 'pg';

/** 64-bit integers here are identifiers and byte counts well below 2^53. */
pg.types.setTypeParser(pg.types.builtins.INT8, Number);
/** Times travel as ISO text; the pool's sessions are set to UTC. */
pg.types.setTypeParser(pg.types.builtins.TIMESTAMPTZ, (text) => new Date(text).toISOString());

/** What statements run on: the pool, or one client inside a transaction. */
export type Queryable = pg.Pool | pg.PoolClient;

let pool: pg.Pool | null = null;
let hasty: pg.Pool | null = null;

/** The address of the database. Throws when the environment does not tell it. */
export function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set; start Grento with `npm start`');
  return url;
}

/** The process's pool of connections, made at first use. */
export function database(): pg.Pool {
  // What measuring finds can be found again: its process need not wait for the disk.
  return (pool ??= makePool(process.env.GRENTO_HASTY === 'yes'));
}

/**
 * Connections whose commits do not wait for the disk. For what is either repeated after a crash of the machine
 * (progress) or made lasting by a later commit of `database()`, before which nothing counts (parts of a file):
 * the server writes commits in their order.
 */
export function hastyDatabase(): pg.Pool {
  return (hasty ??= makePool(true));
}

function makePool(isHasty: boolean): pg.Pool {
  const made = new pg.Pool({
    connectionString: databaseUrl(),
    max: Number(process.env.GRENTO_POOL ?? 10),
    idleTimeoutMillis: 30_000,
    options: isHasty ? '-c synchronous_commit=off' : undefined,
  });
  // An idle connection that breaks (server restart) is replaced by the pool; it must not end the process.
  made.on('error', () => {});
  return made;
}

/** Ends the pools; a later `database()` makes a new one. */
export async function closeDatabase(): Promise<void> {
  const ending = [pool, hasty];
  pool = hasty = null;
  await Promise.all(ending.map((one) => one?.end()));
}

/** How often a transaction is begun anew that waited for another which waited for it. */
const MOST_TRIES = 4;

/**
 * Runs `work` in one transaction: all of it or nothing. Two that wait for each other, as when two stems of one set
 * are measured at once, are told apart by the server, which ends one of them: that is run again from its beginning.
 */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await attempt(work);
    } catch (error) {
      const deadlock = error instanceof pg.DatabaseError && error.code === '40P01';
      if (!deadlock || tries === MOST_TRIES) throw error;
    }
  }
}

async function attempt<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
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
