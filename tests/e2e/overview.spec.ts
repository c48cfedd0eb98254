import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from './alive';
import { keyOf, saved } from './pieces';
import { listRows, lookOnShelf } from './support';

/** A loop of one bar. */
const piece = (name: string, bpm: number, key: string) => ({
  ...{ name: `Tally ${name}`, bpm, beatsPerBar: 4, bars: 2, key: keyOf(key) },
});

const overview = (page: Page) => page.getByRole('region', { name: 'Overview' });

test('the overview tells of what is found as a whole, and each mark of it is a filter', async ({ page }) => {
  await saved(page, piece('crow', 90, 'D minor'));
  await saved(page, piece('heron', 120, 'F major'));
  await saved(page, piece('wren', 180, 'A major'));
  await page.goto('/shelf');
  await lookOnShelf(page, 'tally');
  const rows = listRows(page);
  await page.getByLabel('Search the Shelf').blur();
  await page.keyboard.press('o');
  const tempo = overview(page).getByRole('region', { name: 'Tempo' });
  // The same figures in words.
  await expect(tempo.getByRole('listitem')).toHaveText([
    /^89\S* to 9\S* BPM: 1 sample$/,
    /1 sample$/,
    /1 sample$/,
  ]);

  // Pulled from 80 to 100 BPM: as far along the line as they are in octaves from 40 to 240.
  const box = (await tempo.locator('svg').first().boundingBox())!;
  const x = (bpm: number) => box.x + (box.width * 24 * Math.log2(bpm / 40)) / 62;
  const y = box.y + box.height / 2;
  await page.mouse.move(x(80), y);
  await page.mouse.down();
  await page.mouse.move(x(100), y, { steps: 5 });
  await page.mouse.up();
  await expect(rows).toHaveCount(1);
  await expect(rows).toContainText('Tally crow');
  await expect(page.getByLabel('Tempo from')).toHaveValue(/^(79|80|81)$/);
  await tempo.getByRole('button', { name: /^Also double/ }).click();
  await expect(rows).toHaveCount(2);

  // By keys: the fastest tempo up to 120.
  const fastest = tempo.getByRole('slider', { name: 'Fastest tempo' });
  await fastest.focus();
  for (let i = 0; i < 3; i++) await fastest.press('PageUp');
  await expect(rows).toHaveCount(3);
  await fastest.press('Escape');
  await expect(page.getByLabel('Tempo from')).toHaveValue('');

  // What is typed is shown in the pictures, too, and goes with a press there.
  await page.getByLabel('Search the Shelf').fill('tally 110-125 loop');
  await expect(rows).toHaveCount(1);
  await tempo.getByRole('button', { name: 'Clear the filter of tempo' }).click();
  await expect(page.getByLabel('Search the Shelf')).toHaveValue('tally loop');
  await expect(rows).toHaveCount(3);
  await overview(page).getByRole('button', { name: 'loop: 3 samples', pressed: true }).click();
  await expect(page.getByLabel('Search the Shelf')).toHaveValue('tally');

  // A key is chosen and let go; the circle goes on telling of the others.
  const keys = overview(page).getByRole('group', { name: 'Circle of fifths' });
  await keys.getByRole('button', { name: 'D minor: 1 sample' }).click();
  await expect(rows).toHaveCount(1);
  await expect(keys.getByRole('button', { name: 'A major: 1 sample' })).toBeVisible();
  await keys.getByRole('button', { name: 'D minor: 1 sample' }).click();
  await expect(rows).toHaveCount(3);
  // From C major two fifths down by the arrows, then to its relative: B flat, G minor.
  await keys.getByRole('button', { name: /^C major/ }).focus();
  for (const key of ['ArrowLeft', 'ArrowLeft', 'ArrowDown']) await page.keyboard.press(key);
  await expect(keys.getByRole('button', { name: 'G minor: 0 samples' })).toBeFocused();

  await overview(page).getByRole('button', { name: 'loop: 3 samples' }).click();
  await expect(rows).toHaveCount(3);
  const check = overview(page).getByRole('region', { name: 'To check' });
  await check.getByRole('button', { name: /^without licence/ }).click();
  await expect(page).toHaveURL(/lacks=licence/);
  await expect(rows).toHaveCount(3);

  const { violations } = await new AxeBuilder({ page }).include('[aria-label="Overview"]').analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 120)}`)).toEqual([]);

  // It is open when one comes back, and goes by the same key.
  await page.reload();
  await expect(overview(page)).toBeVisible();
  await page.keyboard.press('o');
  await expect(overview(page)).toHaveCount(0);
});
