import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from './alive';
import { newLane } from '@/contract/blend';
import { given, loopFile } from './support';

const SCREENS = [
  '/intake',
  '/intake/stems',
  '/intake/alike',
  '/intake/places',
  '/intake/deliveries',
  '/shelf',
  '/settings',
  '/blend',
  '/pack',
];

let bench = '';
let blend = '';
let pack = '';
test.beforeAll(async ({ browser, baseURL }) => {
  const page = await browser.newPage({ baseURL });
  const sampleId = await given(page, loopFile('Reachable.wav', { bpm: 101, bars: 4, seed: 881 }));
  bench = `/bench/${sampleId}`;
  const made = await (await page.request.post('/api/blends', { data: { name: 'Within reach' } })).json();
  blend = `/blend/${made.id}`;
  for (const n of [1, 2, 3, 4])
    await page.request.post(`/api/blends/${made.id}`, {
      data: {
        do: 'order',
        words: 'add',
        order: {
          ...{ do: 'put', leads: n === 1, takes: null },
          lane: newLane({ laneId: `${n}-reach`, sampleId, name: `Lane ${n}`, times: null }),
        },
      },
    });
  const packed = await (await page.request.post('/api/packs', { data: { name: 'To give away' } })).json();
  pack = `/pack/${packed.id}`;
  const order = { do: 'put', sampleIds: [sampleId] };
  await page.request.post(`/api/packs/${packed.id}`, { data: { do: 'order', words: 'add', order } });
  await page.close();
});

async function settled(page: Page, screen: string) {
  await page.goto(screen);
  await page.waitForTimeout(600);
  await page.keyboard.press('ArrowDown');
}

/** What is seen on the screens of one sample, one blend and one pack, which are made first. */
const OWN = { Bench: () => bench, Sheet: () => `${bench}/sheet`, Blend: () => blend, Pack: () => pack };
const screens = [...SCREENS.map((screen) => [screen, () => screen] as const), ...Object.entries(OWN)];

for (const [name, address] of screens)
  test(`${name} has nothing serious in the way of those who do not see or do not use a mouse`, async ({
    page,
  }) => {
    await settled(page, address());
    const { violations } = await new AxeBuilder({ page }).analyze();
    const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
    expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 120)}`)).toEqual([]);
  });

test('on a small screen and at twice the size nothing is lost: what does not fit is scrolled to', async ({
  page,
}) => {
  for (const [width, height] of [
    [1024, 700],
    [640, 400],
  ]) {
    await page.setViewportSize({ width, height });
    for (const screen of ['/intake', '/shelf', bench, blend, '/settings']) {
      await settled(page, screen);
      const lost = await page.evaluate(() => {
        const out: string[] = [];
        for (const one of document.querySelectorAll('button, a, select, input, [role=columnheader]')) {
          const box = one.getBoundingClientRect();
          const aside = box.right > innerWidth + 1 || box.left < -1;
          const below = box.bottom > innerHeight + 1;
          if (box.width === 0 || (!aside && !below)) continue;
          let around = one.parentElement;
          while (around) {
            const style = getComputedStyle(around);
            if (
              (!aside || /auto|scroll/.test(style.overflowX)) &&
              (!below || /auto|scroll/.test(style.overflowY))
            )
              break;
            around = around.parentElement;
          }
          if (!around)
            out.push((one.getAttribute('aria-label') ?? one.textContent ?? '').trim().slice(0, 40));
        }
        return out;
      });
      expect(lost, `${screen} at ${width} × ${height}`).toEqual([]);
    }
  }
});
