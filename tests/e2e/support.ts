import { expect, type Locator, type Page } from '@playwright/test';
import { drumFile } from '../support/files';
import type { DrumPattern } from '../support/music';

export interface NewFile {
  name: string;
  bytes: Uint8Array;
}

/** A drum loop as a file; each seed gives other bytes. */
export const loopFile = (name: string, pattern: DrumPattern): NewFile => ({ name, bytes: drumFile(pattern) });

/** Takes files in through the page's own chooser. */
export async function takeIn(page: Page, files: readonly NewFile[]) {
  await page.goto('/intake');
  // The newest on top: by need what is not measured yet comes last.
  await page
    .getByRole('columnheader', { name: 'Arrived' })
    .getByRole('button', { name: 'Arrived', exact: true })
    .click();
  await page.getByLabel('Select files').setInputFiles(
    files.map(({ name, bytes }) => ({
      name,
      mimeType: 'application/octet-stream',
      buffer: Buffer.from(bytes),
    })),
  );
}

/** Chooses an option of a select by its value or its words. */
export async function choose(select: Locator, option: string) {
  await select.click();
  const options = select.page().getByRole('option');
  const byValue = select.page().locator(`[role="option"][data-value="${option}"]`);
  await byValue
    .or(options.getByText(option, { exact: true }))
    .first()
    .click();
  await expect(options).toHaveCount(0);
}

/** The rows of a list, without its heads. */
export const listRows = (page: Page) => page.getByRole('rowgroup').getByRole('row');

export const row = (page: Page, name: string) => page.getByRole('row').filter({ hasText: name });

/** Looks for few saved samples, and waits until they are all that the list shows: rows stand still then. */
export async function lookOnShelf(page: Page, text: string) {
  const isAnswer = (url: URL) => url.pathname === '/api/shelf' && url.searchParams.get('text') === text;
  const answer = page.waitForResponse((response) => isAnswer(new URL(response.url())));
  await page.getByLabel('Search the Shelf').fill(text);
  const { rows } = await (await answer).json();
  await expect(listRows(page)).toHaveCount(rows.length);
}

/** Waits until a sample is measured. */
export async function measured(page: Page, name: string) {
  await expect(row(page, name)).toContainText(/measured|proved|saved/, { timeout: 120_000 });
}

/** Takes a file in by its interface and waits until it is measured: for tests that are of something else. Returns its id. */
export async function given(page: Page, { name, bytes }: NewFile): Promise<string> {
  const query = new URLSearchParams({ name, length: String(bytes.length), modified: '1' });
  const taken = await page.request.put(`/api/intake?${query}`, { data: Buffer.from(bytes) });
  expect(taken.ok(), await taken.text()).toBe(true);
  const { sampleId } = await taken.json();
  const isMeasured = async () =>
    (await (await page.request.get(`/api/samples/${sampleId}`)).json()).measurement !== null;
  await expect.poll(isMeasured, { timeout: 120_000, intervals: [200] }).toBe(true);
  return sampleId;
}

/** The same, and opens it on the Bench. */
export async function onBench(page: Page, file: NewFile, view: 'Fold' | 'Waveform' = 'Waveform') {
  await page.goto(`/bench/${await given(page, file)}`);
  await showView(page, view);
}

/** Waits for the Bench's picture and its sound. */
export async function showView(page: Page, view: 'Fold' | 'Waveform') {
  await page.getByRole('tab', { name: view }).click({ timeout: 90_000 });
  await expect(page.getByTestId(view === 'Fold' ? 'fold-view' : 'line-view')).toBeVisible({
    timeout: 90_000,
  });
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled();
}

/** Opens a sample on the Bench and waits for its picture and its sound. */
export async function openOnBench(page: Page, name: string, view: 'Fold' | 'Waveform' = 'Waveform') {
  await page.getByRole('button', { name, exact: true }).click();
  await showView(page, view);
}

export async function typeTempo(page: Page, bpm: number) {
  await page.getByLabel('Type a tempo in BPM').fill(String(bpm));
  await page.getByLabel('Type a tempo in BPM').press('Enter');
  await expect(page.getByTestId('tempo')).toHaveText(bpm.toFixed(3));
}

export const tempo = async (page: Page) => Number(await page.getByTestId('tempo').textContent());
export const one = async (page: Page) =>
  Number((await page.getByTestId('one').textContent())!.replace(' s', ''));

/** Where a time stands in the line view when the whole file of `duration` seconds is shown. */
export async function pointAt(page: Page, time: number, duration: number, height = 120) {
  const box = (await page.getByTestId('line-view').boundingBox())!;
  return { x: box.x + (time / duration) * box.width, y: box.y + height };
}

interface Point {
  x: number;
  y: number;
}

/** Pulls from one point to another. */
export async function drag(page: Page, start: Point, end: Point, held?: 'Alt' | 'Shift') {
  await page.mouse.move(start.x, start.y);
  if (held === 'Shift') await page.keyboard.down(held);
  await page.mouse.down();
  if (held === 'Alt') await page.keyboard.down(held);
  // By a way round: a few pixels alone would be a press, not a pull.
  await page.mouse.move(end.x + 40, end.y, { steps: 5 });
  await page.mouse.move(end.x, end.y, { steps: 4 });
  await page.mouse.up();
  if (held) await page.keyboard.up(held);
}

/** Pulls from one time to another in the line view. */
export async function pull(page: Page, from: number, to: number, duration: number, held?: 'Alt' | 'Shift') {
  await drag(page, await pointAt(page, from, duration), await pointAt(page, to, duration), held);
}

/** Picture of the fold as it is laid out: gutter, ruler, drift column and margins of a row, CSS pixels. */
const FOLD = { gutter: 52, ruler: 22, drift: 142, margin: 0.035 };

/** Where a place of the music stands in the fold when all `rows` rows fit; rows of `rowBeats` beats. */
export async function foldPoint(page: Page, beat: number, rows: number, rowBeats = 4): Promise<Point> {
  const box = (await page.getByTestId('fold-view').boundingBox())!;
  const width = box.width - FOLD.gutter - FOLD.drift;
  const height = Math.min(110, (box.height - FOLD.ruler) / rows);
  const row = Math.floor(beat / rowBeats);
  const share = (beat / rowBeats - row + FOLD.margin) / (1 + 2 * FOLD.margin);
  return { x: box.x + FOLD.gutter + share * width, y: box.y + FOLD.ruler + (row + 0.5) * height };
}
