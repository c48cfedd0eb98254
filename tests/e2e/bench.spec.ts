import { expect, test } from './alive';
import { encodeWave } from '@/core/formats/encodeWave';
import { chords } from '../support/music';
import {
  choose,
  drag,
  foldPoint,
  loopFile,
  measured,
  onBench,
  one,
  openOnBench,
  pull,
  takeIn,
  tempo,
  typeTempo,
} from './support';

const stageFile = ({
  left,
  right,
  sampleRate,
}: {
  left: Float32Array;
  right: Float32Array;
  sampleRate: number;
}) => encodeWave([left, right], sampleRate);

/** Sixteen bars at 104.37 BPM from 0.4 s on. */
const BPM = 104.37;
const march = (name: string, seed: number) =>
  loopFile(name, { bpm: BPM, bars: 16, one: 0.4, tail: 0.2, seed });
const MARCH_SECONDS = 0.6 + (64 * 60) / BPM;

test('a tempo that is wrong by half a BPM is straightened in the fold by one drag', async ({ page }) => {
  await onBench(page, march('Leaning March.wav', 301), 'Fold');
  const trueOne = await one(page);
  await typeTempo(page, BPM + 0.5);
  await expect(page.getByTestId('lean')).toContainText('leans 0.50 BPM late');

  // The hit of the last bar's one stands so many beats to the right; it is pulled onto the rule, by hand alone.
  const shift = 60 * (0.5 / BPM);
  const rows = 17;
  await choose(page.getByLabel('Snap to'), 'nothing');
  await drag(page, await foldPoint(page, 60 + shift, rows), await foldPoint(page, 60.0001, rows));
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.02);
  expect(await one(page)).toBe(trueOne);
  await expect(page.getByTestId('grid-verdict')).toBeHidden();

  // Snapping to hits, even a rough pull is caught.
  await page.keyboard.press('Control+z');
  await choose(page.getByLabel('Snap to'), 'hits');
  const from = await foldPoint(page, 60 + shift, rows);
  const to = await foldPoint(page, 60.0001, rows);
  await drag(page, from, { ...to, x: to.x + 3 });
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.005);
  await expect(page.getByTestId('lean')).toHaveText('straight');

  // From the top row the one is moved: 40 ms and back by a key.
  const period = 60 / (await tempo(page));
  const top = await foldPoint(page, 1, rows);
  await choose(page.getByLabel('Snap to'), 'nothing');
  await drag(page, top, await foldPoint(page, 1 + 0.04 / period, rows));
  expect(Math.abs((await one(page)) - (trueOne - 0.04))).toBeLessThan(0.004);
  await expect(page.getByTestId('lean')).toContainText('ms late');
  await page.keyboard.press('u');
  expect(Math.abs((await one(page)) - trueOne)).toBeLessThan(0.003);
  await expect(page.getByTestId('lean')).toHaveText('straight');
});

test('pins agree on one tempo, tell a misplaced one, and undo returns exactly', async ({ page }) => {
  await onBench(page, march('Pinned March.wav', 302));
  await typeTempo(page, 103.6);
  const before = await one(page);
  const lineAt = async (bar: number) => (await one(page)) + ((bar - 1) * 4 * 60) / (await tempo(page));
  const hitAt = (bar: number) => before + ((bar - 1) * 4 * 60) / BPM;
  // The later the bar, the finer the value.
  for (const bar of [5, 9, 15]) await pull(page, await lineAt(bar), hitAt(bar), MARCH_SECONDS);
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.02);
  await page.getByRole('tab', { name: 'Grid' }).click();
  const pins = page.getByRole('region', { name: 'Pins' });
  await expect(pins.getByRole('row')).toHaveCount(5);

  // A pin put 60 ms too far hardly turns the grid, and its row says so.
  const bar12 = await lineAt(12);
  await pull(page, bar12, bar12 + 0.06, MARCH_SECONDS, 'Alt');
  await expect(pins.getByRole('row').filter({ hasText: 'bar 12' })).toContainText(/\+(4|5|6)\d\.\d ms/);
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.03);
  await page.getByRole('button', { name: 'Remove the pin at bar 12' }).click();
  await pins.getByRole('button', { name: 'Fit one tempo' }).click();
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.02);

  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+z');
  await expect(page.getByTestId('tempo')).toHaveText('103.600');
  expect(await one(page)).toBe(before);
  await expect(pins).toContainText('Drag a bar line onto its hit');
});

