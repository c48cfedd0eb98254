// @ts-check
import { spawn } from 'node:child_process';
import { chmodSync, createWriteStream, mkdirSync } from 'node:fs';
import getPort, { portNumbers } from 'get-port';
import { createConnection } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { projectFolder } from './project.mjs';
import { giveUp } from './say.mjs';

/** @typedef {import('node:child_process').ChildProcess} ChildProcess */
/** @typedef {import('./supervise.mjs').Part} Part */

/**
 * Starts the web server, the tasks process and the simulated delivery service of the built application; resolves when the web server
 * answers. `onEnd` hears of each part that ends by itself, also before that, and how it is started again.
 * @param {{ url: string, port: number, folder: string, env?: Record<string, string>,
 *   onEnd: (part: Part, log: string, restart: () => void) => void }} options
 */
export async function startApplication({ url, port, folder, env = {}, onEnd }) {
  const logs = join(folder, 'log');
  mkdirSync(logs, { recursive: true });
  // Names of files and places of people stand in them.
  chmodSync(logs, 0o700);
  let stopping = false;
  /** What runs of each part. @type {Partial<Record<Part, ChildProcess>>} */
  const running = {};
  /** @param {Part} part @param {string[]} args @param {Record<string, string>} more */
  const start = (part, args, more) => {
    const logFile = join(logs, `${part}.log`);
    const log = createWriteStream(logFile, { flags: 'a', mode: 0o600 });
    const child = spawn(process.execPath, args, {
      cwd: projectFolder,
      stdio: ['pipe', 'pipe', 'pipe'],
      env: {
        ...process.env,
        NODE_ENV: 'production',
        NEXT_TELEMETRY_DISABLED: '1',
        DATABASE_URL: url,
        GRENTO_PROCESS: part,
        GRENTO_TIED: '1',
        ...env,
        ...more,
      },
      // Its own group: Ctrl-C reaches only the starter, which then stops everything in order.
      detached: true,
    });
    child.stdout.pipe(log);
    child.stderr.pipe(log);
    running[part] = child;
    child.on('exit', () => {
      if (!stopping) onEnd(part, logFile, () => stopping || start(part, args, more));
    });
  };
  // Port nought would be told only by the service itself.
  const deliveryPort = await getPort({ host: '127.0.0.1' });
  const reach = { GRENTO_DELIVERY: `http://127.0.0.1:${deliveryPort}` };
  start('delivery', [join(projectFolder, 'build', 'service.mjs'), String(deliveryPort)], {});
  start('tasks', ['--enable-source-maps', join(projectFolder, 'build', 'tasks.mjs')], {
    ...reach,
    GRENTO_HASTY: 'yes',
  });
  start('web', [join(projectFolder, 'scripts', 'lib', 'web.mjs'), String(port)], {
    ...reach,
    // By it the demo library is sent in.
    GRENTO_ADDRESS: `http://127.0.0.1:${port}`,
  });
  await waitForPort(port, env.GRENTO_HOST);
  return {
    async stop() {
      stopping = true;
      for (const part of /** @type {const} */ (['web', 'tasks', 'delivery'])) {
        const child = running[part];
        if (child) await endChild(child);
      }
    },
  };
}

/** @param {import('node:child_process').ChildProcess} child */
async function endChild(child) {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  const timer = setTimeout(() => child.kill('SIGKILL'), 8000);
  await ended;
  clearTimeout(timer);
}

/** So long the web server may take until it answers, with all its starts, ms. */
const LONGEST_START = 120_000;

/** @param {number} port @param {string} [host] */
async function waitForPort(port, host) {
  for (const end = Date.now() + LONGEST_START; Date.now() < end; await sleep(100))
    if (await answers(port, host)) return;
  giveUp('The web server did not start; see data/log/web.log.');
}

/** @param {number} port @param {string} [host] @returns {Promise<boolean>} */
function answers(port, host = '127.0.0.1') {
  return new Promise((resolve) => {
    const socket = createConnection({ port, host });
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}

/** The first port from `wanted` on that nothing listens to; any where 200 are taken. @param {number} wanted */
export const portFrom = (wanted) =>
  getPort({ host: '127.0.0.1', port: portNumbers(wanted, Math.min(65_535, wanted + 200)) });
