import { test, type Page } from '@playwright/test';
import pg from 'pg';
import { fillLibrary } from './fillLibrary';

/*
 * How a large library answers: 200,000 saved samples and 50,000 in the Intake, rows only. Each query is timed at the
 * database (the slowest of its statements) and at the page (asked, answered and parsed there). Figures of one run on
 * this machine; nothing here fails for being slow.
 */
test.setTimeout(1_800_000);

const SAVED = Number(process.env.GRENTO_BENCH_SAVED ?? 200_000);
const OPEN = Number(process.env.GRENTO_BENCH_OPEN ?? 50_000);
const say = (text: string) => console.log(text);

test.beforeAll(async () => {
  // Filling takes longer than any of the tests.
  test.setTimeout(480_000);
  const client = new pg.Client({ connectionString: process.env.GRENTO_BENCH_DATABASE });
  await client.connect();
  await client.query('create extension if not exists pg_stat_statements');
  const began = performance.now();
  await fillLibrary(client, SAVED, OPEN);
  say(`${SAVED} saved and ${OPEN} open samples made in ${((performance.now() - began) / 1000).toFixed(0)} s`);
  await client.end();
});

const SHELF = [
  '',
  'sort=name&direction=up',
  'sort=tempo&direction=up&offset=60000',
  'sort=tempo&direction=down&offset=199000&of=200000',
  'sort=rating&offset=150000&of=200000',
  'sort=key&direction=up&offset=120000&of=200000',
  'sort=length&direction=up&offset=50000',
  'offset=199900&of=200000',
  'kind=loop',
  'kind=loop&sort=name&direction=up&offset=50000',
  'sort=strain&direction=up&targetTempo=96&targetKey=16',
  'kind=loop&sort=strain&direction=up&targetTempo=96',
  'beatsPerBar=3&beatUnit=4&sort=name&direction=up',
  'bars=4&proof=proved',
  'tempoFrom=90&tempoTo=92',
  'tempoFrom=90&tempoTo=92&alsoHalfDouble=true',
  'tempoFrom=60&tempoTo=160',
  'keyTonic=2&keyMode=minor',
  'keyMode=minor&sort=name&direction=up',
  'tags=part:drums',
  'tags=part:drums&tags=motion:busy&tags=colour:dark',
  'tags=word:dust&tags=part:bass',
  'text=velvet',
  'text=velvet+trot&sort=name&direction=up',
  'text=a',
  'text=wav',
  'text=lanturn',
  'text=12345',
  'text=wicker&kind=loop&tempoFrom=90&tempoTo=110',
  'text=wilmot&sort=name&direction=up&offset=1900',
];
const FACETS = ['', 'kind=loop', 'text=velvet', 'tags=part:drums&tags=motion:busy', 'text=a'];
const INTAKE = [
  '',
  'offset=30000',
  'sort=name&direction=up',
  'sort=name&direction=up&offset=120000&of=250000',
  'sort=key&direction=down&offset=240000&of=250000',
  'show=needs+a+look',
  'show=not+trimmed',
  'show=sure&sort=name&direction=up&offset=10000',
  'show=sure&text=velvet',
  'show=not+saved&offset=25000',
  'show=faulty',
  'show=bin',
  'text=juniper',
  'kind=loop&sort=length&direction=up&offset=60000',
];
const COUNTS = ['', 'kind=loop', 'text=velvet'];
const ASKED = [
  ...SHELF.map((query) => `/api/shelf?limit=100&${query}`),
  ...FACETS.map((query) => `/api/shelf/facets?${query}`),
  ...FACETS.map((query) => `/api/shelf/overview?${query}`),
  ...INTAKE.map((query) => `/api/samples?limit=100&${query}`),
  ...COUNTS.map((query) => `/api/samples/counts?${query}`),
];

/** The longest statement of each request, as the database's own statistics have it, ms. */
async function slowestStatements(page: Page): Promise<Map<string, number>> {
  const client = new pg.Client({ connectionString: process.env.GRENTO_BENCH_DATABASE });
  await client.connect();
  const slowest = new Map<string, number>();
  for (const address of ASKED) {
    await client.query('select pg_stat_statements_reset()');
    await page.request.get(address);
    const { rows } = await client.query(
      `select max(max_exec_time) as ms from pg_stat_statements where query not like '%pg_stat_statements%'`,
    );
    slowest.set(address, rows[0].ms ?? 0);
  }
  await client.end();
  return slowest;
}

