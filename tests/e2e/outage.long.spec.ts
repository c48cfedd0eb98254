import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { drumFile } from '../support/files';
import { expect, test } from './alive';
import { loopFile, measured, onBench, row, takeIn, type NewFile } from './support';

const chosen = (files: readonly NewFile[]) =>
  files.map(({ name, bytes }) => ({ name, mimeType: 'audio/wav', buffer: Buffer.from(bytes) }));
const loops = (count: number, name: string, seed: number) =>
  Array.from({ length: count }, (_, i) =>
    loopFile(`${name} ${i}.wav`, { bpm: 90 + i, bars: 1, seed: seed + i }),
  );

test('while Grento is away one file at a time finds out whether it is back; then all come in', async ({
  page,
}) => {
  await page.goto('/intake');
  let isAway = true;
  let tries = 0;
  await page.route('**/api/intake?**', (route) => {
    if (!isAway) return route.continue();
    tries++;
    return tries % 2
      ? route.abort('connectionrefused')
      : route.fulfill({ status: 503, json: { error: 'busy' } });
  });
  await page.getByLabel('Select files').setInputFiles(chosen(loops(24, 'Outage', 7100)));
  await page.waitForTimeout(6000);
  // Three that were begun, and a few that asked: not all 24 again and again.
  expect(tries).toBeGreaterThan(3);
  expect(tries).toBeLessThan(12);
  isAway = false;
  await page.getByPlaceholder('name, folder, tag').fill('outage');
  await expect(page.getByRole('grid', { name: 'Arrivals' })).toHaveAttribute('aria-rowcount', '25', {
    timeout: 40_000,
  });
});

test('a file that was changed on disk after it was chosen is named as refused, and not sent for ever', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'grento-moved-'));
  try {
    const path = join(folder, 'Moved.wav');
    writeFileSync(path, drumFile({ bpm: 100, bars: 2, seed: 7200 }));
    await page.goto('/intake');
    let tries = 0;
    await page.route('**/api/intake?**', (route) => {
      tries++;
      return route.continue();
    });
    await page.route('**/api/intake/known', async (route) => {
      writeFileSync(path, drumFile({ bpm: 101, bars: 3, seed: 7201 }));
      await route.continue();
    });
    await page.getByLabel('Select files').setInputFiles(path);
    const sending = page.getByRole('region', { name: 'Progress' });
    await expect(sending).toContainText('1 refused', { timeout: 20_000 });
    await expect(sending).toContainText('was changed or moved on disk');
    const before = tries;
    await page.waitForTimeout(5000);
    expect(tries).toBe(before);
  } finally {
    rmSync(folder, { recursive: true });
  }
});

test('what a page could not store is stored by the next one, once', async ({ page, context }) => {
  await onBench(page, loopFile('Unstored.wav', { bpm: 104, bars: 2, seed: 7300 }));
  let isAway = true;
  let isLost = true;
  const sent: string[] = [];
  await context.route('**/api/samples/*/changes', async (route) => {
    if (!isAway) return route.continue();
    sent.push(route.request().headers()['x-grento-change']);
    // The first is done, and its answer lost on the way.
    if (isLost) await route.fetch();
    isLost = false;
    return route.abort('connectionreset');
  });
  const double = page.getByRole('button', { name: 'Double', exact: true });
  await double.click();
  await expect.poll(() => sent.length).toBeGreaterThan(1);
  expect(new Set(sent).size).toBe(1);
  const address = page.url();
  await page.close({ runBeforeUnload: false });
  isAway = false;
  const next = await context.newPage();
  await next.goto(address);
  const sampleId = /bench\/([0-9a-f-]+)/.exec(address)![1];
  const entry = async () =>
    (await (await next.request.get(`/api/samples/${sampleId}`)).json()) as {
      sequence: number;
      settled: { grid: { tempoBpm: number } };
    };
  await expect
    .poll(
      async () =>
        Object.keys(await next.evaluate(() => ({ ...localStorage }))).filter((key) =>
          key.startsWith('grento-unsent'),
        ).length,
    )
    .toBe(0);
  const { sequence, settled } = await entry();
  expect(sequence).toBe(2);
  expect(settled.grid.tempoBpm).toBeCloseTo(208, 0);
});

test('the bin says what it holds and is emptied for good', async ({ page }) => {
  await takeIn(page, loops(3, 'Binned', 7400));
  for (let i = 0; i < 3; i++) await measured(page, `Binned ${i}`);
  await page.getByPlaceholder('name, folder, tag').fill('binned');
  for (let i = 0; i < 3; i++) {
    await row(page, `Binned ${i}`).click();
    await page.keyboard.press('Delete');
    await expect(row(page, `Binned ${i}`)).toBeHidden();
  }
  await page.goto('/intake?show=bin');
  const bin = page.getByRole('region', { name: 'Bin', exact: true });
  await expect(bin).toContainText('samples');
  await bin.getByRole('button', { name: 'Empty bin…' }).click();
  await expect(bin).toContainText('This cannot be undone.');
  await bin.getByRole('button', { name: 'Cancel' }).click();
  await bin.getByRole('button', { name: 'Empty bin…' }).click();
  await bin.getByRole('button', { name: /^Delete \d+ samples?$/ }).click();
  await expect(page.getByText(/deleted; .* freed/)).toBeVisible();
  await expect(bin).toBeHidden();
  const { rows } = await (
    await page.request.get('/api/samples?text=binned&show=bin&offset=0&limit=10')
  ).json();
  expect(rows).toEqual([]);
});
