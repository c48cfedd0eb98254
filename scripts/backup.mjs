// @ts-check
// Writes a backup of the library: `npm run backup -- FILE|FOLDER [--keep N] [--no-verify]`.
import { parseArgs } from 'node:util';
import { backUp } from './lib/backups.mjs';
import { onOwnDatabase } from './lib/ownDatabase.mjs';
import { say } from './lib/say.mjs';

const HELP = `npm run backup -- FILE|FOLDER [--keep N] [--no-verify]

Writes all of the library into one file of PostgreSQL's own format, as it is at this moment; Grento may run meanwhile. The file is read
back into a database of its own, counted, and every original compared with its checksum, before it gets its name.
A name without an extension is a FOLDER; there it is named by the time, and --keep N removes
all but the N newest. --no-verify does not read it back.`;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { keep: { type: 'string' }, 'no-verify': { type: 'boolean' }, help: { type: 'boolean' } },
});
const megabytes = new Intl.NumberFormat('en', { style: 'unit', unit: 'megabyte', maximumFractionDigits: 1 });
const keep = values.keep === undefined ? null : Number(values.keep);
if (values.help || positionals.length !== 1 || (keep !== null && !(Number.isInteger(keep) && keep > 0))) {
  say(HELP);
  process.exit(values.help ? 0 : 2);
}
await onOwnDatabase(async (url, signal) => {
  const isVerified = !values['no-verify'];
  const { file, bytes, samples, seconds, removed } = await backUp({
    ...{ url, to: positionals[0], keep, isVerified, tell: say, signal },
  });
  say(
    `${file}: ${samples} samples, ${megabytes.format(bytes / 1e6)}, ${isVerified ? 'verified' : 'not verified'}, ${seconds.toFixed(1)} s`,
  );
  for (const name of removed) say(`${name} removed`);
});
