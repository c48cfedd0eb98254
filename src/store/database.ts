import { AsyncLocalStorage } from 'node:async_hooks';
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

/** All connections are in use, or the server does not answer: what was asked may be asked again. */
class BusyError extends Error {
  override name = 'BusyError';
}

/** Whether the present work holds a client: it must not wait for a second one, which may never come. */
const inTransaction = new AsyncLocalStorage<boolean>();

/**
 * The process's pool of connections, made at first use. Throws inside a transaction: what is asked there goes
 * through its own client, or ten at once would wait for each other for ever.
 */
export function database(): pg.Pool {
  if (inTransaction.getStore())
    throw new Error('the pool was asked for inside a transaction, which has a client of its own');
  // What measuring finds can be found again: its process need not wait for the disk.
  return (pool ??= makePool(process.env.GRENTO_HASTY === 'yes'));
}

/**
 * Connections whose commits do not wait for the disk. For what is either repeated after a crash of the machine
 * (progress) or made lasting by a later commit of `database()`, before which nothing counts (parts of a file):
 * the server writes commits in their order.
 */
export function hastyDatabase(): pg.Pool {
  if (inTransaction.getStore())
    throw new Error('the pool was asked for inside a transaction, which has a client of its own');
  return (hasty ??= makePool(true));
}

let arrivals: pg.Pool | null = null;

/** Files that can arrive at once. */
const MOST_ARRIVALS = 40;

/** What is locked by name: each kind has names of its own. */
const LOCKED = { arrival: 2, job: 4, mirror: 5 } as const;

/**
 * Runs `work` while this process holds the lock of a name, or without it (`isMine` false) where another one, which lives, has it. The lock is
 * a connection's own: when the process dies it is free at once.
 */
async function whileLocked<T>(
  kind: keyof typeof LOCKED,
  name: string,
  work: (isMine: boolean) => Promise<T>,
): Promise<T> {
  arrivals ??= makePool(false, MOST_ARRIVALS);
  const client = await arrivals.connect();
  const lock = `hashtextextended($1, ${LOCKED[kind]})`;
  try {
    const { rows } = await client.query(`select pg_try_advisory_lock(${lock}) as mine`, [name]);
    try {
      return await work(rows[0].mine);
    } finally {
      if (rows[0].mine) await client.query(`select pg_advisory_unlock(${lock})`, [name]).catch(() => {});
    }
  } finally {
    client.release();
  }
}

/** Runs `work` while a file arrives; `isAlone`: nobody else who lives sends the same. */
export const whileArriving = <T>(key: string, work: (isAlone: boolean) => Promise<T>): Promise<T> =>
  whileLocked('arrival', key, work);

/** Runs a job unless it is being run already, here or in another process. */
export const alone = (name: string, job: () => Promise<void>): Promise<void> =>
  whileLocked('job', name, async (isMine) => {
    if (isMine) await job();
  });

/** Runs `work` while this process keeps a folder up to date; `isAlone`: nobody else who lives does. */
export const whileMirroring = <T>(folder: string, work: (isAlone: boolean) => Promise<T>): Promise<T> =>
  whileLocked('mirror', folder, work);

/** How long is waited for a connection, a lock, a statement, and for the next statement of a transaction, ms. */
const LIMITS = { connection: 15_000, lock: 20_000, statement: 120_000, idle: 60_000 };

function makePool(isHasty: boolean, most = Number(process.env.GRENTO_POOL ?? 10)): pg.Pool {
  const made = new pg.Pool({
    connectionString: databaseUrl(),
    max: most,
    idleTimeoutMillis: 30_000,
    connectionTimeoutMillis: LIMITS.connection,
    options: [
      `-c lock_timeout=${LIMITS.lock}`,
      `-c statement_timeout=${LIMITS.statement}`,
      `-c idle_in_transaction_session_timeout=${LIMITS.idle}`,
      // Answers are small and wanted at once: compiling them takes longer than running them.
      '-c jit=off',
      ...(isHasty ? ['-c synchronous_commit=off'] : []),
    ].join(' '),
  });
  // An idle connection that breaks (server restart) is replaced by the pool; it must not end the process.
  made.on('error', () => {});
  return made;
}

/** Ends the pools; a later `database()` makes a new one. */
export async function closeDatabase(): Promise<void> {
  const ending = [pool, hasty, arrivals];
  pool = hasty = arrivals = null;
  await Promise.all(ending.map((one) => one?.end()));
}

/** What was read stands no more: the transaction is begun again. */
export class MovedOnError extends Error {
  override name = 'MovedOnError';
}

/** How often a transaction is begun again that waited for another which waited for it, or was overtaken. */
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
      if ((!deadlock && !(error instanceof MovedOnError)) || tries === MOST_TRIES) throw error;
    }
  }
}

/**
 * Codes of errors that say nothing about what was asked: waiting for locks or statements took too long, the server is restarting,
 * full or gone (PostgreSQL's classes 08, 53 and 57P0, and the system's own for broken lines).
 */
const TROUBLE = /^(55P03|57014|25P03|08...|53...|57P0.|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/;
/** The driver gives some of them no code. */
const TROUBLE_WORDS =
  /^(Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error)/;

/**
 * Whether an error, of this thread or another, says only that the database was busy or away: what was asked may be asked
 * again.
 */
export function isDatabaseTrouble(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code } = error as { code?: unknown };
  return (
    error.name === 'BusyError' ||
    (typeof code === 'string' && TROUBLE.test(code)) ||
    TROUBLE_WORDS.test(error.message)
  );
}

async function attempt<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await database()
    .connect()
    .catch((error: Error) => {
      throw new BusyError(`no connection to the database: ${error.message}`, { cause: error });
    });
  try {
    await client.query('begin');
    const result = await inTransaction.run(true, () => work(client));
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch(() => {});
    if (isDatabaseTrouble(error))
      throw new BusyError(`the database was busy or away: ${(error as Error).message}`, { cause: error });
    throw error;
  } finally {
    client.release();
  }
}
