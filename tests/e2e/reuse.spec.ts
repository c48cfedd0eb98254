import { expect, test, type Page } from './alive';
import { encodeWave } from '@/core/formats/encodeWave';
import { readMidi } from '@/core/formats/midi';
import { rehearsalPiano } from '@/demo/performance';
import { choose, given, loopFile } from './support';
import { drums } from '../support/music';
import { forget, heardSounding, tapSound } from './tap';

// The tap is a script of its own.
test.use({ bypassCSP: true });

const LOOP = loopFile('Reused trot.wav', { bpm: 104, bars: 4, seed: 71 });

const entryOf = async (page: Page, sampleId: string) =>
  (await page.request.get(`/api/samples/${sampleId}`)).json();

async function saved(page: Page, name: string, seed: number, bpm: number): Promise<string> {
  const sampleId = await given(page, loopFile(name, { bpm, bars: 4, seed }));
  const { sequence } = await entryOf(page, sampleId);
  const order = { base: sequence, order: { do: 'save' } };
  expect((await page.request.post(`/api/samples/${sampleId}/changes`, { data: order })).ok()).toBe(true);
  return sampleId;
}

/** Chooses the two samples that the Shelf lists. */
async function bothChosen(page: Page) {
  const rows = page.getByRole('grid', { name: 'Saved samples' }).getByRole('rowgroup').getByRole('row');
  await expect(rows).toHaveCount(2);
  await page.getByLabel('Search the Shelf').blur();
  await page.keyboard.press('Control+a');
  const bar = page.getByRole('region', { name: 'Selected samples' });
  await expect(bar).toContainText('2 selected');
  return { rows, bar };
}

/** What was made of a sample, when it is there. */
async function childOf(page: Page, sampleId: string, count = 1): Promise<string> {
  const children = async () =>
    (await (await page.request.get(`/api/samples/${sampleId}/family`)).json()).children;
  await expect.poll(async () => (await children()).length, { timeout: 90_000 }).toBe(count);
  return (await children())[count - 1].sampleId;
}

/** The samples of a file's left channel: WAV of 24 bits. */
async function samplesOf(page: Page, sampleId: string): Promise<number[]> {
  const file = await (await page.request.get(`/api/samples/${sampleId}/original`)).body();
  const at = file.indexOf('data') + 8;
  const channels = file.readUInt16LE(22);
  const count = file.readUInt32LE(at - 4) / (3 * channels);
  return Array.from({ length: count }, (_, n) => file.readIntLE(at + 3 * channels * n, 3) / 2 ** 23);
}

test('on the Shelf many are chosen, tagged, rated and found again by a search that is kept', async ({
  page,
}) => {
  await saved(page, 'Shelf rope.wav', 72, 90);
  await saved(page, 'Shelf ladder.wav', 73, 91);
  await saved(page, 'Another one.wav', 77, 120);
  await page.goto('/shelf');
  await page.getByLabel('Search the Shelf').fill('shelf 80-95');
  const { rows, bar } = await bothChosen(page);
  await page.keyboard.press('b');
  await choose(bar.getByLabel('facet'), 'word');
  await bar.getByLabel('tag', { exact: true }).fill('backstage');
  await bar.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(rows.first()).toContainText('backstage');
  await page.keyboard.press('4');
  await expect(rows.nth(1)).toContainText('4/5');
  await page.getByText('Save search').click();
  await page.getByLabel('Name of the search').fill('Slow ropes');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('button', { name: 'Clear all filters' }).click();
  await expect(rows).not.toHaveCount(2);
  await page.reload();
  await page
    .getByRole('group', { name: 'Saved searches' })
    .getByRole('button', { name: 'Slow ropes' })
    .click();
  await expect(rows).toHaveCount(2);
  // Tags of one are changed where it stands.
  await rows.first().click();
  await page.keyboard.press('e');
  const aside = page.getByRole('complementary', { name: 'Search' });
  await aside.getByRole('button', { name: 'pad', exact: true }).click();
  await expect(rows.first()).toContainText('pad');
  await page.keyboard.press('g');
  await expect(page.getByRole('gridcell').first()).toBeVisible();
});

