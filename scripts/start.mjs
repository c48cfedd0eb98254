// @ts-check
import { randomBytes } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { checkNode, hasProgram, installDebian, installPackages } from './lib/install.mjs';
import { dataFolder, projectFolder } from './lib/project.mjs';
import { passphraseFile } from './lib/passphrase.mjs';
import { alreadyRunning, forgetRunning, noteRunning } from './lib/running.mjs';
import { giveUp, say } from './lib/say.mjs';
import { startOptions } from './lib/startOptions.mjs';
import { supervise } from './lib/supervise.mjs';

checkNode();
const options = startOptions(process.argv.slice(2));
if (options.roots.length) process.env.GRENTO_ROOTS = options.roots.join(delimiter);
process.env.GRENTO_DATA = dataFolder;

mkdirSync(dataFolder, { recursive: true });
const other = alreadyRunning(dataFolder);
if (other) {
  say(
    other.address
      ? `Grento runs on this data already: ${other.address}`
      : 'Grento is just being started on this data, in another window.',
  );
  process.exit(0);
}
noteRunning(dataFolder, null);
process.on('exit', () => forgetRunning(dataFolder));

const passphrase = await passphraseFile(dataFolder, {
  ask: options.asksPassphrase,
  drop: options.dropsPassphrase,
});
const { host } = options;
if (host !== null && !passphrase)
  giveUp(
    `Listening on ${host} lets other machines in; that wants a passphrase: npm start -- --host ${host} --passphrase`,
  );

installPackages();
if (!hasProgram('ffmpeg') && !installDebian(['ffmpeg'], 'The decoder of MP4 files', true))
  say('MP4 files cannot be decoded without ffmpeg; everything else works.');

const { startPostgres } = await import('./lib/postgres.mjs');
const { migrate } = await import('./lib/migrate.mjs');
const { buildWhenChanged } = await import('./lib/build.mjs');
const { portFrom, startApplication } = await import('./lib/application.mjs');

const own = !process.env.DATABASE_URL;
const server = own
  ? await startPostgres(dataFolder)
  : { url: String(process.env.DATABASE_URL), stop: () => {}, isRunning: () => true, restart: () => true };
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
const port = await portFrom(options.port);
const inside = randomBytes(24).toString('hex');
const supervisor = supervise({ database: server, isStopping: () => stopping });
application = await startApplication({
  url: server.url,
  port,
  folder: dataFolder,
  env: {
    ...(passphrase ? { GRENTO_PASSPHRASE_FILE: passphrase, GRENTO_INSIDE: inside } : {}),
    ...(host !== null ? { GRENTO_HOST: host } : {}),
  },
  onEnd: (part, log, restart) => void supervisor.ended(part, log, restart),
});

// All addresses of a machine are reached by its own.
const address = `http://${host === null || host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host}:${port}`;
if (!options.isEmpty) {
  const { spawn } = await import('node:child_process');
  const demo = spawn(
    process.execPath,
    [join(projectFolder, 'build', 'demo.mjs'), '--into', address, '--when-empty'],
    {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, GRENTO_INSIDE: inside },
    },
  );
  await new Promise((resolve) => demo.on('exit', resolve));
}
if (port !== options.port) say(`Port ${options.port} is taken; Grento uses ${port}.`);
noteRunning(dataFolder, address);
say(`\nGrento is ready: ${address}\n`);
if (passphrase) say('It asks for the passphrase.');
else say('Whoever has an account on this machine can open it; --passphrase changes that.');
