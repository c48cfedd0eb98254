import { expect, test } from './alive';

test('pages run no inline script and nothing from elsewhere', async ({ page, request }) => {
  const response = await request.get('/intake');
  const policy = response.headers()['content-security-policy'];
  expect(policy).toMatch(/script-src 'self' 'nonce-[0-9a-f]{32}' 'wasm-unsafe-eval'/);
  expect(policy.split(';').find((part) => part.includes('script-src'))).not.toContain('unsafe-inline');
  const asked: string[] = [];
  const complaints: string[] = [];
  page.on('request', (one) => asked.push(new URL(one.url()).hostname));
  page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
  await page.goto('/intake');
  await page.waitForLoadState('load');
  await page.waitForTimeout(500);
  expect([...new Set(asked)]).toEqual(['127.0.0.1']);
  expect(complaints).toEqual([]);
  // A script that is put into the page without the nonce does not run.
  await page.evaluate(() => {
    const script = document.createElement('script');
    script.textContent = 'window.intruder = true';
    document.body.append(script);
  });
  expect(await page.evaluate(() => 'intruder' in window)).toBe(false);
});

test('requests from other origins and hosts are refused', async ({ request, baseURL }) => {
  const foreign = await request.put('/api/intake?name=x.wav', {
    headers: { origin: 'http://elsewhere.example' },
    data: 'x',
  });
  expect(foreign.status()).toBe(403);
  const renamed = await request.get('/api/samples', { headers: { host: 'grento.example' } });
  expect(renamed.status()).toBe(403);
  const page = await request.get('/intake', { headers: { host: 'grento.example' } });
  expect(page.status()).toBe(403);
  expect((await request.get('/api/samples', { headers: { origin: baseURL! } })).status()).toBe(200);
});

test('what is not understood is answered with a sentence, without traces', async ({ request }) => {
  const unknown = await request.get('/api/samples/not-a-number');
  expect([unknown.status(), (await unknown.json()).error]).toEqual([404, 'There is no such sample.']);
  const odd = await request.get('/api/samples?sort=colour');
  expect(odd.status()).toBe(400);
  expect((await odd.json()).error).toMatch(/not understood/);
  const missing = await request.post('/api/samples/00000000-0000-4000-8000-000000000000/changes', {
    data: { base: 1, order: { do: 'settle', words: 'x', patch: {}, reading: null } },
  });
  expect(missing.status()).toBe(404);
  for (const response of [unknown, odd, missing])
    expect(await response.text()).not.toMatch(/at .*\.(ts|js):\d/);
});

test('both papers keep text readable', async ({ page }) => {
  await page.goto('/intake');
  for (const paper of ['day', 'night']) {
    const worst = await page.evaluate(() => {
      const style = getComputedStyle(document.documentElement);
      const rgb = (name: string) => {
        const probe = document.createElement('span');
        probe.style.color = style.getPropertyValue(`--${name}`);
        document.body.append(probe);
        const parts = /(\d+), (\d+), (\d+)/.exec(getComputedStyle(probe).color)!.slice(1).map(Number);
        probe.remove();
        return parts;
      };
      const luminance = (name: string) => {
        const [r, g, b] = rgb(name).map((value) => {
          const share = value / 255;
          return share <= 0.03928 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
        });
        return 0.2126 * r + 0.7152 * g + 0.0722 * b;
      };
      const contrast = (a: string, b: string) => {
        const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
        return (light + 0.05) / (dark + 0.05);
      };
      const pairs: [string, string][] = [];
      for (const ink of ['ink', 'ink-soft', 'one', 'look', 'good'])
        for (const ground of ['paper', 'sheet']) pairs.push([ink, ground]);
      pairs.push(
        ['ink', 'wash-ink'],
        ['ink-soft', 'wash-ink'],
        ['look', 'wash-look'],
        ['good', 'wash-good'],
        ['one', 'wash-one'],
        ['paper', 'ink'],
      );
      return pairs
        .map(([a, b]) => ({ pair: `${a} on ${b}`, contrast: contrast(a, b) }))
        .sort((x, y) => x.contrast - y.contrast)[0];
    });
    expect(worst.contrast, `${paper}: ${worst.pair}`).toBeGreaterThanOrEqual(4.5);
    await page.getByRole('button', { name: /theme$/ }).click();
  }
});
