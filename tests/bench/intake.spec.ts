import { test } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { workshopFiles } from '@/demo/workshop';

/*
 * How fast a morning's arrivals are measured. Figures of one run on this
 * machine; nothing here fails for being slow.
 */
test.setTimeout(1_800_000);

const say = (text: string) => console.log(text);
const LOOPS = Number(process.env.GRENTO_BENCH_LOOPS ?? 1000);

/** Largest memory of the tasks process so far, MB. */
function measuringMemory(): number {
  const pids = execFileSync('pgrep', ['-f', 'build/tasks.mjs']).toString().trim().split('\n');
  const peaks = pids.map((pid) =>
    Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0),
  );
  return Math.max(...peaks) / 1024;
}

test('a thousand loops are imported and measured', async ({ baseURL }) => {
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
    const { measuring } = await (await fetch(`${baseURL}/api/tasks`)).json();
    if (measuring.waiting + measuring.running === 0) break;
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
  say(`  largest memory of the tasks process: ${measuringMemory().toFixed(0)} MB`);
  rmSync(folder, { recursive: true });
});
