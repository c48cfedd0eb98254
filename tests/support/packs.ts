import type { Readable } from 'node:stream';
import yazl from 'yazl';
import type { KeptPack, PackOrder } from '@/contract/pack';
import type { SampleEntry } from '@/contract/entry';
import { ANYBODY } from '@/server/change';
import { readEntry } from '@/server/entry';
import { packArchive } from '@/server/packArchive';
import { changePack, makePack } from '@/server/packs';
import { takeIn } from '@/server/takeIn';
import { database } from '@/store/database';
import { inBlocks } from './bytes';
import { bringAll, measureAll } from './library';
import { unzipped } from './unzipped';

export const order = (kept: KeptPack, one: PackOrder, words = 'changed') =>
  changePack(kept.id, { do: 'order', words, order: one }, ANYBODY);

export async function packOf(sampleIds: string[], patch: Extract<PackOrder, { do: 'set' }>['patch'] = {}) {
  let kept = await makePack({ name: 'Winter: frost & rope' }, ANYBODY);
  kept = await order(kept, { do: 'put', sampleIds }, 'add');
  return order(kept, { do: 'set', patch }, 'set');
}

export async function fetched(kept: KeptPack) {
  const { name, bytes, byteLength } = await packArchive(kept.id);
  const parts: Uint8Array[] = [];
  for await (const part of bytes) parts.push(part);
  const whole = Buffer.concat(parts);
  expect(byteLength).toBe(whole.length);
  const root = name.replace(/\.zip$/, '');
  const files = new Map<string, Buffer>();
  for (const [path, content] of await unzipped(whole)) {
    // Everything lies in one folder.
    expect(path.startsWith(`${root}/`)).toBe(true);
    files.set(path.slice(root.length + 1), content);
  }
  return { name, whole, files, text: (path: string) => files.get(path)!.toString() };
}

/** The files of a pack as one archive again, some of them changed. */
export function zipped(
  files: ReadonlyMap<string, Buffer>,
  change: (path: string, bytes: Buffer) => Buffer = (_, b) => b,
) {
  const zip = new yazl.ZipFile();
  for (const [path, bytes] of files) zip.addBuffer(change(path, bytes), `Winter/${path}`);
  zip.end();
  return arrayOf(zip.outputStream as Readable);
}

async function arrayOf(stream: AsyncIterable<Uint8Array>): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  for await (const part of stream) parts.push(part);
  return Buffer.concat(parts);
}

export async function unpacked(bytes: Buffer): Promise<SampleEntry[]> {
  await takeIn({
    ...{ name: 'Winter.zip', folder: '', byteLength: bytes.length, modifiedMs: null, from: 0 },
    bytes: inBlocks(bytes),
  });
  await bringAll();
  await measureAll();
  const { rows } = await database().query('select sample_id as id from settled order by lower(name)');
  return Promise.all(rows.map(({ id }) => readEntry(id)));
}
