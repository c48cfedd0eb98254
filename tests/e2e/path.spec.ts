import { truncateSync, writeFileSync } from 'node:fs';
import { readFileSync } from 'node:fs';
import { expect, test } from './alive';
import { loopFile, measured, one, openOnBench, pull, row, takeIn, tempo, onBench } from './support';

/** 100 BPM, four bars, the one at 0.3 s, 10.2 s long. */
const BPM = 100;
const ONE = 0.3;
const DURATION = 10.2;
const rope = (name: string, seed: number) => loopFile(name, { bpm: BPM, bars: 4, one: ONE, tail: 0.3, seed });

test('from a dropped file to a proved, saved entry that is found again', async ({ page }) => {
  await takeIn(page, [rope('Rope Ladder 200 bpm.wav', 101)]);
  await measured(page, 'Rope Ladder');
  await expect(row(page, 'Rope Ladder')).toContainText('file name says 200 BPM, measured 100: double?');

  await openOnBench(page, 'Rope Ladder 200 bpm.wav');
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.02);
  expect(Math.abs((await one(page)) - ONE)).toBeLessThan(0.005);
  await expect(page.getByTestId('grid-verdict')).toContainText('matches');

  // The name's reading is chosen: the double. Then back by the key for half.
  await page.getByRole('row').filter({ hasText: 'file name' }).getByRole('button', { name: '200' }).click();
  await expect(page.getByTestId('tempo')).toHaveText('200.000');
  await page.keyboard.press('h');
  await expect(page.getByTestId('tempo')).toHaveText('100.000');

  // Sounds, and is heard with the click.
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.waitForTimeout(600);
  await page.keyboard.press('Space');

  await page.getByRole('tab', { name: 'Proof' }).click();
  for (const place of ['beginning', 'middle', 'end'])
    await page.getByRole('button', { name: `Listen at the ${place}` }).click();
  await page.getByRole('radio', { name: 'on', exact: true }).click();
  await page.getByLabel('Signed by').fill('Ada Wilmot');
  await page.getByRole('button', { name: 'Sign the proof' }).click();
  await expect(page.getByRole('list', { name: 'Proofs' })).toContainText('Ada Wilmot');
  await expect(page.getByRole('list', { name: 'Proofs' })).toContainText('checked at 3 of 3 places');
  await page.keyboard.press('Space');

  await page.getByRole('tab', { name: 'Tags' }).click();
  await page.getByRole('button', { name: 'drums', exact: true }).click();
  await page.getByLabel('Tags, Enter to add').fill('marionette');
  await page.getByLabel('Tags, Enter to add').press('Enter');
  await expect(page.getByRole('button', { name: 'Remove marionette' })).toBeVisible();
  await page.getByRole('button', { name: 'Save to Shelf' }).click();
  await expect(page.getByRole('button', { name: 'Remove from Shelf' })).toBeVisible();

  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByLabel('Search the Shelf').fill('marionette');
  await expect(row(page, 'Rope Ladder')).toBeVisible();
  await page.getByLabel('Search the Shelf').fill('');
  await page.getByLabel('Tempo from').fill('99');
  await page.getByLabel('Tempo to').fill('101');
  await expect(row(page, 'Rope Ladder')).toBeVisible();
  await page.getByLabel('Tempo to').fill('99.5');
  await expect(row(page, 'Rope Ladder')).toBeHidden();
  await page.getByLabel('Tempo to').fill('');
  await page.getByRole('button', { name: /^drums/ }).click();
  await row(page, 'Rope Ladder').getByRole('button', { name: /^Play/ }).click();
  await expect(row(page, 'Rope Ladder').getByRole('button', { name: /^Stop/ })).toBeVisible();

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Tagged copy of Rope Ladder 200 bpm.wav' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Rope Ladder 100 bpm.wav');
  const bytes = readFileSync(await download.path());
  expect(bytes.includes('TBPM') && bytes.includes('smpl') && bytes.includes('cue ')).toBe(true);
});

test('a late one is put right in one pull, a wrong tempo in another, and undo goes back exactly', async ({
  page,
}) => {
  await onBench(page, rope('Crooked Ladder.wav', 102));
  const trueOne = await one(page);

  // Spoil it by keys: 40 ms late is called late, one step of the history for the whole gesture.
  for (let i = 0; i < 4; i++) await page.keyboard.press('.');
  await expect(page.getByTestId('grid-verdict')).toContainText('The one is off');
  await expect(page.getByRole('button', { name: /Undo: the one to/ })).toBeEnabled();
  expect(await one(page)).toBeCloseTo(trueOne + 0.04, 4);

  // One pull near the hit snaps onto its attack.
  await pull(page, trueOne + 0.04, trueOne + 0.01, DURATION);
  await expect(page.getByTestId('grid-verdict')).toContainText('matches');
  expect(Math.abs((await one(page)) - ONE)).toBeLessThan(0.005);

  // A tempo that is 0.7 BPM off, typed; bar 4 is pulled onto its hit and the one stays.
  await page.getByLabel('Type a tempo in BPM').fill('100.7');
  await page.getByLabel('Type a tempo in BPM').press('Enter');
  await expect(page.getByTestId('tempo')).toHaveText('100.700');
  await expect(page.getByTestId('grid-verdict')).toContainText('The tempo is off');
  const oneBefore = await one(page);
  const bar4 = oneBefore + (12 * 60) / 100.7;
  await pull(page, bar4, oneBefore + 12 * 0.6, DURATION);
  await expect(page.getByTestId('grid-verdict')).toContainText('matches');
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.05);
  expect(await one(page)).toBe(oneBefore);
  await expect(page.getByRole('row').filter({ hasText: 'pins' })).toContainText('agrees');

  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('tempo')).toHaveText('100.700');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('one')).toHaveText(`${trueOne.toFixed(4)} s`);
  await expect(page.getByRole('button', { name: 'Nothing to undo' })).toBeDisabled();
  await page.reload();
  await expect(page.getByRole('button', { name: /^Redo/ })).toBeEnabled();
  await page.keyboard.press('Control+Shift+Z');
  await expect(page.getByTestId('one')).toHaveText(`${(trueOne + 0.04).toFixed(4)} s`);
});