test('bars are drawn along the fold, heard as they will be written, made, and prove themselves', async ({
  page,
}) => {
  await tapSound(page);
  const sampleId = await given(page, LOOP);
  await page.goto(`/bench/${sampleId}`);
  const fold = page.getByTestId('fold-view');
  await expect(fold).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled();
  const box = (await fold.boundingBox())!;
  const height = Math.min(110, (box.height - 22) / 4);
  await page.mouse.move(box.x + 20, box.y + 22 + 1.5 * height);
  await page.mouse.down();
  await page.mouse.move(box.x + 20, box.y + 22 + 2.5 * height, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.press('5');
  await expect(page.getByTestId('cut-view')).toContainText('bars 2 to 3');
  const outcome = page.getByTestId('outcome');
  const frames = Number(/([\d,]+) frames/.exec((await outcome.textContent())!)![1].replaceAll(',', ''));
  expect(Math.abs(frames - (8 * 60 * 44_100) / 104)).toBeLessThan(3);

  // Without the click.
  await page.keyboard.press('c');
  await forget(page);
  await page.keyboard.press('q');
  const { left } = await heardSounding(page, (1.4 * frames) / 44_100);
  await page.keyboard.press('q');
  await page.keyboard.press('k');
  const cut = await childOf(page, sampleId);
  // What was heard is what was written, sample by sample, and after it itself again.
  const written = await samplesOf(page, cut);
  expect(written).toHaveLength(frames);
  const begins = left.findIndex((value) => Math.abs(value) > 1e-4);
  const first = written.findIndex((value) => Math.abs(value) > 1e-4);
  const shift = [0, 1, -1, 2, -2].find((by) =>
    written.slice(first, first + 2000).every((value, n) => Math.abs(value - left[begins + by + n]) < 2e-6),
  );
  expect(shift).toBeDefined();
  const at = begins + shift! - first;
  let most = 0;
  for (let n = first; n < written.length; n++) {
    most = Math.max(most, Math.abs(written[n] - left[at + n]));
    if (at + n + frames < left.length) most = Math.max(most, Math.abs(written[n] - left[at + n + frames]));
  }
  expect(most).toBeLessThan(2e-6);

  await page.goto(`/bench/${cut}`);
  await expect(page.getByRole('link', { name: 'of Reused trot.wav' })).toBeVisible();
  await page.getByRole('tab', { name: 'History' }).click();
  const family = page.getByRole('region', { name: 'Family' });
  await expect(family).toContainText('bars 2 to 3, WAV 24');
  await expect(page.getByTestId('differences')).toContainText('frames, as planned');
  // Once more with something else.
  await family.getByRole('button', { name: 'Render again with' }).click();
  await expect(page.getByTestId('cut-view')).toContainText('bars 2 to 3');
  await page.getByLabel('BPM', { exact: true }).fill('96');
  await expect(outcome).toContainText('96 BPM');
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  const bent = await entryOf(page, await childOf(page, sampleId, 2));
  expect(bent.settled.grid.tempoBpm).toBeCloseTo(96, 3);
});

test('a hit is pulled to another place and back, edges and exact bars say what they do', async ({ page }) => {
  const sampleId = await given(page, loopFile('Cut pulled.wav', { bpm: 100, bars: 4, seed: 74 }));
  await page.goto(`/bench/${sampleId}`);
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled({ timeout: 60_000 });
  await page.keyboard.press('5');
  const picture = page.getByTestId('cut-picture');
  await expect(picture).toBeVisible();
  await expect(page.getByTestId('cut-seam')).toContainText('usual');
  await expect(page.getByRole('region', { name: 'Finds' })).toContainText('loops');
  const view = page.getByTestId('cut-view');
  const { measurement, settled } = await entryOf(page, sampleId);
  const hit = measurement.onsets.find(
    ({ time, strength }: { time: number; strength: number }) => time > settled.grid.one + 2 && strength > 8,
  ).time;
  const box = (await picture.boundingBox())!;
  const [start, end] = [settled.grid.one, settled.grid.one + 9.6];
  const margin = 0.18 * (end - start);
  const from = Math.max(-0.02 * (end - start), start - margin);
  const to = Math.min(9.6 + 0.02 * (end - start), end + margin);
  const x = box.x + ((hit - from) / (to - from)) * box.width;
  const y = box.y + box.height - 10;
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 6, y, { steps: 6 });
  await page.mouse.up();
  await expect(view).toContainText('1 hit moved by hand');
  await page.mouse.dblclick(x, y);
  await expect(view).not.toContainText('moved by hand');
  await choose(page.getByLabel('Tail', { exact: true }), 'over the beginning');
  await expect(view).toContainText('0.5 s of tail overlaps the start');
  // A change of the draft is undone there, and what is settled stays.
  await page.getByLabel('Tail', { exact: true }).blur();
  await page.keyboard.press('Control+z');
  await expect(view).not.toContainText('of tail overlaps the start');
  await page.keyboard.press('Control+Shift+z');
  await expect(view).toContainText('0.5 s of tail overlaps the start');
  await choose(page.getByRole('combobox', { name: 'Edges' }), 'quietest');
  await page.getByLabel('Crossfade').fill('4000');
  await expect(page.getByLabel('Crossfade')).toHaveAttribute('aria-invalid', 'true');
  await page.getByLabel('BPM', { exact: true }).fill('400');
  await page.getByLabel('BPM', { exact: true }).fill('20');
  await expect(view).toContainText('5.0 times as long');
});