test('a stretch that is known to be four bars gives the tempo, and can be measured by itself', async ({
  page,
}) => {
  await onBench(page, march('Measured March.wav', 303));
  await typeTempo(page, 101);
  const start = await one(page);
  const bar = (4 * 60) / BPM;
  // From just before bar 3 to just before bar 7: both ends snap to their hits. The lines of the wrong grid
  // stand elsewhere.
  await pull(page, start + 2 * bar - 0.03, start + 6 * bar - 0.03, MARCH_SECONDS, 'Shift');
  const choice = page.getByLabel('Length of the selection');
  await expect(choice).toContainText('4 bars');
  await page.getByRole('button', { name: 'Tempo only' }).click();
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.05);
  expect(await one(page)).toBe(start);
  await expect(page.getByRole('row').filter({ hasText: 'length' })).toContainText('agrees');

  await typeTempo(page, 90);
  await page.getByRole('button', { name: 'Measure selection' }).click();
  await expect(page.getByRole('button', { name: /^Undo: measured from/ })).toBeEnabled();
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.3);
  await page.keyboard.press('Escape');
  await expect(choice).toBeHidden();
});

test('another beat of the same lines becomes the one; readings are held against each other', async ({
  page,
}) => {
  await onBench(page, march('Counted March 90 bpm.wav', 304), 'Fold');
  const before = await one(page);
  const period = 60 / (await tempo(page));
  await page.keyboard.press('Alt+ArrowRight');
  expect(Math.abs((await one(page)) - before - period)).toBeLessThan(0.0002);
  await page.keyboard.press('Alt+ArrowLeft');
  expect(Math.abs((await one(page)) - before)).toBeLessThan(0.0002);
  await page.keyboard.press('Alt+.');
  await expect(page.getByTestId('one')).toHaveText(`${(before + 0.0001).toFixed(4)} s`);
  // A nudge is undone before its pause is over, like any other step.
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('one')).toHaveText(`${before.toFixed(4)} s`);

  await page.keyboard.press('Alt+.');
  await page
    .getByRole('row')
    .filter({ hasText: 'file name' })
    .getByRole('button', { name: 'compare' })
    .click();
  await expect(page.getByTestId('tempo')).toHaveText('90.000');
  // What was nudged is settled before the other grid is heard; it does not end the comparison later.
  await expect(page.getByRole('button', { name: /^Undo: .*one/ })).toBeEnabled();
  await page.waitForTimeout(900);
  await expect(page.getByTestId('tempo')).toHaveText('90.000');
  await page.keyboard.press('b');
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.05);
  await page.keyboard.press('b');
  await expect(page.getByTestId('tempo')).toHaveText('90.000');
  await page.getByRole('button', { name: 'Stop comparing' }).click();
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.05);
});

