// @ts-check
// Takes the pictures in docs/screenshots again from the demo library (`npm run pictures -- ADDRESS [NAME…]`).
// ADDRESS is that of an application that was started with its demo library and has measured it; the pictures of
// the Bench and the Shelf settle something there, so it should be one that is made for this. That of a folder
// shows the first place that is kept there.
import { chromium } from '@playwright/test';
import { browserPath } from './lib/browser.mjs';
import { say } from './lib/say.mjs';

/** @typedef {import('@playwright/test').Page} Page */

const FOLDER = 'docs/screenshots';
const [address, ...names] = process.argv.slice(2);
if (!address) {
  say('npm run pictures -- ADDRESS [NAME…]');
  process.exit(2);
}

/** @param {string} path @param {unknown} [body] @returns {Promise<any>} */
async function ask(path, body) {
  const answer = await fetch(
    new URL(path, address),
    body === undefined
      ? {}
      : {
          method: 'POST',
          headers: { 'content-type': 'application/json', origin: new URL(address).origin },
          body: JSON.stringify(body),
        },
  );
  if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
  return answer.json();
}

/** @type {{ rows: { sampleId: string, name: string }[] }} */
const { rows } = await ask('/api/samples?limit=200');
const idOf = (/** @type {string} */ start) => {
  const found = rows.find(({ name }) => name.startsWith(start));
  if (!found) throw new Error(`There is no sample “${start}…”.`);
  return found.sampleId;
};
const send = async (/** @type {string} */ start, /** @type {unknown} */ command) =>
  ask(`/api/samples/${idOf(start)}/changes`, { base: null, order: command });

const browser = await chromium.launch({
  executablePath: browserPath(),
  args: ['--autoplay-policy=no-user-gesture-required'],
});

/** @param {Page} page @param {string} start @param {'Fold' | 'Waveform' | 'Seam' | 'Key'} view */
async function bench(page, start, view) {
  await page.goto(`${address}/bench/${idOf(start)}`);
  await page.getByRole('tab', { name: view }).click();
  await page.getByRole('button', { name: 'Play', exact: true }).waitFor();
  await page.waitForFunction(() => !document.querySelector('main [aria-busy="true"]'));
}

