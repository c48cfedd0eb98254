import { expect, type Page } from '@playwright/test';
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
  await page.getByLabel('Choose files').setInputFiles(
    files.map(({ name, bytes }) => ({
      name,
      mimeType: 'application/octet-stream',
      buffer: Buffer.from(bytes),
    })),
  );
}

export const row = (page: Page, name: string) => page.getByRole('row').filter({ hasText: name });

/** Waits until a sample is measured. */
export async function measured(page: Page, name: string) {
  await expect(row(page, name)).toContainText(/measured|proved|saved/, { timeout: 120_000 });
}

/** Opens a sample on the Bench and waits for its trace. */
export async function openOnBench(page: Page, name: string) {
  await page.getByRole('button', { name, exact: true }).click();
  await expect(page.getByTestId('line-view')).toBeVisible({ timeout: 90_000 });
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled();
}

export const tempo = async (page: Page) => Number(await page.getByTestId('tempo').textContent());
export const one = async (page: Page) =>
  Number((await page.getByTestId('one').textContent())!.replace(' s', ''));

/** Where a time stands in the line view when the whole file of `duration` seconds is shown. */
export async function pointAt(page: Page, time: number, duration: number, height = 120) {
  const box = (await page.getByTestId('line-view').boundingBox())!;
  return { x: box.x + (time / duration) * box.width, y: box.y + height };
}

/** Pulls from one time to another in the line view. */
export async function pull(page: Page, from: number, to: number, duration: number, held?: 'Alt' | 'Shift') {
  const start = await pointAt(page, from, duration);
  const end = await pointAt(page, to, duration);
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  if (held) await page.keyboard.down(held);
  // By a way round: a few pixels alone would be a press, not a pull.
  await page.mouse.move(end.x + 40, end.y, { steps: 5 });
  await page.mouse.move(end.x, end.y, { steps: 4 });
  await page.mouse.up();
  if (held) await page.keyboard.up(held);
}
