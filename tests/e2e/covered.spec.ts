import { expect, test } from '@playwright/test';
import { coveredControls } from './covered';
import { given, loopFile } from './support';

/** Screens that have no sample of their own. */
const SCREENS = [
  ...['/intake', '/intake/stems', '/intake/alike', '/intake/places', '/intake/play', '/intake/deliveries'],
  ...['/shelf', '/blend', '/pack', '/settings'],
];
const VIEWS = ['Fold', 'Waveform', 'Seam', 'Key', 'Cut'];
const CARDS = ['Grid', 'Proof', 'Tags', 'History', 'Readings'];

for (const [width, height] of [
  [1280, 800],
  [1024, 700],
])
  test(`nothing that can be pressed lies under anything else, at ${width} × ${height}`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    const stems: string[] = [];
    for (const seed of [1, 2])
      stems.push(
        await given(
          page,
          loopFile(`Covered ${width} ${seed}.wav`, { bpm: 100, bars: 4, seed: 900 + seed + width }),
        ),
      );
    const joined = await page.request.post('/api/stems', {
      data: { sampleIds: stems, name: `Covered ${width}` },
    });
    expect(joined.ok(), await joined.text()).toBe(true);
    // One of them is saved, so that the Shelf has heads and rows.
    const { sequence: base } = await (await page.request.get(`/api/samples/${stems[0]}`)).json();
    const save = await page.request.post(`/api/samples/${stems[0]}/changes`, {
      data: { base, order: { do: 'save' } },
    });
    expect(save.ok(), await save.text()).toBe(true);
    const look = (where: string) =>
      expect.poll(async () => [where, await coveredControls(page)], { timeout: 10_000 }).toEqual([where, []]);
    for (const screen of SCREENS) {
      await page.goto(screen);
      await expect(page.getByRole('main')).toBeVisible();
      await look(screen);
    }
    await page.goto(`/bench/${stems[0]}`);
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
    for (const name of [...VIEWS, ...CARDS]) {
      await page.getByRole('tab', { name, exact: true }).click();
      await look(`Bench, ${name}`);
    }
    // With all that a joined set adds to it.
    await page.getByRole('tab', { name: 'Cut', exact: true }).click();
    await expect(page.getByRole('button', { name: 'All stems', exact: true })).toBeVisible();
    await look('Cut of a stem');
    await page.goto('/shelf');
    await expect(page.getByRole('columnheader', { name: 'Name' })).toBeVisible();
    await look('Shelf with rows');
    await page.keyboard.press('o');
    await expect(page.getByRole('region', { name: 'To check' })).toBeVisible();
    await look('Shelf with its overview');
    await page.keyboard.press('o');
    await page.getByLabel('Target tempo, BPM').fill('96');
    await page.getByLabel('Target tempo, BPM').press('Enter');
    await look('Shelf at a target');
    await page.getByLabel('Target tempo, BPM').fill('no');
    await page.getByLabel('Target tempo, BPM').press('Enter');
    await look('Shelf with a refusal');
    await page.getByLabel('Target tempo, BPM').fill('');
    await page.getByLabel('Target tempo, BPM').press('Enter');
  });
