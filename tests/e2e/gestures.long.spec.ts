import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { SampleEntry } from '@/contract/entry';
import { mothAndLantern, nightParade, PARADE_STEMS, ropeWalk } from '@/demo/pieces';
import { rehearsalPiano } from '@/demo/performance';
import { encodeWave } from '@/core/formats/encodeWave';
import { driftPiece } from '../support/difficult';
import { drumFile } from '../support/files';
import { chords, drums, monoOf } from '../support/music';
import { midiNotes } from '../support/readers';
import { expect, test, type Page } from './alive';
import { Hand, holdAgainstDocument, type Walked } from './hand';
import { given, loopFile, pointAt, row, type NewFile } from './support';

/**
 * The tasks of the job, walked with the real interface on real files: each click, key, drag, typed value and choice counts
 * one, and none may need more than is allowed. What comes of each is held against what is true of the file.
 */
const walked: Walked[] = [];

function walk(number: number, task: string, most: number, way: (page: Page, hand: Hand) => Promise<void>) {
  test(`${number}: ${task}`, async ({ page }) => {
    const hand = new Hand(page);
    await way(page, hand);
    walked.push({ number, task, most, steps: hand.steps });
    expect(hand.count, hand.steps.join(', ')).toBeLessThanOrEqual(most);
  });
}

// Whoever works here has said who it is.
test.beforeEach(async ({ page }) => {
  const answer = await page.request.post('/api/curators', { data: { name: 'Odo Finch' } });
  const { curatorId } = await answer.json();
  await page.addInitScript((id) => localStorage.setItem('grento-curator', id), curatorId);
});

test.afterAll(() => {
  if (walked.length === TASKS) holdAgainstDocument(walked);
});
const TASKS = 14;

const wave = (name: string, { left, right, sampleRate }: ReturnType<typeof drums>): NewFile => ({
  name,
  bytes: encodeWave([left, right], sampleRate, 16),
});

/** The Intake with nothing but a file that was imported, before anything is counted. */
async function inIntake(page: Page, files: readonly NewFile[], text: string): Promise<string[]> {
  const ids: string[] = [];
  for (const file of files) ids.push(await given(page, file));
  await page.goto(`/intake?text=${encodeURIComponent(text)}&sort=name&direction=up`);
  for (const { name } of files) await expect(row(page, name)).toBeVisible();
  return ids;
}

const entryOf = async (page: Page, sampleId: string): Promise<SampleEntry> =>
  (await page.request.get(`/api/samples/${sampleId}`)).json();

/** The newest samples that were rendered from one, once there are so many. */
async function renderedFrom(page: Page, sampleId: string, count = 1): Promise<SampleEntry[]> {
  const children = async () =>
    (await (await page.request.get(`/api/samples/${sampleId}/family`)).json()).children as {
      sampleId: string;
    }[];
  await expect.poll(async () => (await children()).length, { timeout: 60_000 }).toBe(count);
  return Promise.all((await children()).map((child) => entryOf(page, child.sampleId)));
}

const cutReady = (page: Page) =>
  expect(page.getByRole('button', { name: 'Render', exact: true })).toBeEnabled({ timeout: 60_000 });
const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: true });

/** A file that the browser downloads. */
async function downloaded(page: Page, act: () => Promise<void>): Promise<{ name: string; bytes: Buffer }> {
  const coming = page.waitForEvent('download', { timeout: 90_000 });
  await act();
  const download = await coming;
  const chunks: Buffer[] = [];
  for await (const chunk of await download.createReadStream()) chunks.push(chunk as Buffer);
  return { name: download.suggestedFilename(), bytes: Buffer.concat(chunks) };
}

/** Frames of a WAV file, by its head. */
function framesOf(bytes: Buffer): number {
  const data = bytes.indexOf('data');
  return bytes.readUInt32LE(data + 4) / bytes.readUInt16LE(bytes.indexOf('fmt ') + 20);
}

