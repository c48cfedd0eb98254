// @ts-check
// Keeps a folder of tagged copies up to date: `npm run mirror -- FOLDER [options]`.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { parseArgs } from 'node:util';
import { bundleNode } from './lib/bundle.mjs';
import { migrate } from './lib/migrate.mjs';
import { onOwnDatabase } from './lib/ownDatabase.mjs';
import { say } from './lib/say.mjs';

const HELP = `npm run mirror -- FOLDER [options]

Makes FOLDER hold tagged copies of all saved samples, for programmes that only know folders, with an M3U8 play list of each saved search;
Grento may run meanwhile. Only what changed is written; what has left the Shelf is removed; files that the mirror did not write, or that
somebody else has changed since, are never touched. What it knows of its files lies in FOLDER/.grento.

  --search WORDS     only what the Shelf finds for these: --search "loop 80-115"
  --saved NAME       only what this saved search finds
  --folders TEMPLATE folders within it: "{kind}" (usual), "{kind}/{part}", "" for none
  --names TEMPLATE   the names of the files: "{name}[ {bpm} bpm][ {key}]"
  --watch            goes on every ten seconds, until Ctrl-C
  --empty            removes all files where nothing is found any more, which is refused otherwise

Ends with 0, with 1 and sentences where something is not as it is wanted, or with 2 where the options make no sense.`;

const args = process.argv.slice(2);
const text = /** @type {const} */ ({ type: 'string' });
const yes = /** @type {const} */ ({ type: 'boolean' });
try {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { search: text, saved: text, folders: text, names: text, watch: yes, empty: yes, help: yes },
  });
  if (values.help) {
    say(HELP);
    process.exit(0);
  }
  if (positionals.length !== 1) throw new Error('One folder is to be named.');
  if (values.search !== undefined && values.saved !== undefined)
    throw new Error('--search and --saved exclude each other.');
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : error}\n\n${HELP}\n`);
  process.exit(2);
}
const [entry] = await bundleNode(['scripts/mirrorShelf.ts']);
await onOwnDatabase(async (url, signal) => {
  await migrate(url);
  const child = spawn(process.execPath, ['--enable-source-maps', entry, ...args], {
    stdio: 'inherit',
    env: { ...process.env, DATABASE_URL: url },
  });
  signal.addEventListener('abort', () => child.kill('SIGTERM'));
  const [code] = await once(child, 'exit');
  process.exitCode = code ?? 1;
});