test('a moving grid follows, shows its bars, and goes back to an average', async ({ page }) => {
  await onBench(page, march('Followed March.wav', 305), 'Fold');
  await page.getByRole('tab', { name: 'Grid' }).click();
  await page.getByRole('radio', { name: 'moving' }).click();
  await expect(page.getByRole('radio', { name: 'moving' })).toHaveAttribute('aria-checked', 'true');
  await expect(page.getByTestId('lean')).toContainText('follows the player');
  await expect(page.getByLabel('Tempo of bar 16')).toBeVisible();
  expect(Math.abs(Number(await page.getByLabel('Tempo of bar 5').inputValue()) - BPM)).toBeLessThan(1.5);
  // One bar is played slower, by number; what follows keeps its tempi.
  await page.getByLabel('Tempo of bar 6').fill('95');
  await page.getByLabel('Tempo of bar 6').press('Enter');
  await expect(page.getByLabel('Tempo of bar 6')).toHaveValue('95.00');
  expect(Math.abs(Number(await page.getByLabel('Tempo of bar 8').inputValue()) - BPM)).toBeLessThan(1.5);
  await page.keyboard.press('Control+z');
  await page.getByLabel('First bar of the average').fill('2');
  await page.getByLabel('Last bar of the average').fill('13');
  await page.getByRole('region', { name: 'Tempo of the bars' }).getByRole('button', { name: 'Use' }).click();
  await expect(page.getByRole('radio', { name: 'steady' })).toHaveAttribute('aria-checked', 'true');
  await page.getByRole('tab', { name: 'Readings' }).click();
  expect(Math.abs((await tempo(page)) - BPM)).toBeLessThan(0.1);
});

