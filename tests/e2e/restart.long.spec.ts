import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { createConnection } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from './alive';
import { drumFile } from '../support/files';

/** `npm start` itself, on a folder of its own. */
async function start(
  folder: string,
  env: Record<string, string> = {},
  meanwhile: () => void = () => {},
): Promise<{ child: ChildProcess; address: string; said: () => string }> {
  const child = spawn(
    process.execPath,
    ['scripts/start.mjs', '--empty', '--port', `${4700 + 10 * test.info().parallelIndex}`],
    {
      env: { ...process.env, GRENTO_DATA: folder, DATABASE_URL: '', ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    },
  );
  let output = '';
  child.stdout.on('data', (data) => (output += data));
  child.stderr.on('data', (data) => (output += data));
  const address = await new Promise<string>((resolve, reject) => {
    const look = setInterval(() => {
      meanwhile();
      const ready = /ready: (http:\S+)/.exec(output);
      if (ready) resolve(ready[1]);
      else if (child.exitCode !== null) reject(new Error(output));
      else return;
      clearInterval(look);
    }, 100);
  });
  return { child, address, said: () => output };
}

const exited = (child: ChildProcess) =>
  child.exitCode !== null ? Promise.resolve() : new Promise((resolve) => child.once('exit', resolve));

/** Everything that runs on a data folder, found by its command line or environment. */
function killEverything(folder: string) {
  spawnSync('sh', [
    '-c',
    `for p in /proc/[0-9]*; do [ $p = /proc/$$ ] && continue; if tr '\\0' ' ' < $p/cmdline 2>/dev/null | grep -q "${folder}" || tr '\\0' '\\n' < $p/environ 2>/dev/null | grep -q "^GRENTO_DATA=${folder}$"; then kill -9 "\${p#/proc/}"; fi; done`,
  ]);
}

test('an empty library offers a folder and the demo library, which arrives while the page is open', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'grento-demo-'));
  const { child, address } = await start(folder);
  try {
    await page.goto(`${address}/intake`);
    await expect(page.getByText('The library is empty.')).toBeVisible();
    await expect(page.getByRole('link', { name: 'Open a folder of this machine' })).toHaveAttribute(
      'href',
      '/intake/places',
    );
    await page.getByRole('button', { name: 'Load the demo library' }).click();
    await expect(page.getByRole('grid', { name: 'Arrivals' })).toContainText('Pellworth/Property room');
    const again = await page.request.post(`${address}/api/demo`, { data: {}, headers: { origin: address } });
    expect(again.status()).toBe(409);
  } finally {
    child.kill('SIGINT');
    await exited(child);
    killEverything(folder);
    rmSync(folder, { recursive: true, force: true });
  }
});

