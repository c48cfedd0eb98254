import { Validator } from '@seriousme/openapi-schema-validator';
import Ajv2020 from 'ajv/dist/2020.js';
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

interface Schema {
  type?: string;
  enum?: unknown[];
  minimum?: number;
  maximum?: number;
  anyOf?: Schema[];
}
interface Operation {
  parameters: { name: string; in: string; schema: Schema }[];
  responses: Record<string, { content: Record<string, { schema?: object }> }>;
}

/** The same numbers in every run. */
function chance(seed: number): () => number {
  return () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647;
}

/** Something that a schema allows, or now and then something that it does not. */
function valueFor(schema: Schema, next: () => number): string {
  const one = schema.anyOf?.[Math.floor(next() * schema.anyOf.length)] ?? schema;
  if (next() < 0.15) return ['', '-1', '1e999', 'NaN', "'; --", 'ßłØ', '%', '0x10'][Math.floor(next() * 8)];
  if (one.enum) return String(one.enum[Math.floor(next() * one.enum.length)]);
  if (one.type === 'boolean') return next() < 0.5 ? 'true' : 'false';
  if (one.type === 'integer' || one.type === 'number') {
    const [least, most] = [one.minimum ?? 0, Math.min(one.maximum ?? 300, 1000)];
    const value = least + next() * (most - least);
    return one.type === 'integer' ? String(Math.round(value)) : value.toFixed(2);
  }
  return ['slow', 'part:bass', '4/4', 'told'][Math.floor(next() * 4)];
}

test('the addresses are described by the standard, as the document has them, and every answer is as it is described', async ({
  page,
}) => {
  const document = await (await answered(page, '/api/openapi.json')).json();
  // Somebody else's reader of the standard.
  expect(await new Validator().validate(document)).toMatchObject({ valid: true });
  const paths = document.paths as Record<string, { get: Operation }>;
  expect(new Set(Object.keys(paths))).toEqual(new Set(ADDRESSES.map(({ path }) => path.split('?')[0])));
  const fields = new Set(paths['/api/shelf/table'].get.parameters.map(({ name }) => name));
  for (const name of fields) expect(DOCUMENT).toMatch(new RegExp(`[\`?]${name}[\`=]`));

  const { rows } = await (await answered(page, '/api/shelf?limit=1')).json();
  const ajv = new Ajv2020({ strict: false, validateFormats: false });
  const next = chance(20_261);
  for (const [path, { get }] of Object.entries(paths)) {
    const of = get.responses['200'].content;
    const checks = Object.fromEntries(
      Object.entries(of).flatMap(([type, { schema }]) => (schema ? [[type, ajv.compile(schema)]] : [])),
    );
    const asked = get.parameters.filter((one) => one.in === 'query');
    // As it stands, and with whatever may be said and may not.
    for (let i = 0; i < (asked.length > 0 ? 25 : 1); i++) {
      const params = new URLSearchParams(
        asked.filter(() => i > 0 && next() < 0.3).map(({ name, schema }) => [name, valueFor(schema, next)]),
      );
      const address = `${path.replace('{sample}', rows[0].sampleId)}?${params}`;
      const answer = await page.request.get(address);
      expect([address, answer.status()]).toEqual([address, i === 0 || answer.ok() ? 200 : 400]);
      if (!answer.ok()) {
        expect((await answer.json()).error).toEqual(expect.any(String));
        continue;
      }
      const type = answer.headers()['content-type'].split(';')[0];
      const isNamed =
        type in of || Object.keys(of).some((one) => one.endsWith('/*') && type.startsWith(one.slice(0, -1)));
      expect([address, type, isNamed]).toEqual([address, type, true]);
      const check = checks[type];
      if (check)
        expect([address, check(await answer.json()), check.errors ?? null]).toEqual([address, true, null]);
    }
  }
});
