import { expect, test, type Page } from './alive';
import { given, loopFile, row } from './support';

const button = (page: Page, name: string) => page.getByRole('button', { name, exact: true });

test('saved while its proof is still on its way: nobody is asked whether it is to be saved unproved', async ({
  page,
}) => {
  const sampleId = await given(
    page,
    loopFile('Signed late.wav', { bpm: 98, bars: 8, one: 0.1, tail: 0.3, seed: 951 }),
  );
  const curator = await page.request.post('/api/curators', { data: { name: 'Odo Finch' } });
  const { curatorId } = await curator.json();
  await page.addInitScript((id) => localStorage.setItem('grento-curator', id), curatorId);
  await page.goto(`/bench/${sampleId}`);
  await expect(button(page, 'Play')).toBeEnabled({ timeout: 60_000 });
  await page.keyboard.press('g');
  const check = page.getByRole('group', { name: 'Check' });
  for (const place of ['1 of 3', '2 of 3', '3 of 3']) {
    await expect(check).toContainText(place);
    await page.keyboard.press('y');
  }
  await expect(button(page, 'Sign the proof')).toBeEnabled();
  await page.route('**/api/**', async (route) => {
    if (route.request().method() !== 'GET') await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.continue();
  });
  await page.keyboard.press('Control+Enter');
  await page.keyboard.press('Control+s');
  await expect(button(page, 'Remove from Shelf')).toBeVisible();
  await expect(page.getByRole('alertdialog', { name: 'Save anyway?' })).toBeHidden();
  const { summary } = await (await page.request.get(`/api/samples/${sampleId}`)).json();
  expect(summary).toMatchObject({ standing: 'saved', proof: 'current' });
});

test('who leaves a sample about which it was asked has not answered', async ({ page }) => {
  const sampleId = await given(page, loopFile('Left unsaved.wav', { bpm: 103, bars: 4, seed: 952 }));
  await page.goto('/intake?text=left+unsaved');
  await expect(row(page, 'Left unsaved.wav')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(button(page, 'Play')).toBeEnabled({ timeout: 60_000 });
  await page.keyboard.press('Control+s');
  const question = page.getByRole('alertdialog', { name: 'Save anyway?' });
  await expect(question).toContainText('not proved against the click');
  await page.getByRole('navigation', { name: 'Screens' }).getByRole('link', { name: 'Intake' }).click();
  await expect(page).toHaveURL(/\/intake/);
  await page.goBack();
  await expect(button(page, 'Play')).toBeEnabled();
  await expect(question).toBeHidden();
  const { summary } = await (await page.request.get(`/api/samples/${sampleId}`)).json();
  expect(summary.standing).toBe('measured');
});
