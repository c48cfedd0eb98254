// @ts-check
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { checkNode, hasProgram, installDebian, installPackages } from './lib/install.mjs';
import { dataFolder, projectFolder } from './lib/project.mjs';
import { giveUp, say } from './lib/say.mjs';

const HELP = `npm start [-- OPTIONS]

Starts Grento on this machine: installs packages when needed, makes or starts a private PostgreSQL
in ${dataFolder}, builds what has changed, and serves on 127.0.0.1.

  --empty        do not load the demo library into a new database
  --port N       begin looking for a free port at N (default 3000)
  --help         this text

Environment:
  DATABASE_URL         use this PostgreSQL database instead of a private one
  GRENTO_DATA          folder for the private database and the logs (default: data/ in the project)
  GRENTO_MAX_FILE_MB   largest file that is taken in (default 2048)
  GRENTO_THREADS       measuring threads (default: one for each core)

Ctrl-C stops everything in order.`;

const args = process.argv.slice(2);
if (args.includes('--help')) {
  say(HELP);
  process.exit(0);
}
let wantedPort = 3000;
for (let i = 0; i < args.length; i++) {
  if (args[i] === '--port') {
    wantedPort = Number(args[++i]);
    if (!(wantedPort > 0 && wantedPort < 65336)) giveUp('--port takes a number between 1 and 65335.');
  } else if (args[i] !== '--empty') giveUp(`Unknown option ${args[i]}; npm start -- --help lists them.`);
}

checkNode();
installPackages();
mkdirSync(dataFolder, { recursive: true });
if (!hasProgram('ffmpeg') && !installDebian(['ffmpeg'], 'The decoder of MP4 files', true))
  say('MP4 files cannot be decoded without ffmpeg; everything else works.');

const { startPostgres } = await import('./lib/postgres.mjs');
const { migrate } = await import('./lib/migrate.mjs');
const { buildWhenChanged } = await import('./lib/build.mjs');
const { portFrom, startApplication } = await import('./lib/application.mjs');

const own = !process.env.DATABASE_URL;
const server = own
  ? await startPostgres(dataFolder)
  : { url: String(process.env.DATABASE_URL), stop: () => {} };
/** @type {Awaited<ReturnType<typeof startApplication>> | null} */
let application = null;
let stopping = false;
/** @param {number} code */
const stop = async (code) => {
  if (stopping) return;
  stopping = true;
  say('\nStopping …');
  await application?.stop();
  server.stop();
  process.exit(code);
};
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

try {
  await migrate(server.url);
} catch (error) {
  say(`The database could not be brought up to date: ${error instanceof Error ? error.message : error}`);
  await stop(1);
}
await buildWhenChanged();
const port = await portFrom(wantedPort);
const crashes = { count: 0 };
application = await startApplication({
  url: server.url,
  port,
  folder: dataFolder,
  onEnd: (what, log) => {
    if (stopping) return;
    if (what === 'delivery') return say(`The simulated delivery service ended; its log is ${log}.`);
    if (what === 'tasks' && crashes.count++ < 20) {
      say(`The tasks process ended and is started again (${log}).`);
      application?.restartTasks();
      return;
    }
    say(`The ${what} process ended; its log is ${log}.`);
    void stop(1);
  },
});

if (!args.includes('--empty')) {
  const { spawn } = await import('node:child_process');
  const demo = spawn(
    process.execPath,
    [join(projectFolder, 'build', 'demo.mjs'), '--into', `http://127.0.0.1:${port}`, '--when-empty'],
    {
      stdio: ['ignore', 'inherit', 'inherit'],
    },
  );
  await new Promise((resolve) => demo.on('exit', resolve));
}
if (port !== wantedPort) say(`Port ${wantedPort} is taken; Grento uses ${port}.`);
say(`\nGrento is ready: http://127.0.0.1:${port}\n`);
