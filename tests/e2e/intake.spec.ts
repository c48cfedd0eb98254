import { request as httpRequest } from 'node:http';
import { appendFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from './alive';
import { encodeWave } from '@/core/formats/encodeWave';
import { nightParade, PARADE_STEMS } from '@/demo/pieces';
import { encoded } from '../support/encoders';
import { drumFile } from '../support/files';
import { choose, listRows, loopFile, measured, openOnBench, row, takeIn, type NewFile } from './support';

const details = (page: Page) => page.getByRole('region', { name: /^Details of/ });
const chosen = (page: Page) => page.getByRole('region', { name: 'Selected samples' });
const way = (page: Page) => page.getByRole('region', { name: 'Progress' });
const search = (page: Page, text: string) => page.getByPlaceholder('name, folder, tag').fill(text);

test('uncertain ones are walked, heard, halved, accepted and sent to the Bench by keys solo', async ({
  page,
}) => {
  await takeIn(page, [
    loopFile('Triage one 262 bpm.wav', { bpm: 131, bars: 4, seed: 301 }),
    loopFile('Triage two 200 bpm.wav', { bpm: 133, bars: 4, seed: 302 }),
    loopFile('Triage three 137 bpm.wav', { bpm: 137, bars: 4, seed: 303 }),
  ]);
  for (const name of ['Triage one', 'Triage two', 'Triage three']) await measured(page, name);
  await search(page, 'triage');
  await expect(page.getByRole('grid', { name: 'Arrivals' })).toHaveAttribute('aria-rowcount', '4');
  await page
    .getByRole('columnheader', { name: /Uncertain/ })
    .getByRole('button')
    .first()
    .click();
  // The sure one lies below the uncertain ones.
  await expect(listRows(page).nth(2)).toContainText('Triage three');
  await page.getByPlaceholder('name, folder, tag').blur();
  await page.keyboard.press('Home');
  await expect(details(page)).toContainText('file name says');
  await page.keyboard.press('c');
  await expect(details(page).getByRole('button', { name: /^Stop/ })).toBeVisible();
  await page.keyboard.press('c');
  await expect(details(page).getByRole('button', { name: 'Play Space' })).toBeVisible();
  // The hand lies on a sample: whatever the list does, the next key acts on the same.
  const held = (await page.getByRole('row', { selected: true }).innerText()).match(/Triage (one|two)/)![0];
  await page.keyboard.press('d');
  await expect(page.getByText(/1 sample: double tempo/)).toBeVisible();
  await expect(page.getByRole('row', { selected: true })).toContainText(held);
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/Undone: double tempo/)).toBeVisible();
  await page.getByRole('columnheader', { name: 'Name' }).getByRole('button').first().click();
  await expect(page.getByRole('row', { selected: true })).toContainText(held);
  await page
    .getByRole('columnheader', { name: /Uncertain/ })
    .getByRole('button')
    .first()
    .click();
  await expect(page.getByRole('row', { selected: true })).toContainText(held);
  await page.keyboard.press('a');
  await expect(page.getByText(/1 sample: accepted/)).toBeVisible();
  await expect(
    page.getByRole('group', { name: 'Show' }).getByRole('button', { name: /^Needs review/ }),
  ).toContainText('1');
  await page.keyboard.press('Home');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/bench\//);
  // Back again, and after a reload, the list is as it was left.
  await page.goBack();
  await expect(page.getByPlaceholder('name, folder, tag')).toHaveValue('triage');
  await page.reload();
  await expect(page.getByPlaceholder('name, folder, tag')).toHaveValue('triage');
  await expect(page.getByRole('row').filter({ hasText: held })).not.toContainText('file name says');
  await page.getByRole('link', { name: 'Intake' }).click();
  await expect(page.getByPlaceholder('name, folder, tag')).toHaveValue('triage');
});