walk(
  1,
  'a song of unknown tempo: imported, tempo and first downbeat checked at beginning, middle and end, signed, saved',
  8,
  async (page, hand) => {
    const { stage, truth } = mothAndLantern();
    await page.goto('/intake');
    const name = 'Nobody knows how fast.wav';
    const buffer = Buffer.from(wave(name, stage).bytes);
    await hand.choose(page.getByLabel('Select files'), { name, mimeType: 'audio/wav', buffer });
    await expect(page.getByRole('region', { name: 'New' })).toContainText(name, { timeout: 30_000 });
    await hand.press('Enter', 'open it');
    await expect(page.getByTestId('tempo')).toHaveText('100.000', { timeout: 60_000 });
    await expect(button(page, 'Play')).toBeEnabled();
    await hand.press('g', 'check, from the beginning');
    const check = page.getByRole('group', { name: 'Check' });
    for (const place of ['1 of 3: beginning', '2 of 3: middle', '3 of 3: end']) {
      await expect(check).toContainText(place);
      await hand.press('y', 'the click is on time');
    }
    await expect(button(page, 'Sign the proof')).toBeEnabled();
    await hand.press('Control+Enter', 'sign');
    await expect(page.getByRole('list', { name: 'Proofs' })).toContainText('Odo Finch');
    await hand.press('Control+s', 'save');
    await expect(button(page, 'Remove from Shelf')).toBeVisible();
    const { summary, settled } = await entryOf(page, new URL(page.url()).pathname.split('/').pop()!);
    expect(summary).toMatchObject({ standing: 'saved', proof: 'current' });
    expect(settled.grid!.tempoBpm).toBeCloseTo(truth.bpm!, 2);
    expect(settled.grid!.one).toBeCloseTo(truth.one!, 2);
  },
);

walk(
  2,
  'a roughly cut loop: exact loop, two decimals, bars, checked, saved with two tags',
  12,
  async (page, hand) => {
    const { stage, truth } = ropeWalk();
    const [id] = await inIntake(page, [wave('Rope cut roughly.wav', stage)], 'rope cut roughly');
    await hand.press('ArrowDown', 'onto the row');
    await hand.press('Enter', 'open it');
    await expect(page.getByTestId('tempo')).toHaveText(/^\d/, { timeout: 60_000 });
    await expect(button(page, 'Play')).toBeEnabled();
    await hand.press('3', 'the seam of its loop');
    await hand.press('g', 'check, from the beginning');
    const check = page.getByRole('group', { name: 'Check' });
    for (const place of ['1 of 3', '2 of 3', '3 of 3']) {
      await expect(check).toContainText(place);
      await hand.press('y', 'the click is on time');
    }
    await hand.press('Control+Enter', 'sign');
    await expect(page.getByRole('list', { name: 'Proofs' })).toContainText('Odo Finch');
    await hand.press('i', 'type tags');
    await expect(page.getByLabel('Tags, Enter to add')).toBeFocused();
    await hand.type('drums, rope');
    await hand.press('Enter', 'add them');
    await expect(page.getByRole('button', { name: 'Remove rope' })).toBeVisible();
    // Enter leaves the keyboard to the screen.
    await hand.press('Control+s', 'save');
    await expect(button(page, 'Remove from Shelf')).toBeVisible();
    const { summary, settled } = await entryOf(page, id);
    expect(summary).toMatchObject({ standing: 'saved', proof: 'current', bars: 4 });
    expect(Math.abs(settled.grid!.tempoBpm - truth.bpm!)).toBeLessThan(0.01);
    expect(settled.tags).toEqual(
      expect.arrayContaining([
        { facet: 'part', value: 'drums' },
        { facet: 'word', value: 'rope' },
      ]),
    );
  },
);