test('after a kill of everything all is still there, and Ctrl-C ends in order', async ({ playwright }) => {
  test.setTimeout(300_000);
  const folder = mkdtempSync(join(tmpdir(), 'grento-restart-'));
  try {
    const first = await start(folder);
    const request = await playwright.request.newContext({ baseURL: first.address });
    const sent = await request.put('/api/intake?name=Kept.wav', {
      data: Buffer.from(drumFile({ bpm: 95, bars: 4, seed: 106 })),
    });
    expect(sent.status()).toBe(201);
    const { sampleId } = await sent.json();
    await expect
      .poll(async () => (await (await request.get(`/api/samples/${sampleId}`)).json()).summary.standing, {
        timeout: 30_000,
      })
      .toBe('measured');
    // What is measured can be measured again, so the worker's commits do not wait for the disk; what a curator does
    // is acknowledged only once it is there, with all that was written before it.
    const noted = await request.post(`/api/samples/${sampleId}/changes`, {
      data: { base: null, order: { do: 'settle', words: 'note', patch: { note: 'kept by a kill' } } },
    });
    expect(noted.ok(), await noted.text()).toBe(true);
    const before = await (await request.get(`/api/samples/${sampleId}`)).json();
    await request.dispose();

    killEverything(folder);
    await exited(first.child);
    // The tasks process dies while everything is still being started.
    let killed = 0;
    const second = await start(folder, {}, () => {
      for (const pid of killed ? [] : processesOf(folder, 'build/tasks.mjs')) {
        if (pid > 0) process.kill(pid, 'SIGKILL');
        killed = pid;
      }
    });
    expect(killed).toBeGreaterThan(0);
    const again = await playwright.request.newContext({ baseURL: second.address });
    expect(await (await again.get(`/api/samples/${sampleId}`)).json()).toEqual(before);

    const late = await again.put('/api/intake?name=Late.wav', {
      data: Buffer.from(drumFile({ bpm: 92, bars: 4, seed: 108 })),
    });
    const lateId = (await late.json()).sampleId;
    await expect
      .poll(async () => (await (await again.get(`/api/samples/${lateId}`)).json()).summary.standing, {
        timeout: 30_000,
      })
      .toBe('measured');

    // A second start on the same data takes nothing away: it says where the first one is.
    const other = spawnSync(process.execPath, ['scripts/start.mjs', '--empty'], {
      env: { ...process.env, GRENTO_DATA: folder, DATABASE_URL: '' },
      encoding: 'utf8',
    });
    expect([other.status, other.stdout]).toEqual([
      0,
      expect.stringContaining(`runs on this data already: ${second.address}`),
    ]);
    expect((await again.get('/api/samples')).status()).toBe(200);
    for (const path of ['log', 'log/web.log']) expect(statSync(join(folder, path)).mode & 0o077).toBe(0);
    await again.dispose();

    second.child.kill('SIGINT');
    await exited(second.child);
    expect(second.child.exitCode).toBe(0);
    const left = spawnSync('sh', ['-c', `pgrep -f "${folder}" | wc -l`], { encoding: 'utf8' }).stdout.trim();
    expect(Number(left)).toBeLessThanOrEqual(1);
  } finally {
    killEverything(folder);
    rmSync(folder, { recursive: true, force: true });
  }
});

/** Numbers of the processes of a data folder whose command line holds some words. */
const processesOf = (folder: string, words: string) =>
  spawnSync(
    'sh',
    [
      '-c',
      `for p in /proc/[0-9]*; do tr '\\0' '\\n' < $p/environ 2>/dev/null | grep -q "^GRENTO_DATA=${folder}$" && tr '\\0' ' ' < $p/cmdline | grep -q "${words}" && echo "\${p#/proc/}"; done; true`,
    ],
    { encoding: 'utf8' },
  )
    .stdout.trim()
    .split('\n')
    .map(Number);

