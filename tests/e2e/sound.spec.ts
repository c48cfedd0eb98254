import { expect, test, type Page } from '@playwright/test';
import { encodeWave } from '@/core/formats/encodeWave';
import { loopFile, measured, openOnBench, takeIn, tempo } from './support';

/** Records what reaches the loudspeaker: whatever is connected to a context's destination is also tapped. */
async function tapSound(page: Page) {
  await page.addInitScript(() => {
    const heard: { left: number[]; right: number[] } = { left: [], right: [] };
    Object.assign(window, { heard });
    const connect = AudioNode.prototype.connect as (this: AudioNode, ...args: unknown[]) => AudioNode;
    const taps = new WeakMap<BaseAudioContext, ScriptProcessorNode>();
    AudioNode.prototype.connect = function (this: AudioNode, ...args: unknown[]) {
      if (args[0] instanceof AudioDestinationNode && !taps.has(this.context)) {
        const tap = (this.context as AudioContext).createScriptProcessor(4096, 2, 2);
        taps.set(this.context, tap);
        tap.onaudioprocess = ({ inputBuffer }) => {
          heard.left.push(...inputBuffer.getChannelData(0));
          heard.right.push(...inputBuffer.getChannelData(1));
        };
        connect.call(this, tap);
        connect.call(tap, this.context.destination);
      }
      return connect.apply(this, args);
    } as typeof AudioNode.prototype.connect;
  });
}

const heard = (page: Page) =>
  page.evaluate(() => (window as unknown as { heard: { left: number[]; right: number[] } }).heard);
const forget = (page: Page) =>
  page.evaluate(() => Object.assign((window as unknown as { heard: object }).heard, { left: [], right: [] }));

/** Frames at which a channel rises out of silence. */
function attacks(samples: number[], threshold: number, rest = 6000): number[] {
  const found: number[] = [];
  let last = -Infinity;
  samples.forEach((value, i) => {
    if (Math.abs(value) > threshold && i - last > rest) {
      found.push(i);
      last = i;
    }
  });
  return found;
}

/** For each click the distance of the nearest hit, ms. */
function distances({ left, right }: { left: number[]; right: number[] }, rate = 44100): number[] {
  const hits = attacks(left, 0.2);
  return attacks(right, 0.1).map(
    (click) => (1000 * Math.min(...hits.map((hit) => Math.abs(hit - click)))) / rate,
  );
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

test('the click that is heard is where the grid is, to 2 ms, also after changes while it plays', async ({
  page,
}) => {
  await tapSound(page);
  await takeIn(page, [{ name: 'Pulses.wav', bytes: pulses(80) }]);
  await measured(page, 'Pulses.wav');
  await openOnBench(page, 'Pulses.wav');
  await page.getByLabel('Type a tempo in BPM').fill('120');
  await page.getByLabel('Type a tempo in BPM').press('Enter');
  await page.getByRole('button', { name: 'Ears apart' }).click();

  // What the page says the one is, against the pulses of the file itself.
  const one = Number((await page.getByTestId('one').textContent())!.replace(' s', ''));
  const off = Math.min(...Array.from({ length: 80 }, (_, beat) => Math.abs(0.25 + beat * 0.5 - one)));
  expect(off).toBeLessThan(0.002);

  await page.keyboard.press('Space');
  await page.waitForTimeout(3000);
  const fitting = distances(await heard(page));
  expect(fitting.length).toBeGreaterThanOrEqual(4);
  for (const apart of fitting) expect(apart).toBeLessThan(2);

  // Moved by 30 ms while it plays: the click moves by 30 ms, the audio does not stop.
  for (let i = 0; i < 3; i++) await page.keyboard.press('.');
  await page.waitForTimeout(400);
  await forget(page);
  await page.waitForTimeout(2500);
  const moved = distances(await heard(page));
  expect(moved.length).toBeGreaterThanOrEqual(3);
  for (const apart of moved) expect(Math.abs(apart - 30)).toBeLessThan(2);
  await page.keyboard.press('Space');
});

test('a loop of one bar turns without losing the beat', async ({ page }) => {
  await tapSound(page);
  await takeIn(page, [{ name: 'Round pulses.wav', bytes: pulses(32) }]);
  await measured(page, 'Round pulses.wav');
  await openOnBench(page, 'Round pulses.wav');
  await page.getByLabel('Type a tempo in BPM').fill('120');
  await page.getByLabel('Type a tempo in BPM').press('Enter');
  await page.getByRole('button', { name: 'Ears apart' }).click();
  await page.getByLabel('Go round').selectOption('1');
  await page.keyboard.press('Space');
  await page.waitForTimeout(6500);
  const sound = await heard(page);
  const clicks = attacks(sound.right, 0.1);
  expect(clicks.length).toBeGreaterThanOrEqual(10);
  for (let i = 1; i < clicks.length; i++)
    expect(Math.abs((clicks[i] - clicks[i - 1]) / 44.1 - 500)).toBeLessThan(2);
  for (const apart of distances(sound)) expect(apart).toBeLessThan(2);
});

test('the click is switched off and on while it plays', async ({ page }) => {
  await tapSound(page);
  await takeIn(page, [loopFile('Switched.wav', { bpm: 110, bars: 4, seed: 105 })]);
  await measured(page, 'Switched.wav');
  await openOnBench(page, 'Switched.wav');
  expect(await tempo(page)).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'Ears apart' }).click();
  await page.keyboard.press('Space');
  await page.waitForTimeout(1500);
  await page.keyboard.press('c');
  await page.waitForTimeout(300);
  await forget(page);
  await page.waitForTimeout(1500);
  expect(attacks((await heard(page)).right, 0.05)).toEqual([]);
  await page.keyboard.press('c');
  await page.waitForTimeout(300);
  await forget(page);
  await page.waitForTimeout(1800);
  expect(attacks((await heard(page)).right, 0.05).length).toBeGreaterThanOrEqual(2);
});
