import { expect, test, type Page } from './alive';
import { type BlendOrder, type KeptBlend, type LaneInput, newLane } from '@/contract/blend';
import { decodeAudio } from '@/core/formats/decode';
import { inBlocks } from '../support/bytes';
import { frequencyIn, hear, hitsIn, keyOf, pieceOf, RATE, saved, type Piece } from './pieces';
import { choose, lookOnShelf } from './support';
import { forget, framesHeard, heard, heardSince, listen, tapSound } from './tap';

// The tap is no file of the application's; its content policy, tested elsewhere, would refuse it.
test.use({ bypassCSP: true });

const C: Piece = { name: 'Meet C', bpm: 88.402, beatsPerBar: 4, bars: 2, key: keyOf('C minor') };
const E_FLAT: Piece = { name: 'Meet E flat', bpm: 117, beatsPerBar: 4, bars: 4, key: keyOf('E♭ minor') };

let ids: string[] = [];
test.beforeAll(async ({ browser, baseURL }) => {
  const page = await browser.newPage({ baseURL });
  ids = [await saved(page, C), await saved(page, E_FLAT)];
  await page.close();
});

const staff = (page: Page, name: string) => page.getByRole('img', { name: `Trace of ${name}` });
const head = (page: Page, name: string) =>
  page.getByRole('listitem').filter({ has: page.getByRole('button', { name, exact: true }) });

async function posted(page: Page, path: string, data: object): Promise<KeptBlend> {
  const answer = await page.request.post(`/api/blends${path}`, { data });
  expect(answer.ok(), await answer.text()).toBe(true);
  return answer.json();
}
const order = (page: Page, { id }: KeptBlend, one: BlendOrder) =>
  posted(page, `/${id}`, { do: 'order', words: 'set up', order: one });

/** A blend of both loops, the first of which leads. */
async function blendOfTwo(page: Page, name: string, second: Partial<LaneInput> = {}): Promise<KeptBlend> {
  const made = await posted(page, '', { name });
  const takes = { tempoBpm: 88.402, key: C.key, meter: { beatsPerBar: 4, beatUnit: 4 }, movement: null };
  const lane = (n: number, piece: Piece, more: Partial<LaneInput> = {}) =>
    newLane({ laneId: `${n}-test`, sampleId: ids[n - 1], name: `${piece.name}.wav`, times: null, ...more });
  await order(page, made, { do: 'put', lane: lane(1, C), leads: true, takes });
  return order(page, made, { do: 'put', lane: lane(2, E_FLAT, second), leads: false, takes: null });
}

async function open(page: Page, { id }: KeptBlend) {
  await tapSound(page);
  await page.goto(`/blend/${id}`);
  await expect(staff(page, `${C.name}.wav`)).toBeVisible();
}

/** Without the click, which is on from the beginning. */
async function play(page: Page) {
  if (await page.getByRole('button', { name: 'Click on' }).isVisible())
    await page.getByRole('button', { name: 'Click on' }).click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible({ timeout: 30_000 });
}

/** Times between neighbouring hits, seconds. */
const gapsOf = (hits: readonly number[]) => hits.slice(1).map((hit, i) => (hit - hits[i]) / RATE);

test('two loops of 88.402 and 117 BPM meet on every beat, in one key, also when the tempo changes while they sound', async ({
  page,
}) => {
  await open(page, await blendOfTwo(page, 'Meeting'));
  await forget(page);
  await play(page);
  await hear(page, 4);
  const { left } = await heard(page);
  const hits = hitsIn(left);
  expect(hits.length).toBeGreaterThanOrEqual(4);
  gapsOf(hits).forEach((gap) => expect(Math.abs(gap - 60 / 88.402)).toBeLessThan(0.001));
  // Both are in each hit: it is twice as loud as one.
  for (const hit of hits) expect(Math.max(...left.slice(hit, hit + 40).map(Math.abs))).toBeGreaterThan(1.2);
  // E♭ minor is heard in C minor: three semitones lower.
  const tone = pieceOf(E_FLAT).hz * 2 ** (-3 / 12);
  const found = frequencyIn(left, hits[1] + 2000, hits[2] - 2000, tone);
  expect(Math.abs(1200 * Math.log2(found / tone))).toBeLessThan(40);

  await page.getByLabel('Tempo of the blend, BPM').fill('101');
  await page.getByLabel('Tempo of the blend, BPM').press('Enter');
  const isNew = (gap: number) => Math.abs(gap - 60 / 101) < 0.001;
  await expect
    .poll(
      async () =>
        gapsOf(hitsIn((await heard(page)).left))
          .slice(-5)
          .every(isNew),
      { timeout: 30_000, intervals: [500] },
    )
    .toBe(true);
  const gaps = gapsOf(hitsIn((await heard(page)).left));
  const changed = gaps.findIndex(isNew);
  gaps.slice(changed).forEach((gap) => expect(isNew(gap)).toBe(true));
  // One gap is partly old and partly new; nothing stopped.
  expect(gaps[changed - 1]).toBeGreaterThan(60 / 101 - 0.001);
  expect(gaps[changed - 1]).toBeLessThan(60 / 88.402 + 0.001);
});

