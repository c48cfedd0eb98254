import { createServer, type ServerResponse } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import { deliveryMood, type DeliveryCatalogue, type DeliveryMood } from '@/contract/deliveries';
import type { DemoFile } from '@/demo/library';
import { randomFrom } from '@/demo/random';
import { workshopFiles } from '@/demo/workshop';

/**
 * The simulated delivery service: `node delivery.mjs PORT`. It stands in for shops and senders: a catalogue of
 * made-up packs, files in parts (RFC 9110 ranges), and a mood that makes it slow or has it break off.
 */
const PACKS: { packId: string; title: string; about: string; files: DemoFile[] }[] = [
  {
    packId: 'sawdust-drums',
    title: 'Sawdust Drums',
    about: 'Sixteen loops from the carpenter’s bench: drums, blocks and what lay about.',
    files: workshopFiles(16, 11, ''),
  },
  {
    packId: 'ribbon-and-reed',
    title: 'Ribbon and Reed',
    about: 'Bellows, plucked strings and bells for the second act.',
    files: workshopFiles(12, 23, ''),
  },
  {
    packId: 'harlequins-trunk',
    title: 'Harlequin’s Trunk',
    about: 'Forty loops, unsorted, as they were found in the trunk.',
    files: workshopFiles(40, 37, ''),
  },
];

const made = new Map<string, Uint8Array>();
const bytesOf = (packId: string, path: string): Uint8Array | null => {
  const file = PACKS.find((pack) => pack.packId === packId)?.files.find((one) => pathOf(one) === path);
  if (!file) return null;
  const key = `${packId}/${path}`;
  let bytes = made.get(key);
  if (!bytes) made.set(key, (bytes = file.make().bytes));
  return bytes;
};
const pathOf = ({ folder, name }: DemoFile) => [folder.replace(/^\//, ''), name].filter(Boolean).join('/');

const SENDER = 'the Workshop’s post room';
let mood: DeliveryMood = { bytesPerSecond: null, breaksOff: 0 };
const chance = randomFrom(5);
const BLOCK = 32 * 1024;

const catalogue = (): DeliveryCatalogue => ({
  sender: SENDER,
  packs: PACKS.map(({ packId, title, about, files }) => ({
    packId,
    title,
    about,
    files: files.map((file) => ({ path: pathOf(file), byteLength: bytesOf(packId, pathOf(file))!.length })),
  })),
});

const json = (response: ServerResponse, status: number, body: unknown) => {
  response.writeHead(status, { 'content-type': 'application/json' });
  response.end(JSON.stringify(body));
};

async function send(response: ServerResponse, bytes: Uint8Array, range: string | undefined) {
  const from = Number(/^bytes=(\d+)-$/.exec(range ?? '')?.[1] ?? 0);
  if (from > bytes.length) return json(response, 416, { error: 'outside of the file' });
  const part = bytes.subarray(from);
  const headers: Record<string, string | number> = {
    'content-type': 'audio/wav',
    'content-length': part.length,
  };
  if (from > 0) headers['content-range'] = `bytes ${from}-${bytes.length - 1}/${bytes.length}`;
  response.writeHead(from > 0 ? 206 : 200, headers);
  // Where this answer breaks off, if it does.
  const end = chance() < mood.breaksOff ? Math.floor(part.length * (0.2 + 0.7 * chance())) : Infinity;
  for (let at = 0; at < part.length; at += BLOCK) {
    if (at >= end) return response.destroy();
    if (response.destroyed) return;
    const block = part.subarray(at, at + BLOCK);
    if (!response.write(block))
      await new Promise((resolve) => response.once('drain', resolve).once('close', resolve));
    if (mood.bytesPerSecond) await sleep((1000 * block.length) / mood.bytesPerSecond);
  }
  response.end();
}

const server = createServer((request, response) => {
  const path = decodeURIComponent(new URL(request.url ?? '/', 'http://localhost').pathname);
  if (path === '/catalogue') return json(response, 200, catalogue());
  if (path === '/mood' && request.method === 'PUT') {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part));
    request.on('end', () => {
      const wanted = deliveryMood.safeParse(JSON.parse(Buffer.concat(parts).toString() || '{}'));
      if (wanted.success) mood = wanted.data;
      json(response, wanted.success ? 200 : 400, mood);
    });
    return;
  }
  if (path === '/mood') return json(response, 200, mood);
  const [, packId, file] = /^\/files\/([^/]+)\/(.+)$/.exec(path) ?? [];
  const bytes = packId ? bytesOf(packId, file) : null;
  if (!bytes) return json(response, 404, { error: 'not in the catalogue' });
  void send(response, bytes, request.headers.range);
});
server.listen(Number(process.argv[2]), '127.0.0.1');
const stop = () => {
  server.closeAllConnections();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
if (process.env.GRENTO_TIED) process.stdin.on('end', stop).resume();
