import { expect, test, type Page } from './alive';
import { given, loopFile, measured, one, onBench, row, showView, takeIn, tempo, typeTempo } from './support';

const loop = (name: string, seed: number) =>
  loopFile(name, { bpm: 104.37, bars: 8, one: 0.4, tail: 0.2, seed });
const undoButton = (page: Page) => page.getByRole('button', { name: /^(Undo: |Nothing to undo)/ });

async function signIn(page: Page, name: string) {
  await page.getByRole('button', { name: /^Curator: / }).click();
  await page.getByLabel('Name of a curator').fill(name);
  await page.getByLabel('Name of a curator').press('Enter');
  await expect(page.getByRole('button', { name: `Curator: ${name}` })).toBeVisible();
}

test('two curators at one sample: what one began is not put over what the other settled, and whose step it is is said', async ({
  page,
  browser,
}) => {
  const sampleId = await given(page, loop('Shared March.wav', 801));
  await page.goto(`/bench/${sampleId}`);
  await showView(page, 'Waveform');
  await signIn(page, 'Tamsin Oddy');
  const elsewhere = await browser.newContext();
  const other = await elsewhere.newPage();
  await other.goto(`/bench/${sampleId}`);
  await showView(other, 'Waveform');
  await signIn(other, 'Jory Pell');

  // Tamsin pulls; while her hand still holds the rule, Jory settles another tempo.
  const box = (await page.getByTestId('line-view').boundingBox())!;
  const duration = 0.6 + (32 * 60) / 104.37;
  const start = await one(page);
  const at = (seconds: number) => box.x + (seconds / duration) * box.width;
  await page.mouse.move(at(start), box.y + 120);
  await page.mouse.down();
  await page.mouse.move(at(start + 0.3), box.y + 120, { steps: 6 });
  await typeTempo(other, 99);
  await expect(undoButton(other)).toHaveAccessibleName(/^Undo: /);
  await expect
    .poll(async () => (await page.request.get(`/api/samples/${sampleId}`)).json())
    .toMatchObject({
      settled: { grid: { tempoBpm: 99 } },
    });
  await page.mouse.up();
  await expect(page.getByText(/^Not saved: /)).toBeVisible();
  await expect(page.getByTestId('tempo')).toHaveText('99.000');
  expect(await one(page)).toBe(start);

  // The last step is Jory's: Tamsin is told, and it is undone only when she says so.
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/is Jory Pell’s/)).toBeVisible();
  await expect(page.getByTestId('tempo')).toHaveText('99.000');
  await page.getByRole('button', { name: 'Undo anyway' }).click();
  await expect(page.getByTestId('tempo')).not.toHaveText('99.000');
  await expect(other.getByTestId('tempo')).not.toHaveText('99.000');
  await page.getByRole('tab', { name: 'History' }).click();
  await expect(page.getByText('Jory Pell').or(page.getByText('JP')).first()).toBeVisible();
  await elsewhere.close();
});

test('what cannot be sent is shown as not stored, and is sent when the line is there again or given back', async ({
  page,
}) => {
  await onBench(page, loop('Lonely March.wav', 802));
  const before = await tempo(page);
  await page.route('**/changes', (route) => route.abort());
  await page.getByLabel('Type a tempo in BPM').fill('88.402');
  await page.getByLabel('Type a tempo in BPM').press('Enter');
  const alert = page.getByRole('alert').filter({ hasText: 'Not saved:' });
  await expect(alert).toContainText('88.402');
  await expect(page.getByTestId('tempo')).toHaveText('88.402');
  await page.unroute('**/changes');
  await expect(alert).toHaveCount(0);
  await page.reload();
  await expect(page.getByTestId('tempo')).toHaveText('88.402');

  await page.route('**/changes', (route) => route.abort());
  await page.getByLabel('Type a tempo in BPM').fill('70');
  await page.getByLabel('Type a tempo in BPM').press('Enter');
  await expect(alert).toContainText('70');
  await alert.getByRole('button', { name: 'Discard' }).click();
  await expect(alert).toHaveCount(0);
  await expect(page.getByTestId('tempo')).toHaveText('88.402');
  await page.unroute('**/changes');
  await page.keyboard.press('Control+z');
  await expect.poll(() => tempo(page)).toBe(before);
});

test('a file that lies in the bin is not imported again unasked: its work is had back', async ({ page }) => {
  const file = loop('Binned March.wav', 803);
  const sampleId = await given(page, file);
  await page.goto(`/bench/${sampleId}`);
  await showView(page, 'Waveform');
  await typeTempo(page, 101.617);
  await page.getByRole('button', { name: 'Move to bin' }).click();
  await expect(page.getByText('“Binned March.wav” is in the bin.')).toBeVisible();
  await takeIn(page, [file]);
  const panel = page.getByRole('region', { name: 'Progress' });
  await expect(panel).toContainText('is in the bin with all its edits; not imported again');
  await expect(row(page, 'Binned March.wav')).toHaveCount(0);
  await panel.getByRole('button', { name: 'Restore Binned March.wav' }).click();
  await measured(page, 'Binned March.wav');
  await expect(row(page, 'Binned March.wav')).toContainText('101.62');
});

test('what was settled is shown from the hand on, without a look back when the server answers', async ({
  page,
}) => {
  await onBench(page, loop('Steady March.wav', 804));
  const before = await page.getByTestId('tempo').textContent();
  await page.evaluate(() => {
    const shown: (string | null)[] = [];
    Object.assign(window, { shown });
    const figure = document.querySelector('[data-testid="tempo"]')!;
    new MutationObserver(() => shown.push(figure.textContent)).observe(figure, {
      childList: true,
      characterData: true,
      subtree: true,
    });
  });
  const answered = () => page.waitForResponse((response) => response.url().endsWith('/changes'));
  for (const press of [() => typeTempo(page, 99), () => page.keyboard.press('Control+z')]) {
    const answer = answered();
    await press();
    await answer;
    await page.waitForTimeout(300);
  }
  expect(await page.evaluate(() => (window as unknown as { shown: string[] }).shown)).toEqual([
    '99.000',
    before,
  ]);
});
