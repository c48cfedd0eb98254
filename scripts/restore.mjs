// @ts-check
// Makes a backup the library: `npm run restore -- FILE [--replace]`.
import { parseArgs } from 'node:util';
import { BackupError, restore } from './lib/backups.mjs';
import { onOwnDatabase } from './lib/ownDatabase.mjs';
import { dataFolder } from './lib/project.mjs';
import { alreadyRunning } from './lib/running.mjs';
import { say } from './lib/say.mjs';

const HELP = `npm run restore -- FILE [--replace]

Makes a backup (npm run backup) the library, while Grento does not run. It is read beside the library, every original compared with its
checksum, brought up to today's schema, and only then put in its place. A library that is there is refused; --replace puts it aside,
where it stays as a database whose name is told.`;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { replace: { type: 'boolean' }, help: { type: 'boolean' } },
});
if (values.help || positionals.length !== 1) {
  say(HELP);
  process.exit(values.help ? 0 : 2);
}
await onOwnDatabase(
  async (url, signal) => {
    if (!process.env.DATABASE_URL && alreadyRunning(dataFolder))
      throw new BackupError('Grento runs on this data; stop it first.');
    const { samples, originals, aside } = await restore({
      ...{ url, file: positionals[0], replaces: values.replace, tell: say, signal },
    });
    say(
      `The library is that of ${positionals[0]}: ${samples} samples, ${originals} originals, all as their checksums say.`,
    );
    if (aside) say(`What was there before is kept in the database ${aside}.`);
  },
  { makes: true },
);