test('tapping with a missed tap gives a tempo with its doubt, and can be taken', async ({ page }) => {
  await onBench(page, rope('Tapped Ladder.wav', 103));
  // Taps at 120 BPM with a human unrest of some milliseconds; the seventh is missed. The events carry their
  // own times, so that a slow machine does not tap along.
  await page.evaluate(() => {
    const begin = performance.now() - 8000;
    [0, 1, 2, 3, 4, 5, 7, 8, 9, 10, 11, 12, 13].forEach((beat, i) => {
      const event = new KeyboardEvent('keydown', { key: 't', code: 'KeyT', bubbles: true });
      Object.defineProperty(event, 'timeStamp', {
        value: begin + beat * 500 + [0, 9, -7, 4, -11, 6, 12, -5, 3, -9, 8, -2, 5][i],
      });
      document.body.dispatchEvent(event);
    });
  });
  const said = await page.getByTestId('taps').textContent();
  const bpm = Number(/^[\d.]+/.exec(said!)![0]);
  expect(Math.abs(bpm - 120)).toBeLessThan(2);
  expect(said).toMatch(/±\d/);
  await page.getByRole('button', { name: 'Use', exact: true }).click();
  expect(Math.abs((await tempo(page)) - bpm)).toBeLessThan(0.01);
  await expect(page.getByRole('row').filter({ hasText: 'taps' }).first()).toContainText('%');
});

test('a broken file stays in the list with its reason, a duplicate and a second drop are said', async ({
  page,
}) => {
  const good = rope('Whole.wav', 104);
  await takeIn(page, [good, { name: 'Torn.wav', bytes: good.bytes.subarray(0, 30) }]);
  await expect(row(page, 'Torn.wav')).toContainText('The WAV file ends inside its format.');
  await measured(page, 'Whole.wav');
  await takeIn(page, [good, { name: 'Whole again.wav', bytes: good.bytes }]);
  const way = page.getByRole('region', { name: 'Progress' });
  await expect(way).toContainText('1 was already imported');
  await way.getByRole('button', { name: 'Show files' }).click();
  await expect(way).toContainText('has the same bytes as “Whole.wav”');
  await expect(row(page, 'Whole again.wav')).toContainText('same bytes as “Whole.wav”');
});

test('a file beyond the limit is refused early, by name', async ({ page }) => {
  const path = test.info().outputPath('Too long.wav');
  writeFileSync(path, '');
  truncateSync(path, 42 * 1024 * 1024);
  await page.goto('/intake');
  await page.getByLabel('Select files').setInputFiles(path);
  await expect(page.getByRole('region', { name: 'Progress' })).toContainText(
    '“Too long.wav” is larger than 40 MB',
  );
});

test('the sheet of shortcuts closes with Escape, also after its words were read, and opens on the keys again', async ({
  page,
}) => {
  // A screen with an Escape of its own.
  await page.goto('/shelf');
  await expect(page.getByRole('main')).toBeVisible();
  await page.keyboard.press('?');
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('radio', { name: 'Glossary' }).click();
  await expect(sheet).toContainText('Glossary');
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
  await page.goto('/intake');
  await page.keyboard.press('?');
  await expect(sheet).toContainText('Keyboard shortcuts');
});

test('“?” lists the keys of the screen', async ({ page }) => {
  await page.goto('/intake');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Open on the Bench');
  await page.getByRole('radio', { name: 'Glossary' }).click();
  await expect(page.getByRole('dialog')).toContainText(
    'Slanted columns in the fold: the tempo is slightly wrong.',
  );
  await page.getByRole('button', { name: 'Guide' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  const guide = page.getByRole('complementary', { name: 'Guide' });
  await expect(guide).toContainText('1 of 5');
  await guide.getByRole('button', { name: 'Next' }).click();
  await page.reload();
  await expect(guide).toContainText('2 of 5');
  await guide.getByRole('button', { name: 'Close' }).click();
  await expect(guide).toBeHidden();
});

test('what is unproved or uncertain is asked about once before it is saved, and the Shelf still tells of it', async ({
  page,
}) => {
  await onBench(page, loopFile('Unheard 151 bpm.wav', { bpm: 75.5, bars: 4, seed: 905 }));
  const question = page.getByRole('alertdialog', { name: 'Save anyway?' });
  await page.getByRole('button', { name: 'Save to Shelf' }).click();
  await expect(question).toContainText('not proved against the click; file name says 151 BPM, measured 75.5');
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(question).toBeHidden();
  await page.keyboard.press('Control+s');
  await expect(question).toBeVisible();
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('button', { name: 'Remove from Shelf' })).toBeVisible();
  await page.goto('/shelf?text=unheard');
  await expect(row(page, 'Unheard').getByLabel(/^Uncertain: file name says 151/)).toBeVisible();
  // One is taken away as a file, several in one archive.
  const download = page.waitForEvent('download');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('d');
  expect((await download).suggestedFilename()).toBe('Unheard 75.5 bpm.wav');
});