walk(3, 'one bar of drums out of a song as a perfect loop, then at 120 BPM', 10, async (page, hand) => {
  const bpm = 100;
  const bar = (4 * 60) / bpm;
  const struck = drums({ bpm, bars: 24, seed: 77 });
  const held = monoOf(chords(57, 'minor'));
  const [from, to] = [8, 24].map((at) => Math.round(at * bar * 44_100));
  for (let n = from; n < Math.min(to, struck.left.length); n++) {
    // The chord turns with every bar: it plays through.
    const chord = 0.6 * held[(n - from) % Math.round(bar * 44_100)];
    struck.left[n] = 0.5 * struck.left[n] + chord;
    struck.right[n] = 0.5 * struck.right[n] + chord;
  }
  const [id] = await inIntake(page, [wave('Song with a drum break.wav', struck)], 'drum break');
  await hand.press('ArrowDown', 'onto the row');
  await hand.press('Shift+Enter', 'open it to cut');
  await cutReady(page);
  await expect(page.getByRole('region', { name: 'Finds' })).toContainText(/\d loops/, { timeout: 60_000 });
  await hand.click(page.getByRole('button', { name: '1', exact: true }), '1 bar');
  await hand.click(button(page, 'drums only'), 'drums only');
  await hand.press('n', 'first find, played');
  await expect(page.getByRole('listitem').filter({ hasText: '1 bar from' }).first()).toHaveAttribute(
    'aria-current',
    'true',
  );
  await hand.press('k', 'render');
  await renderedFrom(page, id);
  await hand.click(button(page, 'Tempo…'), 'Tempo…');
  await hand.type('120');
  await hand.press('Enter', 'done');
  await hand.press('k', 'render');
  const made = await renderedFrom(page, id, 2);
  const tempi = made.map(({ settled }) => settled.grid!.tempoBpm).sort((a, b) => a - b);
  expect(tempi[0]).toBeCloseTo(100, 2);
  expect(tempi[1]).toBeCloseTo(120, 2);
  for (const { summary, settled } of made) {
    expect(summary).toMatchObject({ kind: 'loop', bars: 1 });
    expect(summary.durationSeconds).toBeCloseTo(240 / settled.grid!.tempoBpm, 3);
  }
});