test('a passphrase is asked of everybody; what dies is started again, and the open page goes on', async ({
  browser,
  playwright,
}) => {
  test.setTimeout(120_000);
  const folder = mkdtempSync(join(tmpdir(), 'grento-doors-'));
  const passphrase = 'the bellows leak again';
  try {
    const { child, address, said } = await start(folder, { GRENTO_PASSPHRASE: passphrase });
    expect(readFileSync(join(folder, 'passphrase'), 'utf8')).toMatch(
      /^scrypt \d+ 8 1 [0-9a-f]{32} [0-9a-f]{64}\n$/,
    );
    const stranger = await playwright.request.newContext({ baseURL: address, maxRedirects: 0 });
    expect((await stranger.get('/api/samples')).status()).toBe(401);
    expect((await stranger.get('/built/events.worker.js')).status()).toBe(401);
    expect((await stranger.put('/api/intake?name=x.wav', { data: 'x' })).status()).toBe(401);
    const shown = await stranger.get('/shelf?q=drum');
    expect([shown.status(), shown.headers().location]).toEqual([303, '/enter?next=%2Fshelf%3Fq%3Ddrum']);

    const page = await browser.newPage({ baseURL: address });
    await page.goto('/shelf?q=drum');
    await page.getByLabel('Passphrase').fill('the bellows are fine');
    await page.getByRole('button', { name: 'Enter' }).click();
    await expect(page.getByRole('alert')).toHaveText('Wrong passphrase.');
    await page.getByLabel('Passphrase').fill(passphrase);
    await page.getByRole('button', { name: 'Enter' }).click();
    await expect(page).toHaveURL(`${address}/shelf?q=drum`);
    const [cookie] = await page.context().cookies();
    expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Strict' });

    // A script reads with a token and changes nothing; revoked, it is a stranger again.
    await page.goto('/settings');
    await page.getByLabel('Name of the token').fill('nightly list');
    await page.getByRole('button', { name: 'Create token' }).click();
    const secret = await page.getByRole('status').locator('code').innerText();
    const headers = { authorization: `Bearer ${secret}` };
    expect((await stranger.get('/api/samples', { headers })).status()).toBe(200);
    expect((await stranger.put('/api/intake?name=x.wav', { headers, data: 'x' })).status()).toBe(401);
    expect((await stranger.get('/api/access', { headers })).status()).toBe(401);
    await page.getByRole('button', { name: 'Revoke' }).click();
    await expect(page.getByText('nightly list')).toBeHidden();
    expect((await stranger.get('/api/samples', { headers })).status()).toBe(401);

    // The web server dies, then the database: the page says so, and goes on by itself.
    await page.goto('/intake');
    // Its line to the server is open.
    await page.waitForTimeout(1500);
    for (const [what, words] of [
      ['web', 'web.mjs'],
      ['database', 'postgres -D'],
    ]) {
      const before =
        what === 'web'
          ? processesOf(folder, words)
          : [Number(readFileSync(join(folder, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0])];
      for (const pid of before) process.kill(pid, 'SIGKILL');
      if (what === 'web') await expect(page.getByText('No connection to the server.')).toBeVisible();
      await expect
        .poll(
          () =>
            page.request.get('/api/samples').then(
              (answer) => answer.status(),
              () => 'away',
            ),
          { timeout: 60_000 },
        )
        .toBe(200);
      await expect(page.getByText('No connection to the server.')).toBeHidden({ timeout: 30_000 });
      expect(said()).toContain(
        `The ${what === 'web' ? 'web process' : 'database'} ended and is started again`,
      );
    }
    const sent = await page.request.put('/api/intake?name=After.wav', {
      data: Buffer.from(drumFile({ bpm: 95, bars: 2, seed: 107 })),
    });
    expect(sent.status()).toBe(201);

    // A line to events ends with the session that opened it; what is too long is refused at once; idle lines keep nobody out.
    const session = `${cookie.name}=${cookie.value}`;
    const events = await fetch(`${address}/api/events`, { headers: { cookie: session } });
    const reader = events.body!.getReader();
    await reader.read();
    const began = Date.now();
    const long = await fetch(`${address}/api/bulk`, {
      method: 'POST',
      headers: { cookie: session, 'content-type': 'application/json' },
      body: Buffer.alloc(30 * 1024 * 1024, 32),
    });
    expect([long.status, Date.now() - began < 20_000]).toEqual([413, true]);
    const lines = Array.from({ length: 640 }, () =>
      createConnection({ host: '127.0.0.1', port: Number(new URL(address).port) }).on('error', () => {}),
    );
    await page.waitForTimeout(500);
    expect((await page.request.get('/api/samples')).status()).toBe(200);
    for (const line of lines) line.destroy();
    const torn = await fetch(`${address}/enter?next=%2Fshelf%0d%0aSet-Cookie:%20x=y`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ passphrase }),
      redirect: 'manual',
    });
    expect([torn.status, torn.headers.get('location')]).toEqual([303, '/']);

    // Signed out, the browser is a stranger.
    await page.goto('/settings');
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page).toHaveURL(/\/enter/);
    expect((await page.request.get('/api/samples', { maxRedirects: 0 })).status()).toBe(401);
    const ended = reader
      .read()
      .then(async function more({ done }): Promise<boolean> {
        return done || more(await reader.read());
      })
      .catch(() => true);
    expect(await Promise.race([ended, page.waitForTimeout(5000).then(() => false)])).toBe(true);
    child.kill('SIGINT');
    await exited(child);
    // Beyond this machine nobody is let in without a passphrase.
    const open = spawnSync(process.execPath, ['scripts/start.mjs', '--host', '0.0.0.0', '--no-passphrase'], {
      env: { ...process.env, GRENTO_DATA: folder, DATABASE_URL: '' },
      encoding: 'utf8',
    });
    expect([open.status, open.stderr]).toEqual([1, expect.stringContaining('wants a passphrase')]);
  } finally {
    killEverything(folder);
    rmSync(folder, { recursive: true, force: true });
  }
});