test('the mix that the server writes is what was heard, sample by sample', async ({ page }) => {
  // A name of its own for each time that it is tried.
  const name = `As it was heard ${Date.now()}`;
  const kept = await blendOfTwo(page, name, { levelDb: -4, pan: -0.3 });
  await open(page, kept);
  await forget(page);
  await play(page);
  const { left, right } = await heardSince(page, 7);
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Export…' }).click();
  await choose(page.getByLabel('Format'), 'wav 32 float');
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Finished' })).toContainText('is rendered', {
    timeout: 90_000,
  });
  const query = new URLSearchParams({ text: name, limit: '5' });
  const rows = async () => (await (await page.request.get(`/api/shelf?${query}`)).json()).rows;
  await expect.poll(async () => (await rows()).length, { timeout: 90_000 }).toBe(1);
  const [{ sampleId }] = await rows();
  const bytes = await (await page.request.get(`/api/samples/${sampleId}/original`)).body();
  const blocks: Float32Array[][] = [];
  await decodeAudio(
    () => inBlocks(bytes),
    (block) => void blocks.push(block.map((one) => one.slice())),
  );
  const mix = [0, 1].map((c) => Float32Array.from(blocks.flatMap((block) => [...block[c]])));
  const start = hitsIn(left)[0] - hitsIn([...mix[0]])[0];
  let apart = 0;
  const seconds = Math.min(mix[0].length, left.length - start);
  expect(seconds / RATE).toBeGreaterThan(5);
  for (let i = 100; i < seconds; i++)
    apart = Math.max(apart, Math.abs(left[start + i] - mix[0][i]), Math.abs(right[start + i] - mix[1][i]));
  expect(apart).toBeLessThan(1e-5);
});

test('position in time a lane stands on its frame, whatever the tempo', async ({ page }) => {
  const kept = await blendOfTwo(page, 'Held', { held: 'time', atSeconds: 1.5, times: 1, semitones: 0 });
  await order(page, kept, { do: 'lanes', patches: [{ laneId: '1-test', patch: { muted: true } }] });
  await open(page, kept);
  for (const bpm of [88.402, 120]) {
    await page.getByLabel('Tempo of the blend, BPM').fill(String(bpm));
    await page.getByLabel('Tempo of the blend, BPM').press('Enter');
    await forget(page);
    if (await page.getByRole('button', { name: 'Click off' }).isVisible())
      await page.getByRole('button', { name: 'Click off' }).click();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible({ timeout: 30_000 });
    await hear(page, 3.5);
    const hits = hitsIn((await heard(page)).left);
    await page.keyboard.press('Space');
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
    // The click's one and the lane's first beat, a second and a half later.
    const clicks = hits.map((hit) => (hit - hits[0]) / RATE);
    const own = clicks.filter(
      (time) => time > 1.4 && [0, 1, 2].some((beat) => Math.abs(time - 1.5 - (beat * 60) / 117) < 0.0005),
    );
    expect(own.length, `${bpm} BPM: ${clicks.map((time) => time.toFixed(3))}`).toBeGreaterThanOrEqual(1);
  }
});