test('the seam says what is wrong with it and is cut at a quieter place', async ({ page }) => {
  // A tone of 100 Hz under four bars at 120 BPM, begun so that bar lines fall on its crests.
  const channel = Float32Array.from(
    { length: 44100 * 9 },
    (_, i) => 0.25 * Math.cos((2 * Math.PI * 100.0625 * i) / 44100),
  );
  for (let beat = 0; beat < 18; beat++)
    for (let i = 0; i < 3000; i++)
      channel[Math.round((0.2 + beat * 0.5) * 44100) + i] += 0.6 * Math.exp(-i / 500) * Math.cos(i * 0.21);
  await onBench(page, { name: 'Crest.wav', bytes: encodeWave([channel], 44100) });
  await typeTempo(page, 120);
  await page.getByRole('tab', { name: 'Seam' }).click();
  // Sixty milliseconds behind the hits the bar lines stand in the tone alone.
  for (let i = 0; i < 6; i++) await page.keyboard.press('.');
  await expect(page.getByRole('button', { name: /^Undo: the one to/ })).toBeEnabled();
  const ratio = async (half: string) =>
    Number(/([\d.]+) × usual/.exec((await page.getByTestId(half).textContent())!)![1]);
  await expect(page.getByTestId('seam-before')).toContainText('clicks');
  expect(await ratio('seam-before')).toBeGreaterThan(4);
  expect(await ratio('seam-after')).toBeLessThan(2);
  await page.getByRole('group', { name: 'Bars' }).getByRole('button', { name: 'Bars less' }).click();
  await expect(page.getByRole('button', { name: /^Undo: loop of/ })).toBeEnabled();
  await page.getByRole('button', { name: 'Move there' }).click();
  await expect(page.getByRole('button', { name: /^Undo: seam moved/ })).toBeEnabled();
  await expect(page.getByTestId('seam-before')).not.toContainText('clicks');
  await page.getByRole('button', { name: 'Play the seam' }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.waitForTimeout(2500);
  // A second around the seam: the playhead is near one of its two sides.
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.keyboard.press('Space');
});

test('a key is tried by ear, with chords from the computer’s keys, and settled', async ({ page }) => {
  await onBench(page, { name: 'Reed Chords.wav', bytes: stageFile(chords(57, 'minor')) });
  await page.getByRole('tab', { name: 'Key' }).click();
  await expect(page.getByRole('button', { name: /^A minor/ }).first()).toContainText('in use');
  await expect(page.getByRole('button', { name: /^A minor/ }).first()).toContainText('in the scale');
  // The tonic triad is held as long as the key is down.
  await page.keyboard.down('q');
  for (const note of ['A3', 'C4', 'E4'])
    await expect(page.getByRole('button', { name: note, exact: true })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
  await page.keyboard.up('q');
  await expect(page.getByRole('button', { name: 'A3', exact: true })).toHaveAttribute(
    'aria-pressed',
    'false',
  );
  // D is a note here and does not double the tempo.
  const bpm = (await page.getByTestId('tempo').textContent())!;
  await page.keyboard.press('d');
  await expect(page.getByTestId('tempo')).toHaveText(bpm);
  await page
    .getByRole('button', { name: /^C major/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Use', exact: true }).click();
  await expect(page.getByLabel('Key', { exact: true })).toHaveText('C major');
  await page.getByRole('button', { name: 'No key' }).click();
  await expect(page.getByLabel('Key', { exact: true })).toHaveText('no key');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Key', { exact: true })).toHaveText('A minor');
});

test('the walk nudges until the click is on, is signed, and stands on the proof sheet', async ({ page }) => {
  await onBench(page, march('Walked March.wav', 306), 'Fold');
  const before = await one(page);
  await page.getByRole('tab', { name: 'Proof' }).click();
  await page.getByRole('button', { name: /^Check 3 places/ }).click();
  const walk = page.getByRole('group', { name: 'Check' });
  await expect(walk).toContainText('1 of 3: beginning');
  // “Early” moves the one 8 ms later, then “late” half as far back.
  await walk.getByRole('button', { name: 'early' }).click();
  await expect(page.getByRole('button', { name: /^Undo: the one to/ })).toBeEnabled();
  await walk.getByRole('button', { name: 'late' }).click();
  await walk.getByRole('button', { name: 'on', exact: true }).click();
  await expect(walk).toContainText('2 of 3: middle');
  await walk.getByRole('button', { name: 'on', exact: true }).click();
  await expect(walk).toContainText('3 of 3: end');
  await walk.getByRole('button', { name: 'on', exact: true }).click();
  await page.getByLabel('Signed by').fill('Odo Finch');
  await page.getByRole('button', { name: 'Sign the proof' }).click();
  await expect(page.getByRole('list', { name: 'Proofs' })).toContainText(
    'checked at 3 of 3 places: on at beginning, middle, end',
  );
  await page.getByRole('tab', { name: 'Readings' }).click();
  expect(Math.abs((await one(page)) - before - 0.004)).toBeLessThan(0.0002);

  await page.getByRole('tab', { name: 'Proof' }).click();
  await page.getByRole('link', { name: 'Proof sheet' }).click();
  const sheet = page.getByTestId('proof-sheet');
  await expect(sheet).toContainText('Odo Finch');
  await expect(sheet).toContainText('beginning');
  await expect(sheet.getByRole('img', { name: /^Fold:/ })).toBeVisible();
  await page.getByRole('link', { name: 'Back to the Bench' }).click();

  // A later change of the grid marks the proof; the history leads back to the first state.
  await page.getByRole('tab', { name: 'Fold' }).click();
  await page.keyboard.press('Alt+=');
  await page.getByRole('tab', { name: 'Proof' }).click();
  await expect(page.getByRole('list', { name: 'Proofs' })).toContainText('out of date');
  await page.getByRole('tab', { name: 'History' }).click();
  await page.getByRole('button', { name: 'Restore: measured' }).click();
  await page.getByRole('tab', { name: 'Readings' }).click();
  await expect(page.getByTestId('one')).toHaveText(`${before.toFixed(4)} s`);
});

test('many are proved by their figures at once, and shown as such', async ({ page }) => {
  // Cut to its bars: nothing about it needs a look.
  await takeIn(page, [loopFile('Figured March.wav', { bpm: 104, bars: 8, seed: 307 })]);
  await measured(page, 'Figured March');
  await page.getByLabel('Search the Intake').fill('Figured');
  await expect(page.getByRole('row').filter({ hasText: 'Figured March' })).toBeVisible();
  await page.getByRole('button', { name: /^Prove by figures/ }).click();
  await page.getByLabel('Signed by').fill('Ada Wilmot');
  await page.getByRole('button', { name: 'Prove', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'proved by figures' })).toContainText('1 proved');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('row').filter({ hasText: 'Figured March' })).toContainText('proved');
  await openOnBench(page, 'Figured March.wav');
  await page.getByRole('tab', { name: 'Proof' }).click();
  await expect(page.getByRole('list', { name: 'Proofs' })).toContainText('by figures only');
});
