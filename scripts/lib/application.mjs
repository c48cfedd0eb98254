// @ts-check
import { spawn } from 'node:child_process';
import { createWriteStream, mkdirSync } from 'node:fs';
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
  mkdirSync(join(folder, 'log'), { recursive: true });
  let stopping = false;
  /** @param {string} name @param {string[]} args @param {Record<string, string>} more */
  const start = (name, args, more) => {
    const logFile = join(folder, 'log', `${name}.log`);
    const log = createWriteStream(logFile, { flags: 'a' });
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
  const web = start('web', [join(projectFolder, 'scripts', 'lib', 'web.mjs'), String(port)], {
    ...reach,
  });
  await waitForPort(port, web);
  return {
    get tasks() {
      return tasks;
    },
    web,
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

/** @param {number} port @param {import('node:child_process').ChildProcess} child */
async function waitForPort(port, child) {
  for (let tries = 0; tries < 300; tries++) {
    if (child.exitCode !== null) break;
    if (await answers(port)) return;
    await sleep(100);
  }
  giveUp('The web server did not start; see data/log/web.log.');
}

/** @param {number} port @returns {Promise<boolean>} */
function answers(port) {
  return new Promise((resolve) => {
    const socket = createConnection({ port, host: '127.0.0.1' });
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
