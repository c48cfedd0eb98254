import { expect, test, type Page } from './alive';
import { given, listRows, loopFile } from './support';

/** Short ones, of which not every tempo is certain. */
const LOOPS = Array.from({ length: 16 }, (_, i) =>
  loopFile(`Doubtful ${i + 1}.wav`, { bpm: 61 + 9.3 * i, bars: 1, seed: 640 + i }),
);

const errorsOf = async (page: Page, of = 'all') =>
  (await (await page.request.get(`/api/samples/errors?of=${of}`)).json()).tempo as {
    guesses: number;
    expected: number;
  };
const confidences = async (page: Page) =>
  (await listRows(page).evaluateAll((rows) => rows.map((row) => /(\d+) %/.exec(row.textContent ?? '')?.[1])))
    .filter((text) => text !== undefined)
    .map(Number);

test('how many tempi are likely to be wrong is said, the least certain are listed, and settling one counts down', async ({
  page,
}) => {
  for (const file of LOOPS) await given(page, file);
  const { guesses, expected } = await errorsOf(page);
  expect(guesses).toBeGreaterThanOrEqual(LOOPS.length);
  expect(expected).toBeGreaterThan(0.9);
  await page.goto('/intake');
  const line = page.getByRole('region', { name: 'Errors to expect' });
  const list = page.getByRole('button', { name: 'List the least certain tempi' });
  await expect(line).toContainText(`${guesses} measured tempi`);
  await list.click();
  await expect(list).toHaveAttribute('aria-pressed', 'true');
  // The rows of before stand until those come that were asked for.
  await expect(async () => {
    const listed = await confidences(page);
    expect(listed.length).toBeGreaterThanOrEqual(10);
    expect(listed).toEqual([...listed].sort((a, b) => a - b));
  }).toPass({ timeout: 30_000 });

  // The first is accepted as it is: it is no guess any more, and leaves the list.
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('a');
  await expect(line).toContainText(`${guesses - 1} measured tempi`);
  expect((await errorsOf(page)).expected).toBeLessThan(expected);
  await page.keyboard.press('Control+z');
  await expect(line).toContainText(`${guesses} measured tempi`);
  // The list stands in the address; pressed again it is the whole Intake.
  await page.reload();
  await expect(list).toHaveAttribute('aria-pressed', 'true');
  await list.click();
  await expect(list).toHaveAttribute('aria-pressed', 'false');
  await expect(page).toHaveURL(/\/intake$/);
});

test('what is not understood is refused in words', async ({ page }) => {
  const answer = await page.request.get('/api/samples/errors?of=some');
  expect(answer.status()).toBe(400);
  expect(await answer.text()).toContain('of');
});
