// @ts-check
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { projectFolder } from './project.mjs';
import { giveUp, say } from './say.mjs';

const SOURCES = [
  'src',
  'scripts',
  'package-lock.json',
  'next.config.ts',
  'postcss.config.mjs',
  'tsconfig.json',
];

/** Builds pages, worklets and the tasks process when their sources have changed since the last build. */
export async function buildWhenChanged() {
  const stamp = join(projectFolder, '.next', 'grento-sources');
  const now = sourcesHash();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  say('Building …');
  const { bundleBrowser, bundleNode } = await import('./bundle.mjs');
  await bundleNode([
    'src/workers/tasks.ts',
    'src/workers/taskThread.ts',
    'src/workers/gate.ts',
    'scripts/demo.ts',
    'src/delivery/service.ts',
  ]);
  await bundleBrowser();
  rmSync(stamp, { force: true });
  const { ok, output } = await buildPages();
  if (!ok) {
    rmSync(join(projectFolder, '.next'), { recursive: true, force: true });
    giveUp(`The build failed:\n${output}`);
  }
  writeFileSync(stamp, now);
}

/** @returns {Promise<{ ok: boolean, output: string }>} */
const buildPages = () =>
  new Promise((resolve) => {
    const next = join(projectFolder, 'node_modules', 'next', 'dist', 'bin', 'next');
    const child = spawn(process.execPath, [next, 'build'], {
      cwd: projectFolder,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => (output += data));
    child.on('close', (code) => resolve({ ok: code === 0, output }));
  });

function sourcesHash() {
  const hash = createHash('sha256');
  /** @param {string} path */
  const add = (path) => {
    hash.update(path).update(readFileSync(join(projectFolder, path)));
  };
  /** @param {string} folder */
  const walk = (folder) => {
    for (const entry of readdirSync(join(projectFolder, folder), { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else if (!/\.test\.tsx?$/.test(entry.name)) add(path);
    }
  };
  for (const source of SOURCES) {
    if (!existsSync(join(projectFolder, source))) continue;
    if (source.includes('.')) add(source);
    else walk(source);
  }
  return hash.digest('hex');
}
