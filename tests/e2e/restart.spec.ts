import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { drumFile } from '../support/files';

/** `npm start` itself, on a folder of its own. */
async function start(folder: string): Promise<{ child: ChildProcess; address: string; said: () => string }> {
  const child = spawn(process.execPath, ['scripts/start.mjs', '--empty', '--port', '4700'], {
    env: { ...process.env, GRENTO_DATA: folder, DATABASE_URL: '' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let output = '';
  child.stdout.on('data', (data) => (output += data));
  child.stderr.on('data', (data) => (output += data));
  const address = await new Promise<string>((resolve, reject) => {
    const look = setInterval(() => {
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
    const before = await (await request.get(`/api/samples/${sampleId}`)).json();
    await request.dispose();

    killEverything(folder);
    await exited(first.child);
    const second = await start(folder);
    const again = await playwright.request.newContext({ baseURL: second.address });
    expect(await (await again.get(`/api/samples/${sampleId}`)).json()).toEqual(before);
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