test('a loop does not end in a fade-out unless somebody insists on it', async ({ page }) => {
  const { left, right, sampleRate } = drums({ bpm: 120, bars: 8, seed: 80 });
  // Over a lasting tone, so that what fades is heard all the time.
  const fade = (side: Float32Array) =>
    side.map(
      (value, n) =>
        (0.6 * value + 0.35 * Math.sin(n * 0.03)) * Math.max(0, Math.min(1, (15.5 - n / sampleRate) / 5)),
    );
  const bytes = encodeWave([fade(left), fade(right)], sampleRate, 16);
  const sampleId = await given(page, { name: 'Fading out.wav', bytes });
  await page.goto(`/bench/${sampleId}`);
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled({ timeout: 60_000 });
  await page.keyboard.press('5');
  const make = page.getByRole('button', { name: 'Render', exact: true });
  await page
    .getByRole('group', { name: 'Bars', exact: true })
    .getByRole('button', { name: 'Bars more' })
    .waitFor();
  await page.getByRole('button', { name: '4', exact: true }).click();
  for (let bar = 1; bar < 5; bar++) await page.getByRole('button', { name: 'First bar more' }).click();
  await expect(page.getByTestId('cut-view')).toContainText('ends within the fade-out');
  await expect(make).toBeDisabled();
  await page.getByRole('button', { name: 'Render anyway' }).click();
  await expect(make).toBeEnabled();
});

test('chosen samples are made at the target, in one go, and undone in one', async ({ page }) => {
  const ids = [await saved(page, 'Bent rope.wav', 75, 90), await saved(page, 'Bent ladder.wav', 76, 118)];
  await page.goto('/shelf?tempo=100');
  await page.getByLabel('Search the Shelf').fill('bent');
  const { rows, bar } = await bothChosen(page);
  await page.keyboard.press('m');
  await expect(bar).toContainText('100 BPM');
  await bar.getByRole('button', { name: 'Render 2' }).click();
  for (const sampleId of ids) {
    const made = await entryOf(page, await childOf(page, sampleId));
    expect(made.settled.grid.tempoBpm).toBeCloseTo(100, 3);
    expect(made.summary.standing).toBe('saved');
  }
  await expect(rows).toHaveCount(4);
  await page.keyboard.press('Control+z');
  await expect(rows).toHaveCount(2);
});

test('a performance is played in without a click, arrives, and keeps its times to a millisecond', async ({
  page,
}) => {
  await page.goto('/intake/play');
  const record = page.getByRole('button', { name: 'Record' });
  await record.click();
  // Keys at times that the page itself tells: a beat of 500 ms, some of them late.
  const told = await page.evaluate(async () => {
    const times: number[] = [];
    for (let beat = 0; beat < 14; beat++) {
      const code = ['KeyA', 'KeyD', 'KeyG', 'KeyD'][beat % 4];
      await new Promise((resolve) => setTimeout(resolve, beat % 3 === 1 ? 262 : 250));
      const down = new KeyboardEvent('keydown', { code, bubbles: true });
      window.dispatchEvent(down);
      times.push(down.timeStamp);
      await new Promise((resolve) => setTimeout(resolve, 100));
      window.dispatchEvent(new KeyboardEvent('keyup', { code, bubbles: true }));
    }
    return times;
  });
  await expect(page.getByTestId('played')).toContainText('14 notes');
  await page.getByRole('button', { name: 'Stop and save' }).click();
  const listed = async () =>
    (await (await page.request.get('/api/samples?text=recorded&kind=midi&sort=arrived')).json()).rows[0];
  await expect.poll(async () => (await listed())?.standing, { timeout: 90_000 }).toBe('measured');
  const { sampleId, folder } = await listed();
  expect(folder).toBe('Recorded MIDI');
  const bytes = await (await page.request.get(`/api/samples/${sampleId}/original`)).body();
  const { notes } = readMidi(bytes);
  expect(notes).toHaveLength(14);
  // Latency is none (the first note stands where every recording begins); jitter is what the messages' own times leave.
  notes.forEach(({ time }, i) =>
    expect(Math.abs(time - 0.25 - (told[i] - told[0]) / 1000)).toBeLessThan(0.001),
  );
  await page.goto(`/bench/${sampleId}`);
  await page.getByRole('tab', { name: 'Waveform' }).click({ timeout: 60_000 });
  await expect(page.getByTestId('line-view')).toBeVisible();
});