test('many at once: choose, tag, rename with a preview, bin and undo', async ({ page }) => {
  await takeIn(
    page,
    [1, 2, 3].map((i) => loopFile(`Crowd ${i}.wav`, { bpm: 95 + i, bars: 4, seed: 310 + i })),
  );
  for (const i of [1, 2, 3]) await measured(page, `Crowd ${i}.wav`);
  await search(page, 'crowd');
  await expect(page.getByRole('grid', { name: 'Arrivals' })).toHaveAttribute('aria-rowcount', '4');
  await page.getByPlaceholder('name, folder, tag').blur();
  await page.keyboard.press('Home');
  await page.keyboard.press('Control+a');
  await expect(chosen(page)).toContainText('3 selected');
  await page.keyboard.press('t');
  await choose(chosen(page).getByLabel('tag'), 'percussion');
  await chosen(page).getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText('3 samples: tagged percussion.')).toBeVisible();
  await page.keyboard.press('n');
  await chosen(page).getByRole('textbox').fill('{part} {name}[ {bpm} bpm]');
  await expect(chosen(page)).toContainText(/→\s*percussion Crowd \d 9\d bpm\.wav/);
  await chosen(page).getByRole('button', { name: 'Rename', exact: true }).click();
  await expect(row(page, 'percussion Crowd 1 96 bpm.wav')).toContainText('was Crowd 1.wav');
  await page.keyboard.press('Control+z');
  await expect(row(page, 'percussion Crowd')).toHaveCount(0);
  await page.keyboard.press('Delete');
  await expect(row(page, 'Crowd')).toHaveCount(0);
  await page.getByRole('button', { name: /^Bin/ }).click();
  await expect(row(page, 'Crowd')).toHaveCount(3);
  await page.keyboard.press('Control+z');
  await expect(row(page, 'Crowd')).toHaveCount(0);
  await page.getByRole('button', { name: /^All/ }).click();
  await expect(row(page, 'Crowd')).toHaveCount(3);
});

test('stems are proposed, joined, and heard together on the Bench', async ({ page }) => {
  const files = PARADE_STEMS.slice(0, 3).map((stem): NewFile => {
    const { stage } = nightParade(stem);
    return {
      name: `Evening Parade ${stem}.wav`,
      bytes: encodeWave([stage.left, stage.right], stage.sampleRate, 16),
    };
  });
  await takeIn(page, files);
  for (const { name } of files) await measured(page, name);
  await page.getByRole('link', { name: /^Stem sets/ }).click();
  const set = page.getByRole('region', { name: 'Stem set Evening Parade' });
  await expect(set).toContainText('3 stems');
  await expect(
    set.getByRole('radio', { name: `Evening Parade ${PARADE_STEMS[0]}.wav gives the grid` }),
  ).toBeChecked();
  await set.getByRole('button', { name: 'Join as a set' }).click();
  await expect(set).toContainText('joined');
  await set.getByRole('button', { name: 'Open on the Bench' }).click();
  const stems = page.getByRole('region', { name: 'Stems of Evening Parade' });
  await stems.getByRole('button', { name: 'Play all stems' }).click();
  await expect(stems.getByRole('button', { name: 'Playing all stems' })).toBeVisible({ timeout: 60_000 });
  await stems.getByRole('button', { name: `Solo Evening Parade ${PARADE_STEMS[1]}.wav` }).click();
  await expect(
    stems.getByRole('button', { name: `Solo Evening Parade ${PARADE_STEMS[1]}.wav` }),
  ).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.keyboard.press('Space');
  // The other stems have the same grid.
  const bpm = await page.getByTestId('tempo').textContent();
  await stems.getByRole('button', { name: `Evening Parade ${PARADE_STEMS[1]}`, exact: true }).click();
  await expect(page.getByRole('heading', { name: `Evening Parade ${PARADE_STEMS[1]}.wav` })).toBeVisible();
  await expect(page.getByTestId('tempo')).toHaveText(bpm!);
  // Where it is from stands among the readings, settled.
  const told = page.getByRole('row').filter({ hasText: 'stem set' }).filter({ hasText: 'agrees' }).first();
  await expect(told.getByRole('button', { name: '118' })).toHaveAttribute('aria-pressed', 'true');
});

