// @ts-check
import { spawn } from 'node:child_process';
import { chmodSync, createWriteStream, mkdirSync } from 'node:fs';
import getPort from 'get-port';
import { createConnection } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { projectFolder } from './project.mjs';
import { giveUp } from './say.mjs';

/**
 * Starts the web server and the tasks process of the built application.
 * @param {{ url: string, port: number, folder: string, env?: Record<string, string>, onEnd: (what: string, log: string) => void }} options
 */
export async function startApplication({ url, port, folder, env = {}, onEnd }) {
  const logs = join(folder, 'log');
  mkdirSync(logs, { recursive: true });
  // Names of files and places of people stand in them.
  chmodSync(logs, 0o700);
  let stopping = false;
  /** @param {string} name @param {string[]} args @param {Record<string, string>} more */
  const start = (name, args, more) => {
    const logFile = join(logs, `${name}.log`);
    const log = createWriteStream(logFile, { flags: 'a', mode: 0o600 });
    const child = spawn(process.execPath, args, {
      cwd: projectFolder,
      stdio: ['pipe', 'pipe', 'pipe'],
      env: {
        ...process.env,
        NODE_ENV: 'production',
        NEXT_TELEMETRY_DISABLED: '1',
        DATABASE_URL: url,
        GRENTO_PROCESS: name,
        ...env,
        ...more,
      },
      // Its own group: Ctrl-C reaches only the starter, which then stops everything in order.
      detached: true,
    });
    child.stdout.pipe(log);
    child.stderr.pipe(log);
    child.on('exit', () => {
      if (!stopping) onEnd(name, logFile);
    });
    return child;
  };
  // Port nought would be told only by the service itself.
  const deliveryPort = await getPort({ host: '127.0.0.1' });
  const delivery = start('delivery', [join(projectFolder, 'build', 'service.mjs'), String(deliveryPort)], {
    GRENTO_TIED: '1',
  });
  const reach = { GRENTO_TIED: '1', GRENTO_DELIVERY: `http://127.0.0.1:${deliveryPort}` };
  const tasksArgs = ['--enable-source-maps', join(projectFolder, 'build', 'tasks.mjs')];
  const tasksEnv = { ...reach, GRENTO_HASTY: 'yes' };
  let tasks = start('tasks', tasksArgs, tasksEnv);
  const webArgs = [join(projectFolder, 'scripts', 'lib', 'web.mjs'), String(port)];
  let web = start('web', webArgs, reach);
  await waitForPort(port, web, env.GRENTO_HOST);
  return {
    get tasks() {
      return tasks;
    },
    get web() {
      return web;
    },
    /** After a crash of the web server: on the port that it had. */
    restartWeb: () => {
      web = start('web', webArgs, reach);
      return web;
    },
    /** After a crash of the tasks process. */
    restartTasks: () => {
      tasks = start('tasks', tasksArgs, tasksEnv);
      return tasks;
    },
    async stop() {
      stopping = true;
      for (const child of [web, tasks, delivery]) await endChild(child);
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

/** @param {number} port @param {import('node:child_process').ChildProcess} child @param {string} [host] */
async function waitForPort(port, child, host) {
  for (let tries = 0; tries < 300; tries++) {
    if (child.exitCode !== null) break;
    if (await answers(port, host)) return;
    await sleep(100);
  }
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

/** The first port from `wanted` on that nothing listens to. @param {number} wanted */
export async function portFrom(wanted) {
  for (let port = wanted; port < wanted + 200; port++) if (!(await answers(port))) return port;
  giveUp(`No free port between ${wanted} and ${wanted + 200}.`);
}
