import { expect, test, type Page } from './alive';
import { encodeWave } from '@/core/formats/encodeWave';
import { encoded } from '../support/encoders';
import { choose, given, loopFile, onBench, one, showView, typeTempo } from './support';
import { forget, heardSince, listen, tapSound } from './tap';

// The tap is no file of the application's; its content policy, tested elsewhere, would refuse it.
test.use({ bypassCSP: true });

/** A recording that is loud before this frame may have begun inside a hit or a click: its beginning is not known. */
const SILENCE_BEFORE = 2000;
/** Frames after an attack in which there is no other. */
const REST = 6000;

/** Frames at which a channel rises out of silence. */
function attacks(samples: number[], threshold: number, silenceBefore = SILENCE_BEFORE): number[] {
  const found: number[] = [];
  let last = -Infinity;
  samples.forEach((value, i) => {
    if (Math.abs(value) > threshold && i - last > REST) {
      if (i >= silenceBefore) found.push(i);
      last = i;
    }
  });
  return found;
}

/** For each click the distance of the nearest hit, ms. At the edges of the recording a partner may be cut off. */
function distances({ left, right }: { left: number[]; right: number[] }, rate = 44100): number[] {
  const hits = attacks(left, 0.2);
  const margin = 0.1 * rate;
  return attacks(right, 0.1)
    .filter((click) => click > margin && click < right.length - margin)
    .map((click) => (1000 * Math.min(...hits.map((hit) => Math.abs(hit - click)))) / rate);
}

/** One short pulse on each beat of 120 BPM from 0.25 s on: where the hits are is known to the sample. */
function pulses(beats: number): Uint8Array {
  const channel = new Float32Array(44100 * (0.25 + beats / 2));
  for (let beat = 0; beat < beats; beat++) {
    for (let i = 0; i < 400; i++)
      channel[Math.round((0.25 + beat * 0.5) * 44100) + i] = 0.9 * Math.cos(i / 3) * Math.exp(-i / 90);
  }
  return encodeWave([channel], 44100);
}

/** Forty seconds of pulses at 120 BPM, in 4/4: one sample for all that is heard here. */
let pulsesId = '';
test.beforeAll(async ({ browser, baseURL }) => {
  const page = await browser.newPage({ baseURL });
  pulsesId = await given(page, { name: 'Pulses.wav', bytes: pulses(80) });
  await page.goto(`/bench/${pulsesId}`);
  await showView(page, 'Waveform');
  await typeTempo(page, 120);
  // Pulses that are all alike form no bars by themselves.
  await choose(page.getByLabel('Time signature', { exact: true }), '4/4');
  await expect(page.getByRole('row').filter({ hasText: '4/4' }).first()).toBeVisible();
  await page.close();
});

/** The pulses on the Bench, audio in the left ear and click in the right one. */
async function pulsesApart(page: Page) {
  await tapSound(page);
  await page.goto(`/bench/${pulsesId}`);
  await showView(page, 'Waveform');
  await page.getByRole('button', { name: 'Split L / R' }).click();
}

/** Every click of the next seconds stands on a hit. */
async function allOn(page: Page, seconds: number, least: number) {
  const apart = distances(await listen(page, seconds));
  expect(apart.length).toBeGreaterThanOrEqual(least);
  for (const ms of apart) expect(ms).toBeLessThan(2);
}

/** What was asked has reached the loudspeaker. */
const measuredNow = (page: Page) => listen(page, 0.3);

test('the click that is heard is where the grid is, to 2 ms, also after changes while it plays', async ({
  page,
}) => {
  await pulsesApart(page);
  // What the page says the one is, against the pulses of the file itself.
  const said = await one(page);
  const off = Math.min(...Array.from({ length: 80 }, (_, beat) => Math.abs(0.25 + beat * 0.5 - said)));
  expect(off).toBeLessThan(0.002);

  await page.keyboard.press('Space');
  await allOn(page, 2.6, 4);
  // Moved by 30 ms while it plays: the click moves by 30 ms, the audio does not stop.
  for (let i = 0; i < 3; i++) await page.keyboard.press('.');
  await measuredNow(page);
  const moved = distances(await listen(page, 2.1));
  expect(moved.length).toBeGreaterThanOrEqual(3);
  for (const apart of moved) expect(Math.abs(apart - 30)).toBeLessThan(2);
  for (let i = 0; i < 3; i++) await page.keyboard.press(',');
  await measuredNow(page);
  await allOn(page, 1.6, 2);
  await page.keyboard.press('Space');
});