/** Presses a key in the same breath in which something appears: before it is painted. */
const pressedAsSoonAs = (page: Page, selector: string, pressed: string) =>
  page.evaluate(
    ([wanted, key]) => {
      const watch = new MutationObserver(() => {
        if (!document.querySelector(wanted)) return;
        watch.disconnect();
        window.dispatchEvent(new KeyboardEvent('keydown', { key, cancelable: true }));
      });
      watch.observe(document.body, { childList: true, subtree: true });
    },
    [selector, pressed],
  );

test('a find is taken, exact bars say their size, and a feel is laid on', async ({ page }) => {
  await saved(page, 'Lazy cart.wav', 78, 96);
  const sampleId = await given(page, loopFile('Offered trot.wav', { bpm: 112, bars: 8, seed: 79 }));
  await page.goto(`/bench/${sampleId}`);
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled({ timeout: 60_000 });
  await pressedAsSoonAs(page, '[aria-label="Finds"]', 'n');
  await page.keyboard.press('5');
  const finds = page.getByRole('region', { name: 'Finds' });
  await expect(finds).toContainText('loops');
  const outcome = page.getByTestId('outcome');
  const rows = finds.getByRole('listitem');
  // A key answers to what is shown, from the moment it is shown.
  await expect(rows.first()).toHaveAttribute('aria-current', 'true');
  await expect(page.getByTestId('cut-seam')).toContainText('seamless');
  const chosen = finds.getByRole('checkbox', { checked: true });
  await page.keyboard.press('j');
  await expect(chosen).toHaveCount(1);
  await page.keyboard.press('n');
  await page.keyboard.press('j');
  await expect(chosen).toHaveCount(2);
  await finds.getByRole('button', { name: 'Render 2 selected' }).click();
  await childOf(page, sampleId, 2);
  // Exactly so many bars at a whole number, and what that changes.
  await page.getByLabel('BPM', { exact: true }).fill('110');
  await page.getByLabel(/exactly \d+ bars?, to the frame/).check();
  await expect(outcome).toContainText('110 BPM');
  await page.getByLabel('Groove of another sample').fill('lazy');
  await page.getByRole('button', { name: 'Lazy cart.wav' }).click();
  await expect(page.getByRole('img', { name: /^Groove by place in the bar/ })).toBeVisible();
  await expect(page.getByTestId('cut-view')).toContainText('100 % of the groove of “Lazy cart.wav”');
});

test('a performance is made steady and quantized, as notes, beside the one that was played', async ({
  page,
}) => {
  const sampleId = await given(page, { name: 'Recorded freely.mid', bytes: rehearsalPiano().bytes });
  await page.goto(`/bench/${sampleId}`);
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled({ timeout: 60_000 });
  await page.keyboard.press('5');
  await page.getByLabel('BPM', { exact: true }).fill('90');
  await choose(page.getByLabel('Tempo changes'), 'beat');
  await page.getByLabel('Quantize').fill('1');
  await expect(page.getByTestId('cut-view')).toContainText('quantized 100 %, as MIDI notes');
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  const made = await childOf(page, sampleId);
  const { notes, claims } = readMidi(await (await page.request.get(`/api/samples/${made}/original`)).body());
  expect(claims.bpm).toBe(90);
  for (const { time } of notes) {
    const quarter = (time * 90 * 4) / 60;
    expect(Math.abs(quarter - Math.round(quarter))).toBeLessThan(0.02);
  }
});
