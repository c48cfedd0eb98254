import { expect, test, type Page } from '@playwright/test';
import { type KeptBlend, newLane } from '@/contract/blend';
import { keyOf, saved, type Piece } from '../e2e/pieces';

test.use({ bypassCSP: true });

const LANES = 8;
/** So often an incoming sample comes. */
const TIMES = 8;
/** A tone is told from hits so much later than it begins, ms. */
const LATE_MS = 46;
const MINUTES = Number(process.env.BLEND_MINUTES ?? 10);

const piece = (i: number): Piece => ({
  ...{ name: `Lane ${i + 1}`, bpm: 84 + 5 * i, beatsPerBar: 4, bars: 4 },
  key: keyOf(['A minor', 'C minor', 'E minor', 'G minor'][i % 4]),
});

/** Counts blocks of the audio thread without sound, and says how loud what lasts is. */
const TAP = `registerProcessor('watch', class extends AudioWorkletProcessor {
  constructor() { super(); this.silent = 0; this.holes = 0; this.blocks = 0; this.peaks = []; }
  process([input]) {
    const [left] = input;
    if (!left) return true;
    let peak = 0;
    for (const value of left) peak = Math.max(peak, Math.abs(value));
    this.blocks++;
    this.silent = peak < 0.005 ? this.silent + 1 : 0;
    if (this.silent === 2) this.holes++;
    // The softest of the last 46 ms: a tone has it, hits have not.
    this.peaks = [...this.peaks.slice(-15), peak];
    if (this.blocks % 4 === 0) this.port.postMessage({ blocks: this.blocks, holes: this.holes, floor: Math.min(...this.peaks) });
    return true;
  }
});`;

async function watch(page: Page) {
  await page.addInitScript((code) => {
    Object.assign(window, { watched: { blocks: 0, holes: 0, floor: 0 } });
    const connect = AudioNode.prototype.connect as (this: AudioNode, ...args: unknown[]) => AudioNode;
    const done = new WeakSet<BaseAudioContext>();
    AudioNode.prototype.connect = function (this: AudioNode, ...args: unknown[]) {
      const { context } = this;
      if (args[0] instanceof AudioDestinationNode && !done.has(context)) {
        done.add(context);
        void context.audioWorklet
          .addModule(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })))
          .then(() => {
            const tap = new AudioWorkletNode(context, 'watch');
            tap.port.onmessage = ({ data }) => Object.assign(window, { watched: data });
            connect.call(this, tap);
          });
      }
      return connect.apply(this, args);
    } as typeof AudioNode.prototype.connect;
  }, TAP);
}

const watched = (page: Page) =>
  page.evaluate(
    () => (window as unknown as { watched: { blocks: number; holes: number; floor: number } }).watched,
  );

test('eight lanes with fit: holes within minutes, and how soon an incoming sample sounds', async ({
  page,
}) => {
  test.setTimeout((MINUTES + 6) * 60_000);
  await watch(page);
  const ids: string[] = [];
  for (let i = 0; i < LANES; i++) ids.push(await saved(page, piece(i)));
  const posted = async (path: string, data: object): Promise<KeptBlend> =>
    (await page.request.post(`/api/blends${path}`, { data })).json();
  const made = await posted('', { name: 'Eight' });
  const takes = { tempoBpm: 97.3, key: null, meter: { beatsPerBar: 4, beatUnit: 4 }, movement: null };
  const put = (i: number, levelDb: number) =>
    posted(`/${made.id}`, {
      do: 'order',
      words: 'put in',
      order: {
        ...{ do: 'put', leads: i === 0, takes: i === 0 ? takes : null },
        lane: newLane({
          laneId: `${i + 1}-bench`,
          sampleId: ids[i],
          name: `Lane ${i + 1}`,
          times: null,
          levelDb,
        }),
      },
    });
  for (let i = 0; i < LANES - 1; i++) await put(i, -40);
  await page.goto(`/blend/${made.id}`);
  await page.getByRole('button', { name: 'Click on' }).click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await page.getByRole('button', { name: 'Stop', exact: true }).waitFor();
  await page.waitForTimeout(3000);

  // A incoming with a tone that is louder than all others together, again and again: when it is heard after its bytes were there.
  let bytesAt = 0;
  page.context().on('requestfinished', (request) => {
    if (request.url().includes(`${ids[LANES - 1]}/original`)) bytesAt = Date.now();
  });
  const waits: { put: number; bytes: number | null }[] = [];
  for (let time = 0; time < TIMES; time++) {
    bytesAt = 0;
    const putAt = Date.now();
    await put(LANES - 1, 0);
    const heardAt = await page.evaluate(async () => {
      const window_ = window as unknown as { watched: { floor: number } };
      const from = Date.now();
      while (window_.watched.floor < 0.06 && Date.now() - from < 20_000)
        await new Promise((resolve) => setTimeout(resolve, 2));
      return window_.watched.floor < 0.06 ? null : Date.now();
    });
    expect(heardAt, `the incoming was heard, time ${time + 1}`).not.toBeNull();
    waits.push({ put: heardAt! - LATE_MS - putAt, bytes: bytesAt ? heardAt! - LATE_MS - bytesAt : null });
    if (time === TIMES - 1) break;
    const taken = { do: 'order', words: 'taken out', order: { do: 'take', laneId: `${LANES}-bench` } };
    await posted(`/${made.id}`, taken);
    await page.waitForTimeout(1500);
  }
  console.log(
    `an incoming sample beside seven lanes: heard so many ms after it was put in elsewhere (after its bytes were there): ${waits.map(({ put: all, bytes }) => `${all} (${bytes ?? 'kept'})`).join(', ')}`,
  );

  const start = await watched(page);
  await page.waitForTimeout(MINUTES * 60_000);
  const end = await watched(page);
  const seconds = ((end.blocks - start.blocks) * 128) / 44_100;
  console.log(
    `${LANES} lanes for ${(seconds / 60).toFixed(1)} minutes of sound: ${end.holes - start.holes} holes; the audio thread kept ${((100 * seconds) / (MINUTES * 60)).toFixed(2)} % of real time`,
  );
  expect(end.holes - start.holes).toBe(0);
});
