import { setTimeout as pause } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { USUAL_NAME } from '../src/library/recipes/aims';
import { mirrorShelf, type Mirroring } from '../src/server/mirror';
import { isBusy, UserError } from '../src/server/userError';
import { closeDatabase } from '../src/store/database';

/** What `scripts/mirror.mjs` runs once the database is there. */
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    search: { type: 'string', default: '' },
    saved: { type: 'string' },
    folders: { type: 'string', default: '{kind}' },
    names: { type: 'string', default: USUAL_NAME },
    watch: { type: 'boolean' },
    empty: { type: 'boolean', default: false },
  },
});
const EVERY_MS = 10_000;
const aborting = new AbortController();
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => aborting.abort());
const { isTTY } = process.stdout;

const figures = new Intl.NumberFormat('en');
function told({ unchanged, written, removed, isWhole }: Mirroring, seconds: number): string {
  const counts = `${figures.format(unchanged)} unchanged, ${figures.format(written)} written, ${figures.format(removed)} removed`;
  return isWhole ? `${counts}, ${seconds.toFixed(1)} s` : `Stopped: ${counts}; run it again to go on.`;
}

async function once(): Promise<Mirroring> {
  return mirrorShelf({
    folder: positionals[0],
    ...{ search: values.search, saved: values.saved ?? null, isEmptied: values.empty },
    ...{ folders: values.folders, template: values.names, signal: aborting.signal },
    tell: (done, of) => isTTY && process.stdout.write(`\r${figures.format(done)} of ${figures.format(of)} `),
  });
}

const rest = () => pause(EVERY_MS, undefined, { signal: aborting.signal }).catch(() => {});

let before = '';
try {
  do {
    const began = performance.now();
    const result = await once().catch((error: unknown) => {
      // Whoever watches waits for a database that is being restarted.
      if (!values.watch || !isBusy(error)) throw error;
      return null;
    });
    if (result === null) {
      await rest();
      continue;
    }
    const { troubles, written, removed, isWhole } = result;
    if (isTTY && written > 0) process.stdout.write('\r');
    // While it watches, only what happens is told.
    if (before === '' || written + removed > 0 || !isWhole)
      console.log(told(result, (performance.now() - began) / 1000));
    const now = troubles.join('\n');
    if (now !== '' && now !== before) console.error(now);
    before = now || ' ';
    process.exitCode = troubles.length > 0 || !isWhole ? 1 : 0;
    if (values.watch) await rest();
  } while (values.watch && !aborting.signal.aborted);
} catch (error) {
  if (!(error instanceof UserError) && !isBusy(error)) throw error;
  console.error(
    error instanceof UserError
      ? error.message
      : 'The database does not answer; nothing is lost, run it again.',
  );
  process.exitCode = 1;
} finally {
  await closeDatabase();
}