test('a loop of one bar turns without losing the beat', async ({ page }) => {
  await pulsesApart(page);
  await choose(page.getByLabel('Loop'), '1');
  await page.keyboard.press('Space');
  const sound = await listen(page, 5);
  const clicks = attacks(sound.right, 0.1);
  expect(clicks.length).toBeGreaterThanOrEqual(8);
  for (let i = 1; i < clicks.length; i++)
    expect(Math.abs((clicks[i] - clicks[i - 1]) / 44.1 - 500)).toBeLessThan(2);
  for (const apart of distances(sound)) expect(apart).toBeLessThan(2);
});

test('click, speed and pace are changed while it plays; held keys let one of both be heard', async ({
  page,
}) => {
  await pulsesApart(page);
  await page.keyboard.press('Space');
  await allOn(page, 1.6, 2);
  await page.keyboard.press('c');
  await measuredNow(page);
  const without = await listen(page, 1.1);
  expect(attacks(without.right, 0.05)).toEqual([]);
  expect(attacks(without.left, 0.2).length).toBeGreaterThanOrEqual(1);
  await page.keyboard.press('c');
  await measuredNow(page);
  await allOn(page, 1.6, 2);
  // Half the speed: half as many, each still with its hit.
  await choose(page.getByLabel('Speed'), '0.5');
  await measuredNow(page);
  await allOn(page, 3.6, 2);
  await choose(page.getByLabel('Speed'), '1');
  await choose(page.getByLabel('Click on'), 'half time');
  await measuredNow(page);
  await allOn(page, 2.6, 1);
  await choose(page.getByLabel('Click on'), 'eighths');
  await measuredNow(page);
  const between = distances(await listen(page, 2.1));
  // Every other click stands between the hits, a quarter of a second from them.
  expect(between.filter((ms) => ms < 2).length).toBeGreaterThanOrEqual(3);
  expect(between.filter((ms) => Math.abs(ms - 250) < 2).length).toBeGreaterThanOrEqual(3);
  await choose(page.getByLabel('Click on'), 'every beat');
  // The key for the click alone is held: the audio is gone until it is let go.
  await page.keyboard.down('z');
  await measuredNow(page);
  const alone = await listen(page, 1.1);
  expect(attacks(alone.left, 0.2)).toEqual([]);
  expect(attacks(alone.right, 0.1).length).toBeGreaterThanOrEqual(1);
  // Left by the window it is let go: nobody hears where the key comes up.
  await page.evaluate(() => window.dispatchEvent(new Event('blur')));
  await measuredNow(page);
  await allOn(page, 1.6, 2);
  await page.keyboard.up('z');
  // Half the tempo and double again: on the hits as before.
  await page.keyboard.press('h');
  await page.keyboard.press('d');
  await measuredNow(page);
  await allOn(page, 1.6, 2);
  await page.keyboard.press('Space');
});

test('a count-in clicks the bar before the one, then the audio begins; it leads into a loop as well', async ({
  page,
}) => {
  await pulsesApart(page);
  await page.getByRole('button', { name: 'Details' }).click();
  await choose(page.getByLabel('Count-in'), '1');
  await page.keyboard.press('Escape');
  for (const round of ['0', '1']) {
    await choose(page.getByLabel('Loop'), round);
    await forget(page);
    await page.getByRole('button', { name: /^Play from the one/ }).click();
    const sound = await heardSince(page, 4);
    await page.getByRole('button', { name: 'Stop' }).click();
    // It was silent before: whatever is heard first has begun here.
    const hits = attacks(sound.left, 0.2, 0);
    const clicks = attacks(sound.right, 0.1, 0);
    // Four clicks alone, half a second apart; the fifth comes with the first hit.
    expect(clicks.filter((click) => click < hits[0] - 100)).toHaveLength(4);
    expect(Math.abs((hits[0] - clicks[4]) / 44.1)).toBeLessThan(2);
    for (let i = 1; i < 6; i++) expect(Math.abs((clicks[i] - clicks[i - 1]) / 44.1 - 500)).toBeLessThan(2);
  }
});

test('a song is heard, with its click, while the rest of it is still being decoded', async ({ page }) => {
  // MP3 is the slowest to decode.
  const id = await given(page, { name: 'Long pulses.mp3', bytes: encoded(pulses(400), 'mp3') });
  await tapSound(page);
  // Opened by its address, as somebody does who comes back: nothing is decoded yet.
  await page.goto(`/bench/${id}`);
  const play = page.getByRole('button', { name: 'Play', exact: true });
  await expect(play).toBeEnabled({ timeout: 60_000 });
  // Pulses that are all alike have no level of their own.
  await typeTempo(page, 120);
  await page.getByRole('button', { name: 'Split L / R' }).click();

  // Anew, and at once to the end, which is not there yet: it waits and then sounds, on the click.
  await page.reload();
  await expect(play).toBeEnabled({ timeout: 60_000 });
  const fetching = page.getByLabel('Loading audio');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  expect(Number(await fetching.getAttribute('value'))).toBeLessThan(0.9);
  await page.getByRole('tab', { name: 'Waveform' }).click();
  const line = (await page.getByTestId('line-view').boundingBox())!;
  await page.mouse.click(line.x + 0.96 * line.width, line.y + 120);
  await page.getByRole('button', { name: 'Split L / R' }).click();
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible({ timeout: 60_000 });
  await expect
    .poll(async () => parseInt((await page.getByLabel('Bar and beat').textContent())!))
    .toBeGreaterThan(90);
  await allOn(page, 2.6, 4);
  await expect(fetching).toHaveCount(0, { timeout: 60_000 });
});

