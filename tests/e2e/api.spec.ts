import { readFileSync } from 'node:fs';
import { expect, test, type Page } from './alive';
import { TABLE_HEADS } from '@/library/search/shelfTable';
import { keyOf, saved } from './pieces';

const DOCUMENT = readFileSync('docs/api.md', 'utf8');
const ADDRESSES = [...DOCUMENT.matchAll(/^\| `(\/api\/[^`]+)` +\| `([^`]+)`/gm)].map(([, path, type]) => ({
  path,
  type,
}));

const answered = async (page: Page, path: string) => page.request.get(path.replaceAll(' ', '%20'));

test('every address of the document answers as it says; the table holds what the search finds', async ({
  page,
}) => {
  const piece = { name: 'Told, “in” lines', bpm: 92, beatsPerBar: 3, bars: 2, key: keyOf('E♭ minor') };
  const sampleId = await saved(page, piece);
  expect(ADDRESSES.length).toBeGreaterThan(10);
  for (const { path, type } of ADDRESSES) {
    const answer = await answered(page, path.replace('{sample}', sampleId));
    expect([path, answer.status()]).toEqual([path, 200]);
    expect(answer.headers()['content-type'].split(';')[0]).toBe(type);
  }
  for (const name of TABLE_HEADS) expect(DOCUMENT).toContain(`\`${name}\``);

  const csv = await (await answered(page, '/api/shelf/table?search=told lines 3/4')).text();
  const [heads, line, ...others] = csv.split('\r\n');
  expect(heads).toBe(TABLE_HEADS.join(','));
  expect(line).toContain(`${sampleId},"Told, “in” lines.wav",`);
  expect(line).toContain(',loop,92,false,0,3/4,2,Eb minor,0,');
  expect(others).toEqual(['']);
  const lines = (await (await answered(page, '/api/shelf/table?as=jsonl&search=told lines 3/4')).text())
    .trim()
    .split('\n');
  expect(lines.map((one) => JSON.parse(one) as object)).toEqual([
    expect.objectContaining({
      sample: sampleId,
      tempo_bpm: 92,
      meter: '3/4',
      key: 'Eb minor',
      proved: false,
    }),
  ]);
  const none = await answered(page, '/api/shelf/table?as=jsonl&search=told lines 4/4');
  expect(await none.text()).toBe('');

  const jams = await (await answered(page, `/api/samples/${sampleId}/jams`)).json();
  const beats = jams.annotations.find((one: { namespace: string }) => one.namespace === 'beat').data;
  expect(beats.map(({ value }: { value: number }) => value)).toEqual([1, 2, 3, 1, 2, 3]);
  expect(beats[1].time).toBeCloseTo(60 / 92, 5);

  for (const [path, status] of [
    ['/api/shelf/table?as=xml', 400],
    ['/api/shelf/table?tempoFrom=fast', 400],
    ['/api/samples/00000000-0000-4000-8000-000000000000/jams', 404],
    ['/api/samples/nobody/jams', 404],
  ] as const) {
    const answer = await answered(page, path);
    expect([path, answer.status()]).toEqual([path, status]);
    expect((await answer.json()).error).toEqual(expect.any(String));
  }
});