test('a folder is looked through, heard and imported; watched, a file comes in once it stops growing', async ({
  page,
}) => {
  const root = mkdtempSync(join(tmpdir(), 'grento-kept-'));
  try {
    mkdirSync(join(root, 'attic'));
    writeFileSync(join(root, 'attic', 'Rafter 97 bpm.wav'), drumFile({ bpm: 97, bars: 4, seed: 331 }));
    writeFileSync(join(root, 'attic', 'Beam.m4a'), encoded(drumFile({ bpm: 99, bars: 4, seed: 332 }), 'm4a'));
    await page.goto('/intake/places');
    await page.getByLabel('Path of a folder on this machine').fill(root);
    await page.getByRole('button', { name: 'Add folder' }).click();
    await page.getByRole('button', { name: /^attic/ }).click();
    const folder = page.getByRole('region', { name: 'Folder' });
    await expect(folder).toContainText('97');
    await expect(folder).toContainText('0:09.9', { timeout: 30_000 });
    for (const name of ['Rafter 97 bpm.wav', 'Beam.m4a']) {
      await folder.getByRole('button', { name: `Play ${name}` }).click();
      await expect(folder.getByRole('button', { name: `Stop ${name}` })).toBeVisible({ timeout: 30_000 });
      await folder.getByRole('button', { name: `Stop ${name}` }).click();
    }
    await folder.getByLabel('Select Rafter 97 bpm.wav').check();
    await folder.getByRole('button', { name: 'Import 1 selected' }).click();
    await expect(folder.getByText('imported', { exact: true })).toBeVisible({ timeout: 30_000 });

    await page.getByRole('button', { name: /^Watch: import new files/ }).click();
    await expect(page.getByText(/^watched ·/)).toBeVisible();
    const bytes = drumFile({ bpm: 91, bars: 4, seed: 333 });
    const growing = join(root, 'Growing.wav');
    writeFileSync(growing, bytes.subarray(0, 200_000));
    for (let at = 200_000; at < bytes.length; at += 400_000) {
      await page.waitForTimeout(700);
      appendFileSync(growing, bytes.subarray(at, at + 400_000));
    }
    await page.goto('/intake');
    await search(page, 'growing');
    await measured(page, 'Growing.wav');
    // Whole, and once.
    await expect(row(page, 'Growing.wav')).toContainText('0:10.5');
    await expect(row(page, 'Growing.wav')).toHaveCount(1);
    await expect(row(page, 'Growing.wav')).not.toContainText('decoded with warnings');
  } finally {
    rmSync(root, { recursive: true });
  }
});

test('a delivery over a bad line is paused, survives a reload and comes in whole', async ({ page }) => {
  await page.goto('/intake/deliveries');
  await choose(page.getByLabel('Drops'), '3 times in ten');
  await choose(page.getByLabel('Speed'), '2000000');
  const pack = page.getByRole('listitem').filter({ hasText: 'Ribbon and Reed' });
  await pack.getByRole('button', { name: 'Download' }).click();
  await expect(way(page)).toContainText('“Ribbon and Reed”');
  await expect(way(page)).toContainText(/[1-9] of 12 files/);
  await way(page).getByRole('button', { name: 'Pause', exact: true }).click();
  await expect(way(page)).toContainText('paused');
  await page.reload();
  await expect(way(page)).toContainText('paused');
  await choose(page.getByLabel('Drops'), 'never');
  await choose(page.getByLabel('Speed'), 'full speed');
  await way(page).getByRole('button', { name: 'Resume' }).first().click();
  await expect(way(page)).toContainText(/12 of 12 files/, { timeout: 60_000 });
  await page.goto('/intake');
  await search(page, 'deliveries');
  await expect(page.getByRole('grid', { name: 'Arrivals' })).toHaveAttribute('aria-rowcount', '13');
});