test('a large library answers', async ({ page }) => {
  await page.goto('/shelf');
  // Once before anything is timed: whoever works with a library has its pages in memory.
  for (const address of ASKED) await page.request.get(address);
  const atDatabase = await slowestStatements(page);
  let [over50, over120] = [0, 0];
  for (const address of ASKED) {
    const atPage = await page.evaluate(async (path) => {
      const times: number[] = [];
      for (let i = 0; i < 5; i++) {
        const began = performance.now();
        await (await fetch(path)).json();
        times.push(performance.now() - began);
      }
      return times.sort((a, b) => a - b)[2];
    }, address);
    const slowest = atDatabase.get(address)!;
    if (slowest > 50) over50++;
    if (atPage > 120) over120++;
    const mark = slowest > 50 || atPage > 120 ? '!' : ' ';
    say(`${mark} ${slowest.toFixed(0).padStart(4)} ms, page ${atPage.toFixed(0).padStart(4)} ms  ${address}`);
  }
  say(`${over50} of ${ASKED.length} above 50 ms at the database, ${over120} above 120 ms at the page`);
});

test('an Intake of many rows is shown and scrolled', async ({ page }) => {
  const ms = async (work: () => Promise<unknown>) => {
    const began = performance.now();
    await work();
    return Math.round(performance.now() - began);
  };
  const rows = page.getByRole('grid', { name: 'Arrivals' }).getByRole('row');
  // How many there are, or what the first one is: another filter or order changes one of them.
  const first = async () =>
    `${await page.getByRole('grid', { name: 'Arrivals' }).getAttribute('aria-rowcount')} ${await rows.nth(1).getByRole('gridcell').nth(1).innerText()}`;
  const changes = async (act: () => Promise<unknown>) => {
    const before = await first();
    return ms(async () => {
      await act();
      for (let i = 0; i < 400 && (await first()) === before; i++) await page.waitForTimeout(10);
    });
  };
  say(
    `  first rows after ${await ms(async () => {
      await page.goto('/intake');
      await rows.nth(5).waitFor();
    })} ms from the address`,
  );
  say(`  filter “Sure”: ${await changes(() => page.getByRole('button', { name: /^Sure/ }).click())} ms`);
  say(
    `  sorted by name: ${await changes(() => page.getByRole('button', { name: 'Name', exact: true }).click())} ms`,
  );
  say(
    `  searched for a word: ${await changes(() => page.getByPlaceholder('name, folder, tag').fill('juniper'))} ms`,
  );
  await page.getByPlaceholder('name, folder, tag').fill('');
  await page.getByRole('button', { name: /^All/ }).click();
  await page.waitForTimeout(1500);
  await page.locator('body').click({ position: { x: 5, y: 5 } });
  say(
    `  to the last row: ${await ms(async () => {
      await page.keyboard.press('End');
      await page.getByRole('row', { selected: true }).waitFor();
    })} ms`,
  );
  await page.keyboard.press('Home');
  await page.waitForTimeout(500);
  const scrolled = (pixels: number) =>
    page.evaluate(async (step) => {
      const scroller = document.querySelector('[role=grid] .overflow-y-scroll')!;
      const times: number[] = [];
      let last = performance.now();
      for (let i = 0; i < 180; i++) {
        scroller.scrollTop += step;
        await new Promise(requestAnimationFrame);
        const now = performance.now();
        times.push(now - last);
        last = now;
      }
      const mean = times.reduce((sum, time) => sum + time, 0) / times.length;
      times.sort((a, b) => a - b);
      return { mean, median: times[90], late: times[171], worst: times[179] };
    }, pixels);
  for (const [words, pixels] of [
    ['two rows', 88],
    ['nine rows', 396],
  ] as const) {
    const { mean, median, late, worst } = await scrolled(pixels);
    say(
      `  scrolling ${words} a frame: ${(1000 / mean).toFixed(0)} frames a second on average, ${(1000 / median).toFixed(0)} in the middle (95th percentile ${late.toFixed(0)} ms, worst ${worst.toFixed(0)} ms)`,
    );
  }
});