test('an audio thread that could not be started is started by the next press', async ({ page }) => {
  await page.addInitScript(() => {
    const addModule = AudioWorklet.prototype.addModule;
    AudioWorklet.prototype.addModule = function (this: AudioWorklet, address) {
      return (window as { letIn?: boolean }).letIn
        ? addModule.call(this, address)
        : Promise.reject(new Error('the line is down'));
    };
  });
  await page.goto(`/bench/${pulsesId}`);
  const transport = page.getByRole('group', { name: 'Transport' });
  await expect(transport).toContainText('Audio could not start (the line is down). Play tries again.');
  // What is drawn does not wait for what is heard.
  await showView(page, 'Waveform');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await page.evaluate(() => Object.assign(window, { letIn: true }));
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  await expect(transport).not.toContainText('could not start');
  await expect
    .poll(async () => parseFloat((await page.getByLabel('Time', { exact: true }).textContent())!))
    .toBeGreaterThan(0.2);
});

test('tapping along with the click sets the delay of the loudspeakers', async ({ page }) => {
  await page.goto(`/bench/${pulsesId}`);
  await showView(page, 'Waveform');
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Details' }).click();
  const delay = page.getByText(/^Extra output latency/);
  await expect(delay).toContainText('±0 ms');
  // Somebody who hears every click 120 ms after the page thinks that it sounds.
  await page.getByRole('button', { name: /^Tap with the click/ }).evaluate(async (button) => {
    const time = () => parseFloat(document.querySelector('[aria-label="Time"]')!.textContent!);
    const late = () => (((time() - 0.25) % 0.5) + 0.5) % 0.5;
    const frame = () => new Promise((next) => requestAnimationFrame(next));
    for (let taps = 0; taps < 8; taps++) {
      while (late() < 0.12 || late() > 0.2) await frame();
      button.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
      while (late() >= 0.12) await frame();
    }
  });
  await expect(delay).not.toContainText('±0 ms');
  const ms = Number(/\+(\d+) ms/.exec((await delay.textContent())!)![1]);
  expect(ms).toBeGreaterThanOrEqual(110);
  expect(ms).toBeLessThan(210);
  await page.getByRole('button', { name: 'Reset' }).click();
  await expect(delay).toContainText('±0 ms');
});

test('a MIDI keyboard plays along where the browser has one; without it the page says so', async ({
  page,
}) => {
  // A keyboard at the browser's own interface: what it sends goes the way of a real one's messages.
  await page.addInitScript(() => {
    const input = Object.assign(new EventTarget(), { id: 'k1', name: 'Puppet keys' });
    const inputs = new Map<string, EventTarget>();
    Object.assign(window, {
      plugIn: () => inputs.set('k1', input),
      send: (...bytes: number[]) =>
        input.dispatchEvent(Object.assign(new Event('midimessage'), { data: Uint8Array.from(bytes) })),
    });
    navigator.requestMIDIAccess = () => Promise.resolve({ inputs } as unknown as MIDIAccess);
  });
  await onBench(page, loopFile('Keyed.wav', { bpm: 100, bars: 4, seed: 811 }));
  await page.getByRole('tab', { name: 'Key', exact: true }).click();
  await page.getByRole('button', { name: 'MIDI…' }).click();
  await expect(page.getByText('No MIDI keyboard is connected.')).toBeVisible();
  await page.evaluate(() => (window as unknown as { plugIn: () => void }).plugIn());
  await page.getByRole('button', { name: 'MIDI…' }).click();
  await expect(page.getByText('Playing: Puppet keys')).toBeVisible();
  const send = (...bytes: number[]) =>
    page.evaluate((all) => (window as unknown as { send: (...b: number[]) => void }).send(...all), bytes);
  const key = page.getByRole('group', { name: 'Keyboard' }).getByRole('button', { name: 'E4' });
  await send(0x90, 64, 100);
  await expect(key).toHaveAttribute('aria-pressed', 'true');
  // A note-on without velocity ends it, as the protocol has it.
  await send(0x90, 64, 0);
  await expect(key).toHaveAttribute('aria-pressed', 'false');
});
