// @ts-check
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { checkNode, hasProgram, installDebian, installPackages } from './lib/install.mjs';
import { projectFolder } from './lib/project.mjs';
import { say } from './lib/say.mjs';

const PARTS = /** @type {const} */ (['format', 'lint', 'types', 'unit', 'integration', 'e2e', 'browser']);
/** @typedef {(typeof PARTS)[number]} Part */
/** Measures and checks nothing: only when it is named. */
const NAMED_ONLY = 'browser';
/** @typedef {{ passed: number, failed: number }} Count */

const HELP = `npm test [-- PART…]    parts: ${PARTS.join(', ')} (all of them when none is named)`;
const [first, ...rest] = process.argv.slice(2);
if (first === '--help') {
  say(HELP);
  process.exit(0);
}
// `npm run test:unit -- pattern` hands the pattern on to the runner.
const wanted = PARTS.filter((part) =>
  first === undefined ? part !== NAMED_ONLY : part === first || rest.includes(part),
);
const extra = rest.filter((argument) => !(/** @type {readonly string[]} */ (PARTS).includes(argument)));
if (first !== undefined && wanted.length === 0) {
  say(`Unknown part ${first}.\n${HELP}`);
  process.exit(2);
}

checkNode();
installPackages();
const testFolder = join(projectFolder, 'data', 'test');
mkdirSync(testFolder, { recursive: true });
const bin = (/** @type {string} */ name) => join(projectFolder, 'node_modules', '.bin', name);
const pinned = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };

/** @param {string} command @param {string[]} args @param {Record<string, string | undefined>} [env] @returns {Promise<boolean>} */
const run = (command, args, env = {}) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { cwd: projectFolder, stdio: 'inherit', env: { ...pinned, ...env } });
    child.on('exit', (code) => resolve(code === 0));
    child.on('error', () => resolve(false));
  });

/** @param {Promise<boolean>} check @returns {Promise<Count>} */
const one = async (check) => ((await check) ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 });

/** @param {string} folder @param {Record<string, string>} [env] @returns {Promise<Count>} */
async function jest(folder, env = {}) {
  const outputFile = join(testFolder, `jest-${folder.replace(/\W/g, '-')}.json`);
  rmSync(outputFile, { force: true });
  const ok = await run(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--no-warnings',
      join(projectFolder, 'node_modules', 'jest', 'bin', 'jest.js'),
      '--json',
      `--outputFile=${outputFile}`,
      '--silent=false',
      ...(folder === 'tests/integration' ? ['--runInBand'] : []),
      folder,
      ...extra,
    ],
    env,
  );
  if (!existsSync(outputFile)) return { passed: 0, failed: 1 };
  const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(
    readFileSync(outputFile, 'utf8'),
  );
  // A suite that does not even load has no failed tests of its own.
  return { passed: numPassedTests, failed: Math.max(numFailedTests, numFailedTestSuites, ok ? 0 : 1) };
}

/** @param {string} name @param {string[]} [settings] */
async function freshDatabase(name, settings) {
  const { startPostgres } = await import('./lib/postgres.mjs');
  const { migrate } = await import('./lib/migrate.mjs');
  const folder = join(testFolder, name);
  rmSync(folder, { recursive: true, force: true });
  const server = await startPostgres(folder, settings);
  await migrate(server.url);
  return { ...server, folder };
}

function needEncoders() {
  const missing = [
    ['flac', 'flac'],
    ['lame', 'lame'],
    ['oggenc', 'vorbis-tools'],
    ['opusenc', 'opus-tools'],
    ['ffmpeg', 'ffmpeg'],
  ].filter(([program]) => !hasProgram(program));
  if (missing.length)
    installDebian(
      missing.map(([, name]) => name),
      'Encoders for test files',
    );
}

/** @type {Record<Part, () => Promise<Count>>} */
const parts = {
  format: () => one(run(bin('prettier'), ['--check', '--log-level=warn', '.'])),
  lint: () => one(run(bin('eslint'), ['.', '--quiet'])),
  types: async () => {
    await run(bin('next'), ['typegen']);
    return one(run(bin('tsc'), ['--noEmit']));
  },
  unit: () => jest('(src|scripts/training|scripts/accuracy)/'),
  integration: async () => {
    needEncoders();
    const { bundleNode } = await import('./lib/bundle.mjs');
    await bundleNode(['src/workers/tasks.ts', 'src/workers/measureThread.ts', 'src/delivery/service.ts']);
    const server = await freshDatabase('integration');
    try {
      return await jest('tests/integration', {
        DATABASE_URL: server.url,
        GRENTO_LOG: join(server.folder, 'test.log'),
      });
    } finally {
      server.stop();
    }
  },
  e2e: () => inBrowser('e2e', ['test', ...extra], '40'),
  browser: () => inBrowser('browser', ['test', '--config', 'playwright.bench.config.ts', ...extra], '400'),
};

/**
 * Runs Playwright on the built application with a database of its own.
 * @param {string} name @param {string[]} args @param {string} largestMb @returns {Promise<Count>}
 */
async function inBrowser(name, args, largestMb) {
  if (!existsSync('/usr/bin/chromium')) installDebian(['chromium'], 'Chromium');
  needEncoders();
  const { buildWhenChanged } = await import('./lib/build.mjs');
  const { portFrom, startApplication } = await import('./lib/application.mjs');
  await buildWhenChanged();
  // Benchmarks ask the database how long its statements took.
  const settings = name === 'browser' ? ['shared_preload_libraries=pg_stat_statements'] : [];
  const server = await freshDatabase(name, settings);
  const port = await portFrom(4300);
  const application = await startApplication({
    url: server.url,
    port,
    folder: server.folder,
    env: { GRENTO_MAX_FILE_MB: largestMb },
    onEnd: (what, log) => say(`The ${what} process ended; see ${log}.`),
  });
  const report = join(testFolder, 'playwright.json');
  rmSync(report, { force: true });
  try {
    await run(bin('playwright'), args, {
      GRENTO_ADDRESS: `http://127.0.0.1:${port}`,
      GRENTO_BENCH_DATABASE: server.url,
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    });
    if (!existsSync(report)) return { passed: 0, failed: 1 };
    const { stats } = JSON.parse(readFileSync(report, 'utf8'));
    return { passed: stats.expected + stats.flaky, failed: stats.unexpected };
  } finally {
    await application.stop();
    server.stop();
  }
}

const total = { passed: 0, failed: 0 };
for (const part of wanted) {
  say(`\n— ${part}`);
  const began = Date.now();
  const { passed, failed } = await parts[part]();
  say(`${part}: ${passed} passed, ${failed} failed (${((Date.now() - began) / 1000).toFixed(0)} s)`);
  total.passed += passed;
  total.failed += failed;
}
say(`\n${total.passed} passed, ${total.failed} failed`);
process.exit(total.failed === 0 ? 0 : 1);