test('an upload over a line that breaks goes on where it stopped', async ({ page }) => {
  const { name, bytes } = loopFile('Long way.wav', { bpm: 96, bars: 12, seed: 341 });
  const starts: number[] = [];
  await page.route('**/api/intake?**', async (route) => {
    const url = new URL(route.request().url());
    starts.push(Number(url.searchParams.get('from')));
    if (starts.length > 1) return route.continue();
    // The line carries three megabytes and goes dead.
    await new Promise<void>((done) => {
      const broken = httpRequest(url, {
        method: 'PUT',
        headers: { 'content-length': bytes.length, origin: url.origin },
      });
      broken.on('error', () => done());
      broken.write(bytes.subarray(0, 3_000_000));
      setTimeout(() => broken.destroy(), 1500);
    });
    await route.abort('connectionreset');
  });
  await page.goto('/intake');
  await page
    .getByLabel('Select files')
    .setInputFiles({ name, mimeType: 'audio/wav', buffer: Buffer.from(bytes) });
  await search(page, 'long way');
  await measured(page, 'Long way.wav');
  await expect(row(page, 'Long way.wav')).toContainText('0:30.0');
  expect(starts[0]).toBe(0);
  expect(starts[1]).toBeGreaterThan(1_000_000);
  const { rows } = await (await page.request.get('/api/samples?text=long+way')).json();
  const original = await (await page.request.get(`/api/samples/${rows[0].sampleId}/original`)).body();
  expect(Buffer.compare(original, Buffer.from(bytes))).toBe(0);
});

test('every format has the same length and the same hits on the server and in the page', async ({
  page,
  request,
}) => {
  const wav = drumFile({ bpm: 110, bars: 2, one: 0.25, seed: 351 });
  const files: NewFile[] = [{ name: 'Same.wav', bytes: wav }];
  for (const as of ['flac', 'mp3', 'mp3Plain', 'ogg', 'opus', 'm4a'] as const)
    files.push({ name: `Same ${as}`, bytes: encoded(wav, as) });
  await takeIn(page, files);
  const counts = async () => (await request.get('/api/samples/counts?text=same')).json();
  await expect.poll(async () => (await counts()).all, { timeout: 60_000 }).toBe(files.length);
  await expect.poll(async () => (await counts()).measuring, { timeout: 120_000 }).toBe(0);
  const { rows } = await (await request.get('/api/samples?text=same&limit=50')).json();
  expect(rows.length).toBeGreaterThanOrEqual(files.length);
  for (const { name } of files) {
    const { sampleId, durationSeconds, sampleRate } = rows.find((one: { name: string }) => one.name === name);
    const { settled } = await (await request.get(`/api/samples/${sampleId}`)).json();
    const decoded = await page.evaluate(
      ({ id, rate }) =>
        new Promise<{ frames: number; rate: number; attack: number }>((resolve, reject) => {
          const worker = new Worker('/built/decode.worker.js', { type: 'module' });
          worker.onmessage = ({ data }) => {
            if (data.kind === 'failed') reject(new Error(data.message));
            if (data.kind !== 'decoded') return;
            const [channel] = data.channels as Float32Array[];
            // The first sample that is louder than a fifth of the loudest: the big drum on the one.
            const loudest = channel.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
            const attack = channel.findIndex((value) => Math.abs(value) > 0.2 * loudest);
            resolve({ frames: channel.length, rate: data.sampleRate, attack: attack / data.sampleRate });
          };
          worker.postMessage({ url: `/api/samples/${id}/original?listen`, playRate: rate });
        }),
      { id: sampleId, rate: sampleRate },
    );
    expect(decoded.rate, name).toBe(sampleRate);
    expect(decoded.frames / decoded.rate, name).toBeCloseTo(durationSeconds, 6);
    // What the page plays at the settled one is the hit.
    expect(Math.abs(decoded.attack - settled.grid.one), name).toBeLessThan(0.008);
  }
});

test('measuring is let rest and goes on after a reload', async ({ page }) => {
  await page.goto('/intake');
  await page.request.put('/api/tasks/measuring', { data: { paused: true } });
  await takeIn(page, [loopFile('Resting.wav', { bpm: 98, bars: 2, seed: 361 })]);
  await expect(row(page, 'Resting.wav')).toContainText('waiting to be measured');
  await page.reload();
  await expect(way(page)).toContainText('Measuring paused');
  await way(page).getByRole('button', { name: 'Resume measuring' }).click();
  await search(page, 'resting');
  await measured(page, 'Resting.wav');
  await openOnBench(page, 'Resting.wav', 'Fold');
});