walk(
  4,
  'two loops of other tempo and key heard together in time and key; the lead changed',
  7,
  async (page, hand) => {
    const ids = await inIntake(
      page,
      [
        loopFile('Together A.wav', { bpm: 92, bars: 2, seed: 81 }),
        loopFile('Together B.wav', { bpm: 117, bars: 2, seed: 82 }),
      ],
      'together',
    );
    await hand.press('ArrowDown', 'onto the first row');
    await hand.press('Shift+ArrowDown', 'select the second as well');
    await hand.press('Shift+P', 'play together in a new blend');
    await expect(page).toHaveURL(/\/blend\//, { timeout: 30_000 });
    await expect(button(page, 'Stop')).toBeVisible({ timeout: 60_000 });
    const blendId = new URL(page.url()).pathname.split('/').pop();
    const state = async () => (await (await page.request.get(`/api/blends/${blendId}`)).json()).state;
    expect(await state()).toMatchObject({ lanes: ids.map((sampleId) => ({ sampleId })) });
    expect((await state()).tempoBpm).toBeCloseTo(92, 2);
    await hand.press('ArrowDown', 'onto the second lane');
    await hand.press('l', 'make it the lead');
    await expect.poll(async () => (await state()).tempoBpm).toBeCloseTo(117, 1);
  },
);

walk(5, 'free MIDI: average tempo, tempo per bar, gridded copy', 9, async (page, hand) => {
  const { bytes } = rehearsalPiano();
  await inIntake(page, [{ name: 'Free piano.mid', bytes }], 'free piano');
  await hand.press('ArrowDown', 'onto the row');
  await hand.press('Enter', 'open it: the average tempo');
  await expect(page.getByTestId('tempo')).toHaveText(/^8[78]\./, { timeout: 60_000 });
  await hand.click(page.getByRole('tab', { name: 'Grid' }), 'Grid: the tempo of each bar');
  await expect(page.getByRole('tabpanel').getByRole('row').nth(16)).toBeVisible();
  await hand.press('5', 'cut');
  await cutReady(page);
  await hand.click(page.getByRole('button', { name: /^Steady/ }), 'Steady');
  const { name, bytes: copy } = await downloaded(page, () => hand.press('Shift+D', 'render and download'));
  expect(name).toMatch(/\.mid$/);
  // Played free it stands on a steady grid now: beats of one length.
  const seconds = midiNotes(copy).map((note) => note.seconds);
  expect(seconds.length).toBeGreaterThan(50);
});

walk(6, 'five stems: tempo and first downbeat from the drums for all', 5, async (page, hand) => {
  const ids: string[] = [];
  for (const stem of PARADE_STEMS)
    ids.push(await given(page, wave(`Procession - ${stem}.wav`, nightParade(stem).stage)));
  await page.goto('/intake');
  await hand.click(page.getByRole('link', { name: /^Stem sets/ }), 'Stem sets');
  const set = page.getByRole('region', { name: /Procession/ });
  await expect(set.getByRole('status')).toContainText('Joining changes');
  await expect(set.getByRole('radio', { name: /Drums.wav gives the grid/ })).toBeChecked();
  await hand.click(set.getByRole('button', { name: 'Join as a set' }), 'Join as a set');
  await expect(set).toContainText('joined');
  const grids = await Promise.all(ids.map(async (id) => (await entryOf(page, id)).settled.grid!));
  for (const { tempoBpm, one } of grids) {
    expect(tempoBpm).toBeCloseTo(118, 2);
    expect(one).toBeCloseTo(grids[0].one, 6);
  }
});

walk(
  7,
  'loops of a folder heard at 85 BPM before any is imported; one imported, twice as long',
  9,
  async (page, hand) => {
    const root = mkdtempSync(join(tmpdir(), 'grento-gestures-'));
    try {
      writeFileSync(join(root, 'Shelf one.wav'), drumFile({ bpm: 96, bars: 2, seed: 91 }));
      writeFileSync(join(root, 'Shelf two.wav'), drumFile({ bpm: 104, bars: 2, seed: 92 }));
      await page.request.post('/api/places', { data: { path: root } });
      await page.goto('/intake');
      await hand.click(page.getByRole('link', { name: 'Folders' }), 'Folders');
      await expect(page.getByText('Shelf one.wav')).toBeVisible();
      await hand.press('Shift+B', 'target tempo');
      await hand.type('85');
      await hand.press('Enter', 'done');
      const folder = page.getByRole('region', { name: 'Folder' });
      await hand.press('ArrowDown', 'hear the first');
      await expect(folder).toContainText('96 → 85', { timeout: 60_000 });
      await hand.press('ArrowDown', 'hear the second');
      await expect(folder).toContainText('104 → 85', { timeout: 60_000 });
      await hand.press('Shift+Enter', 'import it and open it to cut');
      await expect(page).toHaveURL(/\/bench\//, { timeout: 60_000 });
      await cutReady(page);
      await hand.click(button(page, '× 2'), 'Repeat × 2');
      await hand.press('k', 'render');
      const id = new URL(page.url()).pathname.split('/').pop()!;
      const [made] = await renderedFrom(page, id);
      expect(made.summary.bars).toBe(4);
      expect(made.summary.durationSeconds).toBeCloseTo((4 * 4 * 60) / 104, 2);
    } finally {
      rmSync(root, { recursive: true });
    }
  },
);

/** A loop or a song, open on the Bench. */
async function onTheBench(page: Page, file: NewFile): Promise<string> {
  const id = await given(page, file);
  await page.goto(`/bench/${id}`);
  await expect(button(page, 'Play')).toBeEnabled({ timeout: 60_000 });
  return id;
}

walk(8, 'a loop made 30 minutes long (from the Bench)', 6, async (page, hand) => {
  await onTheBench(page, loopFile('Half an hour.wav', { bpm: 120, bars: 4, seed: 95 }));
  await hand.press('5', 'cut');
  await cutReady(page);
  await hand.click(button(page, 'to length…'), 'Repeat to length…');
  await hand.type('30:00');
  await hand.press('Enter', 'done');
  await expect(page.getByTestId('outcome')).toContainText('79,380,000 frames at 44.1 kHz, 30:00');
  await hand.press('k', 'render');
  // It is made; that it comes out as planned is held by the tests of rendering, half a minute cheaper.
  const rendering = page.getByRole('region', { name: 'Finished' });
  await expect(rendering).toContainText('running');
  const { tasks } = await (await page.request.get('/api/tasks')).json();
  const mine = tasks.find(({ words }: { words: string }) => words.includes('Half an hour'));
  await page.request.post(`/api/tasks/${mine.taskId}`, { data: { do: 'cancel' } });
});

walk(9, 'two bars of count-in before a song', 6, async (page, hand) => {
  const { stage } = mothAndLantern();
  const [id] = await inIntake(page, [wave('To be counted in.wav', stage)], 'counted in');
  await hand.press('ArrowDown', 'onto the row');
  await hand.press('Shift+Enter', 'open it to cut');
  await cutReady(page);
  await hand.click(button(page, '2 bars'), 'Count-in 2 bars');
  await downloaded(page, () => hand.press('Shift+D', 'render and download'));
  const [made] = await renderedFrom(page, id);
  // The one of the song stands 6.4 s after its beginning; two bars of clicks end where its bars begin.
  expect(made.summary.durationSeconds).toBeGreaterThan(stage.left.length / 44_100);
  expect(made.settled.grid!.tempoBpm).toBeCloseTo(100, 3);
});

walk(
  10,
  'a song 8 % slower, pitch held, as WAV; once more with pitch following (from the Bench)',
  10,
  async (page, hand) => {
    const { stage } = mothAndLantern();
    const id = await onTheBench(page, wave('Eight per cent slower.wav', stage));
    await hand.press('5', 'cut');
    await cutReady(page);
    await hand.click(button(page, 'Whole file'), 'Whole file');
    await hand.click(button(page, 'Tempo…'), 'Tempo…');
    await hand.type('-8%');
    await hand.press('Enter', 'done');
    const held = await downloaded(page, () => hand.press('Shift+D', 'render and download'));
    expect(held.name).toMatch(/\.wav$/);
    await hand.click(page.getByRole('checkbox', { name: 'Pitch follows speed' }), 'Pitch follows speed');
    await downloaded(page, () => hand.press('Shift+D', 'render and download'));
    const made = await renderedFrom(page, id, 2);
    for (const { settled, summary } of made) {
      expect(settled.grid!.tempoBpm).toBeCloseTo(92, 3);
      expect(summary.durationSeconds).toBeCloseTo(stage.left.length / 44_100 / 0.92, 1);
    }
    expect(Math.abs(framesOf(held.bytes) - stage.left.length / 0.92)).toBeLessThan(441);
    // A semitone and a half lower is another key than the one that was held.
    expect(new Set(made.map(({ summary }) => summary.keyTonic)).size).toBe(2);
  },
);

walk(
  11,
  'a drifting song: one tempo, four bars as a loop, key, tags, saved, heard at another tempo',
  15,
  async (page, hand) => {
    const [id] = await inIntake(page, [{ name: 'Runs away.wav', bytes: driftPiece().bytes }], 'runs away');
    await hand.press('ArrowDown', 'onto the row');
    await hand.press('Shift+Enter', 'open it to cut');
    await cutReady(page);
    await hand.click(page.getByRole('button', { name: /^Steady/ }), 'Steady');
    await hand.click(page.getByRole('button', { name: '4', exact: true }), '4 bars');
    await hand.press('k', 'render');
    const [made] = await renderedFrom(page, id);
    await hand.click(page.getByRole('button', { name: 'Open', exact: true }), 'Open');
    await expect(page).toHaveURL(new RegExp(made.summary.sampleId));
    await expect(button(page, 'Play')).toBeEnabled({ timeout: 60_000 });
    await hand.press('4', 'its key');
    await hand.press('i', 'type tags');
    await expect(page.getByLabel('Tags, Enter to add')).toBeFocused();
    await hand.type('drums, runaway');
    await hand.press('Enter', 'add them');
    await hand.press('Control+s', 'save');
    await hand.press('Control+s', 'save, unproved as it is');
    await expect(button(page, 'Remove from Shelf')).toBeVisible();
    await hand.press('Shift+B', 'target tempo');
    await hand.type('110');
    await hand.press('Enter', 'done: it plays');
    await expect(page.getByRole('button', { name: 'at 110 BPM its key' })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
    const { summary, settled } = await entryOf(page, made.summary.sampleId);
    expect(summary).toMatchObject({ standing: 'saved', bars: 4, kind: 'loop', steady: true });
    expect(summary.durationSeconds).toBeCloseTo(960 / settled.grid!.tempoBpm, 3);
    expect(settled.tags).toEqual(expect.arrayContaining([{ facet: 'word', value: 'runaway' }]));
  },
);

walk(12, 'one late hit pulled onto the grid, heard, taken back, made', 8, async (page, hand) => {
  const bpm = 104;
  const steady = drums({ bpm, bars: 4, seed: 99 });
  // The side drum of the second bar comes 25 ms late.
  const [from, late] = [Math.round(((5 * 60) / bpm) * 44_100) - 200, Math.round(0.025 * 44_100)];
  for (const side of [steady.left, steady.right]) {
    const hit = side.slice(from, from + 10_000);
    side.fill(0, from, from + late);
    side.set(hit, from + late);
  }
  const [id] = await inIntake(page, [wave('One comes late.wav', steady)], 'comes late');
  await hand.press('ArrowDown', 'onto the row');
  await hand.press('Shift+Enter', 'open it to cut');
  await cutReady(page);
  const off = page.getByRole('group', { name: 'Hits off the grid' });
  await expect(off).toBeVisible();
  await hand.press('f', 'the worst hit');
  await expect(off).toContainText('+25', { timeout: 10_000 });
  await hand.press('a', 'onto the grid');
  await expect(off).toContainText('moved onto the grid');
  await hand.press('q', 'hear it');
  await expect(page.getByRole('button', { name: 'Preview' })).toHaveAttribute('aria-pressed', 'true', {
    timeout: 30_000,
  });
  await hand.press('Control+z', 'take it back');
  await expect(off).not.toContainText('moved onto the grid');
  await hand.press('a', 'onto the grid');
  await hand.press('k', 'render');
  const [made] = await renderedFrom(page, id);
  const hits = (made.measurement?.onsets ?? []).map(({ time }) => time);
  const beat = (5 * 60) / bpm;
  expect(hits.some((time) => Math.abs(time - beat) < 0.006)).toBe(true);
});

walk(13, 'twelve bars selected, tapped over, read as a span', 20, async (page, hand) => {
  const bpm = 104;
  const [id] = await inIntake(
    page,
    [loopFile('Sixteen bars.wav', { bpm, bars: 16, seed: 103 })],
    'sixteen bars',
  );
  await hand.press('ArrowDown', 'onto the row');
  await hand.press('Enter', 'open it');
  await expect(button(page, 'Play')).toBeEnabled({ timeout: 60_000 });
  await hand.press('2', 'the waveform');
  await expect(page.getByTestId('line-view')).toBeVisible();
  const { durationSeconds } = (await entryOf(page, id)).summary;
  const bar = 240 / bpm;
  const [from, to] = await Promise.all([bar * 2, bar * 14].map((at) => pointAt(page, at, durationSeconds!)));
  await hand.drag(from, to, 'over twelve bars');
  await expect(page.getByRole('group', { name: 'Selection' })).toContainText('12 bars');
  await hand.press('Space', 'play');
  // One of them uneven: it does not throw the others away.
  const gap = 60_000 / bpm;
  await hand.tap(Array.from({ length: 13 }, (_, tap) => gap * (tap + 1 + (tap === 6 ? 0.4 : 0))));
  await expect(page.getByText('1 uneven tap is left out.')).toBeVisible();
  const compared = page.getByRole('status', { name: 'Compared' });
  await expect(compared).toContainText('grid 104.0');
  const said = async (what: RegExp) => Number(what.exec((await compared.textContent())!)![1]);
  expect(Math.abs((await said(/12 bars ([\d.]+)/)) - bpm)).toBeLessThan(0.01);
  expect(Math.abs((await said(/tapped ([\d.]+)/)) - bpm)).toBeLessThan(4);
});

walk(
  14,
  'a loop of a little over two bars: exactly two, five semitones lower, downloaded',
  8,
  async (page, hand) => {
    const [id] = await inIntake(
      page,
      [loopFile('A little over two.wav', { bpm: 90, bars: 2, tail: 0.35, seed: 107 })],
      'over two',
    );
    await hand.press('ArrowDown', 'onto the row');
    await hand.press('Shift+Enter', 'open it to cut');
    await cutReady(page);
    await hand.click(button(page, 'Exactly 2 bars'), 'Exactly 2 bars');
    await hand.click(button(page, 'Transpose…'), 'Transpose…');
    await hand.type('-5');
    await hand.press('Enter', 'done');
    const { bytes } = await downloaded(page, () => hand.press('Shift+D', 'render and download'));
    const [made] = await renderedFrom(page, id);
    expect(framesOf(bytes)).toBe(Math.round((8 * 60 * 44_100) / made.settled.grid!.tempoBpm));
    expect(made.summary.bars).toBe(2);
    const { made: how } = await (
      await page.request.get(`/api/samples/${made.summary.sampleId}/family`)
    ).json();
    expect(how.recipe.pitch.semitones).toBe(-5);
  },
);
