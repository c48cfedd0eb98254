// @ts-check
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { projectFolder } from './project.mjs';
import { giveUp, say } from './say.mjs';

/** Stops with a sentence when this Node is too old. */
export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 9)) {
    giveUp(`Grento needs Node 20.9 or newer; this is ${process.versions.node}.`);
  }
}

/** Installs the packages of the lock file when they are missing or it has changed. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(projectFolder, 'package-lock.json')))
    .digest('hex');
  const stamp = join(projectFolder, 'node_modules', '.grento-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('Installing packages …');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: projectFolder,
    stdio: 'inherit',
  });
  if (status !== 0) giveUp('The packages could not be installed; see the lines above.');
  writeFileSync(stamp, lock);
}

/**
 * Installs Debian packages when this account may; otherwise says what to run.
 * @param {string[]} packages
 * @param {string} purpose
 * @param {boolean} [optional] whether to go on without them; then the result tells
 * @returns {boolean}
 */
export function installDebian(packages, purpose, optional = false) {
  const command = `apt-get install -y ${packages.join(' ')}`;
  const isRoot = process.getuid?.() === 0;
  const sudo = !isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0;
  if ((!isRoot && !sudo) || spawnSync('apt-get', ['--version'], { stdio: 'ignore' }).status !== 0) {
    if (optional) return false;
    giveUp(`${purpose} is missing. Please run: sudo ${command}`);
  }
  say(`Installing ${packages.join(', ')} (${purpose}) …`);
  const run = (/** @type {string[]} */ args) =>
    spawnSync(sudo ? 'sudo' : 'apt-get', sudo ? ['-n', 'apt-get', ...args] : args, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status;
  run(['update', '-qq']);
  if (run(['install', '-y', '-qq', '--no-install-recommends', ...packages]) !== 0) {
    if (optional) return false;
    giveUp(`${purpose} could not be installed. Please run: sudo ${command}`);
  }
  return true;
}

/** Whether a program is found on the path. @param {string} name */
export const hasProgram = (name) => spawnSync('sh', ['-c', `command -v ${name}`]).status === 0;