test('the whole walk: made, filled from the search and the Shelf, led, bent, judged, undone, kept', async ({
  page,
  context,
}) => {
  await page.goto('/blend');
  await page.getByRole('button', { name: 'New blend' }).click();
  await expect(page.getByText('This blend is empty')).toBeVisible();
  await page.getByLabel('Name of the blend').fill('Rehearsal');
  await page.getByLabel('Name of the blend').press('Enter');
  // Found, with what would become of the blend, and put in.
  await page.keyboard.press('f');
  await page.getByLabel('Find samples to add').fill('Meet C');
  await expect(page.getByRole('grid', { name: 'Samples to add' })).toContainText(
    'becomes the lead: the blend is 88.402 BPM, C minor',
  );
  await page.getByRole('button', { name: 'Add Meet C.wav' }).click();
  await expect(head(page, 'Meet C.wav')).toContainText('lead');
  await expect(page.getByLabel('Tempo of the blend, BPM')).toHaveValue('88.402');
  // From the Shelf, by a key: it goes into the blend that was worked on.
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  await lookOnShelf(page, 'Meet E flat');
  await page
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name: 'Meet E flat.wav', exact: true }) })
    .click({ position: { x: 300, y: 10 } });
  await page.keyboard.press('p');
  await page.getByRole('button', { name: 'Open' }).click();
  await expect(head(page, 'Meet E flat.wav')).toContainText('117 → 88.402');
  await expect(head(page, 'Meet E flat.wav')).toContainText('E♭ minor → C minor −3');
  await expect(page.getByLabel('Length of the blend, bars')).toHaveAttribute('placeholder', '4');
  await expect(page.getByRole('region', { name: 'Timing' })).toContainText('yes');
  // The other leads, by a key; undone, and redone after a reload.
  await page.getByRole('button', { name: 'Meet E flat.wav', exact: true }).click();
  await page.keyboard.press('l');
  await expect(head(page, 'Meet E flat.wav')).toContainText('lead');
  await expect(page.getByLabel('Tempo of the blend, BPM')).toHaveValue('117');
  await page.keyboard.press('Control+z');
  await expect(head(page, 'Meet C.wav')).toContainText('lead');
  await page.reload();
  await page.getByRole('button', { name: /^Redo|^Do again/ }).click();
  await expect(head(page, 'Meet E flat.wav')).toContainText('lead');
  await page.keyboard.press('Control+z');
  await expect(head(page, 'Meet C.wav')).toContainText('lead');
  // A lane that stands beside the others is seen and straightened.
  await page.getByRole('button', { name: 'Meet E flat.wav', exact: true }).click();
  // Three presses before anything is painted: none is lost.
  await page.evaluate(() => {
    for (let i = 0; i < 3; i++)
      document.body.dispatchEvent(
        new KeyboardEvent('keydown', { key: '>', code: 'Period', shiftKey: true, bubbles: true }),
      );
  });
  await expect(page.getByRole('region', { name: 'Timing' })).toContainText('flam by 30 ms');
  await page.getByRole('button', { name: 'Align' }).click();
  await expect(page.getByRole('region', { name: 'Timing' })).toContainText('yes');
  // In another tab the same blend shows what is changed here, and both changes stand.
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(head(other, 'Meet C.wav')).toContainText('lead');
  await page.keyboard.press('m');
  await expect(
    head(other, 'Meet E flat.wav').getByRole('button', { name: 'Mute Meet E flat.wav' }),
  ).toHaveAttribute('aria-pressed', 'true');
  await choose(other.getByLabel('Key of the blend'), 'D minor');
  await expect(page.getByLabel('Key of the blend')).toHaveText('D minor');
  await other.close();
  // Copied, deleted, undone.
  await page.goto('/blend');
  await page.getByRole('button', { name: 'Duplicate Rehearsal' }).click();
  await expect(page.getByLabel('Name of the blend')).toHaveValue('Rehearsal, a copy');
  await page.goto('/blend');
  await page.getByRole('button', { name: 'Delete Rehearsal, a copy' }).click();
  await expect(page.getByRole('list', { name: 'Blends' })).not.toContainText('a copy');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('list', { name: 'Blends' })).toContainText('Rehearsal, a copy');
});

