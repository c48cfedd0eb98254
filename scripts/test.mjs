// @ts-check
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { needBrowser } from './lib/browser.mjs';
import { checkNode, hasProgram, installDebian, installPackages } from './lib/install.mjs';
import { projectFolder } from './lib/project.mjs';
import { say } from './lib/say.mjs';

const PARTS = /** @type {const} */ ([
  'format',
  'lint',
  'unit',
  'types',
  'integration',
  'e2e',
  'long',
  'browser',
]);
/** @typedef {(typeof PARTS)[number]} Part */
/** Only when they are named: what takes minutes and seldom changes its answer (fits of weights, the whole demo library, processes that are killed, damaged files, walks through whole tasks), and what measures and checks nothing. @type {readonly string[]} */
const NAMED_ONLY = ['long', 'browser'];
/** @typedef {{ passed: number, failed: number }} Count */
/** Where what a part says goes; null: where ours goes. @typedef {((text: string) => void) | null} Telling */

const HELP = `npm test [-- PART…]    parts: ${PARTS.join(', ')} (all of them when none is named)`;
const [first, ...rest] = process.argv.slice(2);
if (first === '--help') {
  say(HELP);
  process.exit(0);
}
// `npm run test:unit -- pattern` hands the pattern on to the runner.
const wanted = PARTS.filter((part) =>
  first === undefined ? !NAMED_ONLY.includes(part) : part === first || rest.includes(part),
);
const extra = rest.filter((argument) => !(/** @type {readonly string[]} */ (PARTS).includes(argument)));
const firstOption = extra.findIndex((argument) => argument.startsWith('-'));
const patterns = firstOption < 0 ? extra : extra.slice(0, firstOption);
const options = firstOption < 0 ? [] : extra.slice(firstOption);
if (first !== undefined && wanted.length === 0) {
  say(`Unknown part ${first}.\n${HELP}`);
  process.exit(2);
}

checkNode();
installPackages();
const testFolder = join(projectFolder, 'data', 'test');
mkdirSync(testFolder, { recursive: true });
const bin = (/** @type {string} */ name) => join(projectFolder, 'node_modules', '.bin', name);
// Folders of the tests lie among temporary files.
process.env.GRENTO_ROOTS = tmpdir();
const pinned = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };

/** Runs a program; what it says goes to `told`, or where ours goes. */
const run = (
  /** @type {string} */ command,
  /** @type {string[]} */ args,
  /** @type {Record<string, string | undefined>} */ env = {},
  /** @type {((text: string) => void) | null} */ told = null,
) =>
  /** @type {Promise<boolean>} */ (
    new Promise((resolve) => {
      const child = spawn(command, args, {
        cwd: projectFolder,
        stdio: told ? ['ignore', 'pipe', 'pipe'] : 'inherit',
        env: { ...pinned, ...env },
      });
      for (const stream of told ? [child.stdout, child.stderr] : [])
        stream?.on('data', (data) => told?.(String(data)));
      child.on('close', (code) => resolve(code === 0));
      child.on('error', () => resolve(false));
    })
  );

/** @param {Promise<boolean>} check @returns {Promise<Count>} */
const one = async (check) => ((await check) ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 });

/**
 * Runs Jest on the tests below folders: those whose path also matches what is asked for, where something is.
 * @param {string} folder @param {Telling} told @param {string | null} shard which of how many shares of them
 * @param {Record<string, string>} [env] @returns {Promise<Count>}
 */
async function jest(folder, told, shard, env = {}) {
  const outputFile = join(testFolder, `jest-${folder}${shard ?? ''}.json`.replace(/[^\w.]/g, '-'));
  const timesFile = outputFile.replace('.json', '.times');
  for (const file of [outputFile, timesFile]) rmSync(file, { force: true });
  const ok = await run(
    process.execPath,
    [
      '--no-warnings',
      // Reads TypeScript as it is loaded.
      '--import=tsx',
      join(projectFolder, 'node_modules', 'jest', 'bin', 'jest.js'),
      '--json',
      `--outputFile=${outputFile}`,
      '--silent=false',
      ...(folder.startsWith('tests/integration/') ? ['--runInBand'] : []),
      // Patterns widen each other; a file is to match both.
      patterns.length ? `${folder}.*(${patterns.join('|')})` : folder,
      ...(shard ? [`--shard=${shard}`] : []),
      ...options,
    ],
    { GRENTO_SUITE_TIMES: timesFile, ...env },
    told,
  );
  if (!existsSync(outputFile)) return { passed: 0, failed: 1 };
  const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(
    readFileSync(outputFile, 'utf8'),
  );
  for (const line of readFileSync(timesFile, 'utf8').split('\n')) if (line) times.push(JSON.parse(line));
  // A suite that does not even load has no failed tests of its own.
  return { passed: numPassedTests, failed: Math.max(numFailedTests, numFailedTestSuites, ok ? 0 : 1) };
}

