import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from './alive';
import { unzipped } from '../support/unzipped';
import { choose, given, loopFile } from './support';

async function saved(page: Page, name: string, bpm: number): Promise<string> {
  const sampleId = await given(page, loopFile(name, { bpm, bars: 2, seed: bpm }));
  const { sequence } = await (await page.request.get(`/api/samples/${sampleId}`)).json();
  const data = { base: sequence, order: { do: 'save' } };
  expect((await page.request.post(`/api/samples/${sampleId}/changes`, { data })).ok()).toBe(true);
  return sampleId;
}

test('samples of the Shelf are gathered, named, put in order, written and downloaded', async ({ page }) => {
  for (const [name, bpm] of [
    ['Packed rope.wav', 92],
    ['Packed ladder.wav', 104],
    ['Packed lamp.wav', 118],
  ] as const)
    await saved(page, name, bpm);
  const { id } = await (await page.request.post('/api/packs', { data: { name: 'Rigging' } })).json();
  await page.goto(`/pack/${id}`);
  await expect(page.getByText('This pack is empty')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Write pack' })).toBeDisabled();

  // Whatever is put in from elsewhere goes into the pack that was worked on last.
  await page.goto('/shelf');
  await page.getByLabel('Search the Shelf').fill('packed');
  await expect(page.getByRole('status').first()).toHaveText('3 saved samples');
  await choose(page.getByLabel('Sort'), 'name');
  await page.getByLabel('Search the Shelf').blur();
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('region', { name: 'Selected samples' })).toContainText('3 selected');
  await page.keyboard.press('k');
  await page.getByRole('button', { name: 'Open' }).click();
  const rows = page.getByRole('grid', { name: 'Samples of the pack' }).getByRole('rowgroup').getByRole('row');
  await expect(rows).toHaveCount(3);
  await expect(page.getByLabel('Name of the pack')).toHaveValue('Rigging');
  await expect(rows.first()).toContainText('samples/Packed ladder.wav');
  await expect(rows.first()).toContainText('grid not proved; no licence');

  const template = page.getByRole('textbox', { name: /^template/ });
  await template.fill('{number} {name}[ {bpm0} bpm]');
  await template.press('Enter');
  await expect(rows.nth(2)).toContainText('samples/03 Packed rope 92 bpm.wav');
  await template.fill('{colour}');
  await template.press('Enter');
  await expect(rows.first()).toContainText('There is no field {colour}.');
  await expect(page.getByRole('button', { name: 'Write pack' })).toBeDisabled();
  await page.keyboard.press('Control+z');
  await expect(rows.nth(2)).toContainText('samples/03 Packed rope 92 bpm.wav');

  // By keys and by dragging: another place; taken out, and back.
  await rows.nth(2).click({ position: { x: 600, y: 24 } });
  await page.keyboard.press('Alt+ArrowUp');
  await expect(rows.nth(1)).toContainText('02 Packed rope');
  await rows.nth(1).locator('.cursor-grab').hover();
  await page.mouse.down();
  await page.mouse.move(320, 200, { steps: 4 });
  const top = (await rows.first().boundingBox())!;
  await page.mouse.move(320, top.y + 10, { steps: 6 });
  await page.mouse.up();
  await expect(rows.first()).toContainText('01 Packed rope');
  await page.keyboard.press('Delete');
  await expect(rows).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(rows).toHaveCount(3);

  await page.getByLabel('Also render every sample at one tempo or key').click();
  await expect(page.getByLabel('Also render every sample at one tempo or key')).toBeChecked();
  const tempo = page.getByLabel('Tempo of the pack, BPM');
  await tempo.fill('100');
  await tempo.press('Enter');
  await expect(rows.first()).toContainText('at 100 BPM/01 Packed rope 100 bpm.wav');
  await page.getByRole('button', { name: 'Write pack' }).click();
  await page.getByRole('link', { name: /^Download/ }).waitFor({ timeout: 90_000 });
  // All of it is as it was after a reload.
  await page.reload();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: /^Download/ }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Rigging.zip');
  const files = await unzipped(readFileSync(await download.path()));
  const shown = 'Rigging/data/at 100 BPM/01 Packed rope 100 bpm.wav';
  expect([...files.keys()]).toContain(shown);
  const sum = createHash('sha256').update(files.get(shown)!).digest('hex');
  expect(files.get('Rigging/manifest-sha256.txt')!.toString()).toContain(
    `${sum}  data/at 100 BPM/01 Packed rope`,
  );

  // How long it is stands before it, so that the browser shows how far it has come.
  const { headers, body } = await page.request
    .get(`/api/packs/${id}/archive`)
    .then(async (answer) => ({ headers: answer.headers(), body: await answer.body() }));
  expect(headers['content-length']).toBe(String(body.length));

  // Changed again, what was written can still be fetched, and says so.
  await page.getByRole('checkbox', { name: 'tempo map' }).click();
  await expect(page.getByRole('checkbox', { name: 'tempo map' })).toBeChecked();
  await expect(page.getByText('changed since it was written')).toBeVisible();
  const kept = async () => (await (await page.request.get(`/api/packs/${id}`)).json()).state.tempoMaps;
  await expect.poll(kept).toBe(true);
  await page.goto('/pack');
  await expect(page.getByRole('list', { name: 'Packs' })).toContainText('Rigging');
  await page.getByRole('button', { name: 'Delete Rigging' }).click();
  await expect(page.getByRole('link', { name: /Rigging/ })).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: /Rigging/ })).toBeVisible();
});
