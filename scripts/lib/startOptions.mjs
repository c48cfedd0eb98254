// @ts-check
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { dataFolder } from './project.mjs';
import { giveUp, say } from './say.mjs';

const HELP = `npm start [-- OPTIONS]

Starts Grento on this machine: installs packages when needed, makes or starts a private PostgreSQL
in ${dataFolder}, builds what has changed, and serves on 127.0.0.1.
Where it runs on the same data already, it says where.

  --empty          do not load the demo library into a new database
  --port N         begin looking for a free port at N (default 3000)
  --root FOLDER    samples may be looked through and taken in from below this folder, and any other that
                   is named so (default: the music folder of this account, and samples/ in the project)
  --passphrase     ask for a passphrase now, and from then on of everybody who wants in
  --no-passphrase  ask for it no more
  --host ADDRESS   listen on this address; beyond this machine only with a passphrase
  --help           this text

Environment:
  DATABASE_URL         use this PostgreSQL database instead of a private one
  GRENTO_DATA          folder for the private database and the logs (default: data/ in the project)
  GRENTO_PASSPHRASE    as --passphrase, without a terminal
  GRENTO_MAX_FILE_MB   largest file that is taken in (default 2048)
  GRENTO_THREADS       measuring threads (default: one for each core)

Ctrl-C stops everything in order.`;

/**
 * What somebody wants who starts Grento; ends with a sentence where the options make no sense.
 * @param {string[]} args
 */
export function startOptions(args) {
  if (args.includes('--help')) {
    say(HELP);
    process.exit(0);
  }
  const options = {
    port: 3000,
    /** Null: this machine only. @type {string | null} */
    host: null,
    /** @type {string[]} */
    roots: [],
    isEmpty: false,
    asksPassphrase: false,
    dropsPassphrase: false,
  };
  /** What follows an option. @param {number} at @param {string} what */
  const after = (at, what) => args[at + 1] ?? giveUp(`${args[at]} wants ${what}.`);
  for (let i = 0; i < args.length; i++)
    switch (args[i]) {
      case '--port':
        options.port = Number(after(i++, 'a number'));
        if (!(options.port > 0 && options.port < 65336)) giveUp('--port takes a number between 1 and 65335.');
        break;
      case '--root': {
        const root = resolve(after(i++, 'a folder'));
        if (!existsSync(root)) giveUp(`There is no folder ${root}.`);
        options.roots.push(root);
        break;
      }
      case '--host': {
        const host = after(i++, 'an address');
        options.host = ['127.0.0.1', '::1', 'localhost'].includes(host) ? null : host;
        break;
      }
      case '--empty':
        options.isEmpty = true;
        break;
      case '--passphrase':
        options.asksPassphrase = true;
        break;
      case '--no-passphrase':
        options.dropsPassphrase = true;
        break;
      default:
        giveUp(`Unknown option ${args[i]}; npm start -- --help lists them.`);
    }
  return options;
}