/** The server of this run's databases, started by who asks first. @type {ReturnType<typeof import('./lib/testCluster.mjs').startTestCluster> | null} */
let cluster = null;
async function databases() {
  const { startTestCluster } = await import('./lib/testCluster.mjs');
  // Benchmarks ask the database how long its statements took.
  const settings = wanted.includes('browser') ? ['shared_preload_libraries=pg_stat_statements'] : [];
  cluster ??= startTestCluster(join(testFolder, 'cluster'), settings);
  return cluster;
}

const stopCluster = async () => (await cluster)?.stop();

/** An empty folder below the one of all tests. @param {string} name */
function emptyFolder(name) {
  const folder = join(testFolder, name);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  return folder;
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

/** @type {Record<Part, (told: Telling, shard: string | null) => Promise<Count>>} */
const parts = {
  format: (told) => one(run(bin('prettier'), ['--check', '--log-level=warn', '.'], {}, told)),
  lint: async (told) => {
    // Rules of the house; exports, files and packages that nobody uses; circles of imports.
    const checks = [
      await one(run(bin('eslint'), ['.', '--quiet'], {}, told)),
      await one(run(bin('knip'), ['--no-progress'], {}, told)),
      await one(run(process.execPath, [join(projectFolder, 'scripts', 'circles.mjs')], {}, told)),
    ];
    const sum = (/** @type {'passed' | 'failed'} */ name) =>
      checks.reduce((all, check) => all + check[name], 0);
    return { passed: sum('passed'), failed: sum('failed') };
  },
  types: async (told) => {
    // The compiler that is three times as fast; the linter's rules do not take it yet and have the older one.
    const tsc = join(projectFolder, 'node_modules', 'typescript-7', 'bin', 'tsc');
    const check = (/** @type {string[]} */ args) =>
      run(process.execPath, [tsc, '--noEmit', ...args], {}, told);
    const [ours, lab] = [await check([]), await check(['-p', 'lab'])];
    return one(Promise.resolve(ours && lab));
  },
  unit: (told, shard) => jest('(src|lab)/(?!.*\\.long\\.)', told, shard),
  long: async (told, shard) => {
    const [inPages, inCore] = await Promise.all([
      inBrowser('e2e', ['test', 'long.spec', ...extra], '40', 2, true),
      jest('(src|lab)/.*\\.long\\.', told, shard),
    ]);
    const all = [
      inPages,
      inCore,
      await onServer('tests/integration/.*\\.long\\.', 'integration-long', told, shard),
    ];
    return {
      passed: all.reduce((sum, { passed }) => sum + passed, 0),
      failed: all.reduce((sum, { failed }) => sum + failed, 0),
    };
  },
  integration: (told, shard) => onServer('tests/integration/(?!.*\\.long\\.)', 'integration', told, shard),
  e2e: () => inBrowser('e2e', ['test', ...extra], '40', patterns.length ? 1 : 2, patterns.length > 0),
  browser: () =>
    inBrowser('browser', ['test', '--config', 'playwright.bench.config.ts', ...extra], '400', 1, false),
};

/**
 * Runs the tests below a folder that need the built programs and a database of their own.
 * @param {string} folder @param {string} name @param {Telling} told @param {string | null} shard @returns {Promise<Count>}
 */
async function onServer(folder, name, told, shard) {
  const { bundleNode } = await import('./lib/bundle.mjs');
  await bundleNode(['src/workers/tasks.ts', 'src/workers/taskThread.ts', 'src/delivery/service.ts']);
  const mine = `${name}${shard?.replace('/', '_of_') ?? ''}`.replace('-', '_');
  return jest(folder, told, shard, {
    DATABASE_URL: await (await databases()).copy(mine),
    GRENTO_LOG: join(emptyFolder(mine), 'test.log'),
  });
}

/**
 * Runs Playwright on the built application: each of its workers has servers and a database of its own.
 * @param {string} name @param {string[]} args @param {string} largestMb @param {number} workers
 * @param {boolean} hasLong whether long ones are among them @returns {Promise<Count>}
 */
async function inBrowser(name, args, largestMb, workers, hasLong) {
  const { buildWhenChanged } = await import('./lib/build.mjs');
  const { portFrom, startApplication } = await import('./lib/application.mjs');
  await buildWhenChanged();
  /** @type {{ url: string, port: number, application: Awaited<ReturnType<typeof startApplication>> }[]} */
  const running = [];
  const report = join(testFolder, 'playwright.json');
  rmSync(report, { force: true });
  try {
    for (let n = 1; n <= workers; n++) {
      const url = await (await databases()).copy(`${name}_${n}`);
      const port = await portFrom(4300 + 10 * n);
      const application = await startApplication({
        url,
        port,
        folder: emptyFolder(`${name}-${n}`),
        env: { GRENTO_MAX_FILE_MB: largestMb, GRENTO_KIT: '1' },
        onEnd: (what, log) => say(`The ${what} process ended; see ${log}.`),
      });
      running.push({ url, port, application });
    }
    await run(bin('playwright'), args, {
      GRENTO_ADDRESSES: running.map(({ port }) => `http://127.0.0.1:${port}`).join(' '),
      GRENTO_BENCH_DATABASE: running[0].url,
      ...(hasLong ? { GRENTO_LONG: 'yes' } : {}),
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    });
    if (!existsSync(report)) return { passed: 0, failed: 1 };
    const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
    if (name === 'e2e')
      for (const suite of suites) times.push({ suite: `tests/e2e/${suite.file}`, seconds: secondsOf(suite) });
    return { passed: stats.expected + stats.flaky, failed: stats.unexpected };
  } finally {
    for (const { application } of running) await application.stop();
  }
}

/** How long the tests of a suite took together, s. @param {any} suite @returns {number} */
const secondsOf = (suite) =>
  [
    ...(suite.suites ?? []).map(secondsOf),
    ...(suite.specs ?? []).flatMap((/** @type {any} */ spec) =>
      spec.tests.flatMap((/** @type {any} */ test) =>
        test.results.map((/** @type {any} */ result) => result.duration / 1000),
      ),
    ),
  ].reduce((sum, seconds) => sum + seconds, 0);

/** How long each suite took. @type {import('./lib/suiteTimes.mjs').SuiteTime[]} */
const times = [];
const total = { passed: 0, failed: 0 };

/** A part, or one of the shares of a long one. @typedef {{ part: Part, shard: string | null }} Piece */
/** Long parts are done in shares, so that whoever has time takes one. @type {Partial<Record<Part, number>>} */
const SHARES = { unit: 3, integration: 3 };

/** Does pieces until there are none left. @param {Piece[]} pieces @param {boolean} alone whether nobody else speaks */
async function work(pieces, alone) {
  for (let piece = pieces.shift(); piece; piece = pieces.shift()) {
    const { part, shard } = piece;
    const name = shard ? `${part} ${shard}` : part;
    // The browser's tests are told as they go, the others when they are done.
    const isTold = alone || part === 'e2e' || part === 'browser';
    let heard = '';
    if (isTold) say(`\n— ${name}`);
    const began = Date.now();
    const { passed, failed } = await parts[part](isTold ? null : (text) => (heard += text), shard);
    if (!isTold) say(`\n— ${name}\n${heard}`);
    say(`${name}: ${passed} passed, ${failed} failed (${((Date.now() - began) / 1000).toFixed(0)} s)`);
    total.passed += passed;
    total.failed += failed;
  }
}

// One after the other: what installs waits for nobody.
const inPage = /** @type {const} */ (['e2e', 'browser', 'long']).some((part) => wanted.includes(part));
if (inPage || wanted.includes('integration')) {
  const { needPostgres } = await import('./lib/postgres.mjs');
  needPostgres();
  needEncoders();
}
if (inPage) needBrowser();
// Before anything is built or checked: both want the types of the pages.
if (wanted.includes('types')) await run(bin('next'), ['typegen'], {}, () => {});
if (wanted.length === 1) await work([{ part: wanted[0], shard: null }], true);
else {
  // The browser's tests wait half of their time: two work side by side, the longest piece first.
  const byLength = [...wanted].sort((a, b) => Number(b === 'e2e') - Number(a === 'e2e'));
  const pieces = byLength.flatMap((part) => {
    const shares = SHARES[part] ?? 1;
    return Array.from({ length: shares }, (_, k) => ({
      part,
      shard: shares > 1 ? `${k + 1}/${shares}` : null,
    }));
  });
  await Promise.all([work(pieces, false), work(pieces, false)]);
}
await stopCluster();
if (wanted.length > 1 && patterns.length === 0) {
  const { keepBudgets, overBudget, readBudgets } = await import('./lib/suiteTimes.mjs');
  times.sort((a, b) => b.seconds - a.seconds);
  say(`\nThe longest of ${times.length} suites:`);
  for (const { suite, seconds } of times.slice(0, 25)) say(`${seconds.toFixed(1).padStart(7)} s  ${suite}`);
  if (process.env.GRENTO_KEEP_BUDGETS) keepBudgets(times);
  for (const { suite, seconds, allowed } of overBudget(times, readBudgets())) {
    say(`${suite} took ${seconds.toFixed(0)} s; its budget allows ${allowed.toFixed(0)} s in this run.`);
    total.failed++;
  }
}
say(`\n${total.passed} passed, ${total.failed} failed`);
process.exit(total.failed === 0 ? 0 : 1);