/** @type {Record<string, (page: Page) => Promise<unknown>>} */
const PICTURES = {
  intake: async (page) => {
    await page.goto(`${address}/intake`);
    await page.getByRole('row').filter({ hasText: 'Trapdoor' }).getByRole('gridcell').nth(3).click();
  },
  'stem-sets': async (page) => {
    await page.goto(`${address}/intake/stems`);
    await page.getByRole('button', { name: 'Join as a set' }).first().waitFor();
  },
  'kept-place': async (page) => {
    await page.goto(`${address}/intake/places`);
    await page
      .getByRole('button', { name: /^pellworth/ })
      .first()
      .click();
    await page.getByText('Loops').first().click();
    await page
      .getByRole('button', { name: /Curtain Groove/ })
      .first()
      .click();
  },
  blend: async (page) => {
    const [{ blendId }] = await ask('/api/blends');
    await page.goto(`${address}/blend/${blendId}`);
    await page.getByRole('button', { name: 'Tin Soldiers.wav', exact: true }).click();
    await page.keyboard.press('Space');
    await page.waitForTimeout(3000);
  },
  pack: async (page) => {
    const [{ packId }] = await ask('/api/packs');
    await page.goto(`${address}/pack/${packId}`);
    await page.getByRole('button', { name: /^Write (pack|again)/ }).click();
    await page.getByRole('link', { name: /^Download/ }).waitFor({ timeout: 120_000 });
    await page.getByText('Three Lanterns').first().click();
  },
  // These before the next one settles a tempo that is beside.
  'bench-cut': async (page) => {
    await bench(page, 'The Moth', 'Fold');
    await page.keyboard.press('5');
    await page.getByTestId('cut-seam').getByText('usual').waitFor();
    await page.getByRole('region', { name: 'Finds' }).waitFor();
    for (let i = 0; i < 3; i++) await page.keyboard.press('n');
    await page.waitForTimeout(800);
  },
  'proof-sheet': async (page) => page.goto(`${address}/bench/${idOf('The Moth')}/sheet`),
  bench: async (page) => {
    const entry = await ask(`/api/samples/${idOf('The Moth')}`);
    await send('The Moth', {
      do: 'settle',
      words: 'tempo 100.3',
      patch: { grid: { ...entry.settled.grid, tempoBpm: 100.3 } },
    });
    await bench(page, 'The Moth', 'Fold');
  },
  'bench-line': async (page) => {
    await bench(page, 'Curtain Groove 96', 'Waveform');
    const box = await page.getByTestId('line-view').boundingBox();
    if (!box) throw new Error('The waveform is not there.');
    await page.mouse.move(box.x + 1, box.y + 150);
    await page.keyboard.down('Shift');
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 3, box.y + 150, { steps: 5 });
    await page.mouse.move(box.x + box.width / 2, box.y + 150, { steps: 5 });
    await page.mouse.up();
    await page.keyboard.up('Shift');
  },
  'bench-moving': async (page) => {
    await bench(page, 'Old Bellows, played free.wav', 'Fold');
    await page.getByRole('tab', { name: 'Grid' }).click();
  },
  'bench-performance': async (page) => bench(page, 'Rehearsal Piano', 'Waveform'),
  'bench-seam': async (page) => bench(page, 'Rope Walk', 'Seam'),
  'bench-key': async (page) => {
    await bench(page, 'Curtain Groove 96', 'Key');
    await page.keyboard.down('r');
  },
  'bench-stems': async (page) => bench(page, 'Night Parade - 3', 'Fold'),
  'bench-night': async (page) => {
    await bench(page, 'Stilt Waltz', 'Fold');
    await page.getByRole('button', { name: 'Dark theme' }).click();
  },
  proof: async (page) => {
    await bench(page, 'Rope Walk', 'Fold');
    await page.getByRole('tab', { name: 'Proof' }).click();
    await page
      .getByRole('button', { name: /^Listen at/ })
      .first()
      .click();
    await page.getByRole('group', { name: 'Check' }).getByRole('button', { name: 'on', exact: true }).click();
  },
  'shelf-traces': async (page) => {
    await page.goto(`${address}/shelf?like=${idOf('Giant')}&tempo=96&key=E+minor`);
    await page.getByRole('row').first().waitFor();
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Space');
    await page.keyboard.press('g');
    await page.keyboard.press('e');
    await page.waitForTimeout(1500);
  },
  'shelf-overview': async (page) => {
    await page.goto(`${address}/shelf?tempoFrom=80&tempoTo=105`);
    await page.getByRole('row').first().waitFor();
    await page.keyboard.press('o');
    await page.getByRole('region', { name: 'To check' }).waitFor();
    await page
      .getByRole('row')
      .nth(2)
      .click({ position: { x: 560, y: 10 } });
  },
  shelf: async (page) => {
    await page.goto(`${address}/shelf?tempo=96&key=E+minor`);
    await page.getByLabel('Search the Shelf').fill('loop 80-115');
    await page.getByRole('combobox', { name: 'Sort' }).click();
    await page.getByRole('option', { name: 'least strain' }).click();
    await page.getByRole('status').first().click();
    await page.waitForTimeout(1500);
    await page.keyboard.press('ArrowDown');
    await page.waitForTimeout(2500);
    await page.keyboard.press('Shift+ArrowDown');
    await page.waitForTimeout(1500);
  },
};

for (const [name, take] of Object.entries(PICTURES)) {
  if (names.length && !names.includes(name)) continue;
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  // The guide stands on a first visit only.
  await page.addInitScript(() => localStorage.setItem('grento-guide', 'left'));
  await take(page);
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `${FOLDER}/${name}.png` });
  await page.close();
  say(`${FOLDER}/${name}.png`);
}
await browser.close();