test('an incoming sample is heard with the others before it is added, and dropped onto a bar', async ({
  page,
}) => {
  const made = await blendOfTwo(page, 'Incoming');
  await order(page, made, { do: 'take', laneId: '2-test' });
  await open(page, made);
  await play(page);
  await listen(page, 2);
  const loudest = async () => Math.max(...(await listen(page, 2)).left.map(Math.abs));
  const alone = await loudest();
  await page.keyboard.press('f');
  await page.getByLabel('Find samples to add').fill('Meet E flat');
  const found = page
    .getByRole('grid', { name: 'Samples to add' })
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name: 'Add Meet E flat.wav' }) });
  await expect(found).toContainText(/will be stretched: [\d.]+ → [\d.]+ BPM \(−24\.4 %\); −3 semitones/);
  await found.getByRole('button', { name: 'Preview Meet E flat.wav in time' }).click();
  await expect.poll(loudest, { timeout: 30_000 }).toBeGreaterThan(1.4 * alone);
  await found.getByRole('button', { name: 'Stop Meet E flat.wav' }).click();
  await expect.poll(loudest, { timeout: 30_000 }).toBeLessThan(1.1 * alone);
  // Dragged to the second bar of two, with what becomes of it said on the way.
  const box = (await staff(page, 'Meet C.wav').boundingBox())!;
  const from = (await found.boundingBox())!;
  await page.mouse.move(from.x + 120, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(from.x + 140, from.y - 20, { steps: 4 });
  await page.mouse.move(box.x + box.width * 0.75, box.y + 20, { steps: 8 });
  await expect(page.getByRole('status').filter({ hasText: 'from bar 2 on' })).toContainText('−3 semitones');
  await page.mouse.up();
  await expect(head(page, 'Meet E flat.wav')).toContainText('fitted');
  // The page shows it before the server has it.
  const second = async () => {
    const kept: KeptBlend = await (await page.request.get(`/api/blends/${made.id}`)).json();
    return kept.state.lanes[1];
  };
  await expect.poll(second).toMatchObject({ name: 'Meet E flat.wav', at: 4 });
  expect(await framesHeard(page)).toBeGreaterThan(0);
});

test('a row of the Shelf is dragged into the blend, and what would become of it is said before', async ({
  page,
}) => {
  const made = await blendOfTwo(page, 'Dragged into');
  await order(page, made, { do: 'take', laneId: '2-test' });
  await page.goto(`/blend/${made.id}`);
  await expect(staff(page, 'Meet C.wav')).toBeVisible();
  await page.goto('/shelf');
  await lookOnShelf(page, 'Meet E flat');
  const dragged = page
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name: 'Meet E flat.wav', exact: true }) });
  const box = (await dragged.boundingBox())!;
  await page.mouse.move(box.x + 420, box.y + 12);
  await page.mouse.down();
  await page.mouse.move(box.x + 430, box.y + 60, { steps: 4 });
  const strip = page.getByText('drop here to add it to “Dragged into”');
  await expect(strip).toContainText(/will be stretched: [\d.]+ → [\d.]+ BPM \(−24\.4 %\); −3 semitones/);
  const place = (await strip.boundingBox())!;
  await page.mouse.move(place.x + place.width / 2, place.y + 10, { steps: 6 });
  // It is said to be over it, as a hand would see before it lets go.
  await expect(strip).toHaveClass(/bg-wash-good/);
  await page.mouse.up();
  await expect(page.getByText('is in the blend “Dragged into”, 2 lanes')).toBeVisible();
});

test('what cannot be is said and loses nothing: a thirteenth lane, a blend that is gone, a sample in the bin', async ({
  page,
}) => {
  const made = await blendOfTwo(page, 'Full');
  for (let n = 3; n <= 12; n++)
    await order(page, made, {
      do: 'put',
      lane: newLane({
        laneId: `${n}-test`,
        sampleId: ids[n % 2],
        name: `Lane ${n}`,
        times: null,
        levelDb: -20,
      }),
      ...{ leads: false, takes: null },
    });
  await page.goto(`/blend/${made.id}`);
  await expect(page.getByRole('list', { name: 'Lanes', exact: true }).getByRole('listitem')).toHaveCount(12);
  await page.keyboard.press('f');
  await expect(page.getByText('A blend holds 12 lanes')).toBeVisible();
  await page.goto('/shelf');
  await lookOnShelf(page, 'Meet C');
  const meetC = page.getByRole('button', { name: 'Meet C.wav', exact: true });
  await page.getByRole('row').filter({ has: meetC }).hover();
  await page.getByRole('button', { name: 'Add Meet C.wav to the blend' }).first().click();
  await expect(page.getByText('a blend holds 12 lanes at most')).toBeVisible();
  await page.request.delete(`/api/blends/${made.id}`);
  await page.goto(`/blend/${made.id}`);
  await expect(page.getByText('There is no such blend, or it was deleted.')).toBeVisible();
});
