import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from './alive';
import { given, loopFile, row } from './support';

const heads = (page: Page) => page.getByRole('grid').getByRole('columnheader');

test('columns of a list are hidden, sized by dragging and by keys, kept over a reload, and reset', async ({
  page,
}) => {
  await given(page, loopFile('Columned.wav', { bpm: 99, bars: 2, seed: 951 }));
  await page.goto('/intake?text=columned');
  await expect(row(page, 'Columned')).toBeVisible();
  const count = await heads(page).count();
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Bars' }).uncheck();
  await page.keyboard.press('Escape');
  await expect(heads(page)).toHaveCount(count - 1);

  const widthOf = async (name: string) =>
    (await page.getByRole('columnheader', { name }).boundingBox())!.width;
  const before = await widthOf('Kind');
  const edge = page.getByRole('button', { name: 'Width of Kind' });
  const box = (await edge.boundingBox())!;
  await page.mouse.move(box.x + 4, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 44, box.y + 8, { steps: 4 });
  await page.mouse.up();
  expect(Math.abs((await widthOf('Kind')) - before - 40)).toBeLessThan(2);
  await edge.focus();
  await page.keyboard.press('ArrowLeft');
  expect(Math.abs((await widthOf('Kind')) - before - 32)).toBeLessThan(2);
  // Rows stand under their heads.
  const cell = row(page, 'Columned').getByRole('gridcell').nth(2);
  expect(Math.abs((await cell.boundingBox())!.width - before - 32)).toBeLessThan(2);

  await page.reload();
  await expect(heads(page)).toHaveCount(count - 1);
  expect(Math.abs((await widthOf('Kind')) - before - 32)).toBeLessThan(2);
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('button', { name: 'Reset columns' }).click();
  await page.keyboard.press('Escape');
  await expect(heads(page)).toHaveCount(count);
  expect(Math.abs((await widthOf('Kind')) - before)).toBeLessThan(2);
});

test('a shortcut is changed: its screen, tooltip and sheet follow; a key that is taken is refused', async ({
  page,
}) => {
  await given(page, loopFile('Rekeyed.wav', { bpm: 98, bars: 2, seed: 952 }));
  await page.goto('/settings');
  const settings = page.getByRole('region', { name: 'Keyboard shortcuts' });
  await settings.getByText('Intake', { exact: true }).click();
  const change = settings.getByRole('button', { name: 'Change the key of: Accept (Intake)' });
  await change.click();
  await page.keyboard.press('h');
  await expect(settings).toContainText('H already means “Half the tempo” (Intake)');
  await page.keyboard.press('w');
  await expect(settings.getByRole('listitem').filter({ hasText: /^Accept/ })).toContainText('W');

  await page.goto('/intake?text=rekeyed');
  await row(page, 'Rekeyed').click({ position: { x: 500, y: 20 } });
  await expect(page.getByRole('button', { name: 'Accept W' })).toBeVisible();
  await page.keyboard.press('?');
  const line = page.getByRole('dialog').getByText('Accept', { exact: true });
  await expect(line.locator('xpath=preceding-sibling::dt')).toHaveText('W');
  await page.keyboard.press('Escape');
  await page.keyboard.press('a');
  await expect(page.getByText(/1 sample: accepted/)).toBeHidden();
  await page.keyboard.press('w');
  await expect(page.getByText(/1 sample: accepted/)).toBeVisible();

  await page.goto('/settings');
  await settings.getByText('Intake', { exact: true }).click();
  await settings.getByRole('button', { name: 'Reset' }).click();
  await expect(settings.getByRole('listitem').filter({ hasText: /^Accept/ })).toContainText('A');
});

test('a word of Grento’s own is explained at its place', async ({ page }) => {
  const id = await given(page, loopFile('Explained.wav', { bpm: 97, bars: 4, seed: 953 }));
  await page.goto(`/bench/${id}`);
  await page.getByRole('tab', { name: 'Cut' }).click();
  await page.getByRole('button', { name: 'Finds' }).click();
  await expect(page.getByText('Loops and isolated hits that Grento found in a sample.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Loops and isolated hits that Grento found in a sample.')).toBeHidden();
});

test('every component of the kit can be read and used without a mouse', async ({ page }) => {
  await page.goto('/kit');
  await expect(page.getByRole('heading', { name: 'Components' })).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 120)}`)).toEqual([]);
  // A list that opens is walked and chosen from by keys.
  const meter = page.getByRole('combobox', { name: 'Time signature' });
  await meter.focus();
  await page.keyboard.press('Space');
  await expect(page.getByRole('listbox')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(meter).toHaveText('6/8');
  // A number: stepped, refused with its reason, given up with Escape.
  const live = page.getByRole('textbox', { name: 'Live' });
  await live.focus();
  await page.keyboard.press('ArrowUp');
  await expect(live).toHaveValue('97');
  await live.fill('5');
  await expect(page.getByRole('alert').filter({ hasText: '20 to 400' })).toHaveText(
    '20 to 400 BPM is allowed, not 5.',
  );
  await page.keyboard.press('Escape');
  await expect(live).toHaveValue('97');
  // Dragged by its unit.
  const unit = (await page.getByText('BPM').nth(1).boundingBox())!;
  await page.mouse.move(unit.x + 5, unit.y + 5);
  await page.mouse.down();
  await page.mouse.move(unit.x + 5 + 18, unit.y + 5, { steps: 3 });
  await page.mouse.up();
  await expect(live).toHaveValue('100');
});
