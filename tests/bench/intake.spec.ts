import { test } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { workshopFiles } from '@/demo/workshop';

/*
 * How fast a morning's arrivals are measured, and how an Intake of many rows behaves. Figures of one run on this
 * machine; nothing here fails for being slow.
 */
test.setTimeout(1_800_000);

const say = (text: string) => console.log(text);
const LOOPS = Number(process.env.GRENTO_BENCH_LOOPS ?? 1000);
const ROWS = Number(process.env.GRENTO_BENCH_ROWS ?? 50_000);

/** Largest memory of the measuring process so far, MB. */
function measuringMemory(): number {
  const pids = execFileSync('pgrep', ['-f', 'build/measuring.mjs']).toString().trim().split('\n');
  const peaks = pids.map((pid) =>
    Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0),
  );
  return Math.max(...peaks) / 1024;
}

test('a thousand loops are taken in and measured', async ({ baseURL }) => {
  const folder = mkdtempSync(join(tmpdir(), 'grento-bench-'));
  const files = workshopFiles(LOOPS, 3, 'Bench').map(({ name, folder: inside, make }, i) => {
    const { bytes } = make();
    const path = join(folder, `${i}.wav`);
    writeFileSync(path, bytes);
    return { name, folder: inside, path, modified: Math.floor(statSync(path).mtimeMs) };
  });
  const seconds = files.reduce((sum, { path }) => sum + (statSync(path).size - 44) / 4 / 44100, 0);
  const began = performance.now();
  let at = 0;
  const sender = async () => {
    for (let file = files[at++]; file; file = files[at++]) {
      const bytes = readFileSync(file.path);
      const query = new URLSearchParams({
        name: file.name,
        folder: file.folder,
        length: String(bytes.length),
        modified: String(file.modified),
      });
      const response = await fetch(`${baseURL}/api/intake?${query}`, { method: 'PUT', body: bytes });
      if (!response.ok) throw new Error(await response.text());
    }
  };
  await Promise.all([sender(), sender(), sender()]);
  const taken = (performance.now() - began) / 1000;
  for (;;) {
    const queue = await (await fetch(`${baseURL}/api/queue`)).json();
    if (queue.waiting + queue.running === 0) break;
    await new Promise((resolve) => setTimeout(resolve, 300));
  }
  const whole = (performance.now() - began) / 1000;
  const counts = await (await fetch(`${baseURL}/api/samples/counts`)).json();
  say(
    `${LOOPS} loops (${(seconds / LOOPS).toFixed(1)} s on average): all bytes in after ${taken.toFixed(1)} s,`,
  );
  say(
    `  measured after ${whole.toFixed(1)} s (${(LOOPS / whole).toFixed(2)} a second, ${(seconds / whole).toFixed(0)} × real time)`,
  );
  say(`  ${counts.sure} sure, ${counts['needs a look']} need a look, ${counts.faulty} cannot be read`);
  say(`  largest memory of the measuring process: ${measuringMemory().toFixed(0)} MB`);
  rmSync(folder, { recursive: true });
});

test('an Intake of many rows', async ({ page }) => {
  const client = new pg.Client({ connectionString: process.env.GRENTO_BENCH_DATABASE });
  await client.connect();
  // Rows like those that were measured, again and again: their revisions, readings and tags with them.
  await client.query(
    `with source as (select s.*, row_number() over () as n, count(*) over () as of from samples s where current_sequence is not null),
          made as (
      insert into samples (original_id, name, folder, kind, standing, needs_look, need, need_sorts, format, duration_seconds,
                           sample_rate, channels, thumbnail, measurement, search_text, arrived_at, measured_at)
      select original_id, i || ' ' || name, folder || '/' || i % 40, kind, standing, needs_look,
             need * (0.5 + 0.5 * ((i * 7919) % 1000) / 1000.0), need_sorts, format, duration_seconds, sample_rate, channels, thumbnail, measurement,
             lower(i || ' ' || name), now() - make_interval(secs => i), now()
        from generate_series(1, $1::int) i join source on source.n = 1 + i % source.of
      returning sample_id, name)
     select count(*) from made`,
    [ROWS],
  );
  await client.query(
    `insert into revisions (sample_id, sequence, words, made_by, tempo_bpm, one_seconds, beats_per_bar, beat_unit, key_tonic, key_mode)
     select sample_id, 1, 'measured', 'measurement', (measurement #>> '{tempo,bpm}')::double precision, 0, 4, 4, (random() * 11)::int, 'minor'
       from samples where current_sequence is null and (measurement #>> '{tempo,bpm}') is not null`,
  );
  await client.query(
    `update samples s set current_sequence = 1 where current_sequence is null and exists (select from revisions r where r.sample_id = s.sample_id)`,
  );
  await client.query('analyze');
  await client.end();

  const ms = async (work: () => Promise<unknown>) => {
    const began = performance.now();
    await work();
    return Math.round(performance.now() - began);
  };
  const rows = page.getByRole('grid', { name: 'Arrivals' }).getByRole('row');
  const first = () => rows.nth(1).getByRole('gridcell').nth(1).innerText();
  const changes = async (act: () => Promise<unknown>) => {
    const before = await first();
    return ms(async () => {
      await act();
      for (let i = 0; i < 400 && (await first()) === before; i++) await page.waitForTimeout(10);
    });
  };
  say(`Intake with ${ROWS} rows more:`);
  for (const query of [
    '',
    'show=sure',
    'sort=name&direction=up',
    'text=juniper',
    'limit=0',
    `offset=${ROWS - 100}`,
  ])
    say(`  answer to “${query}”: ${await ms(() => page.request.get(`/api/samples?${query}`))} ms`);
  say(
    `  first rows after ${await ms(async () => {
      await page.goto('/intake');
      await rows.nth(5).waitFor();
    })} ms from the address`,
  );
  say(`  filter “Sure”: ${await changes(() => page.getByRole('button', { name: /^Sure/ }).click())} ms`);
  say(`  sorted by name: ${await changes(() => page.getByRole('button', { name: 'Name' }).click())} ms`);
  say(
    `  searched for a word: ${await changes(() => page.getByPlaceholder('name, folder, tag').fill('juniper'))} ms`,
  );
  await page.getByPlaceholder('name, folder, tag').fill('');
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
      times.sort((a, b) => a - b);
      return { median: times[90], late: times[171], worst: times[179] };
    }, pixels);
  for (const [words, pixels] of [
    ['two rows', 88],
    ['nine rows', 396],
  ] as const) {
    const { median, late, worst } = await scrolled(pixels);
    say(
      `  scrolling ${words} a frame: ${(1000 / median).toFixed(0)} frames a second (95th percentile ${late.toFixed(0)} ms, worst ${worst.toFixed(0)} ms)`,
    );
  }
});
