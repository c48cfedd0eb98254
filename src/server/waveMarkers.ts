import { createReadStream } from 'node:fs';
import { open, rename } from 'node:fs/promises';
import { byteReader } from '@/core/formats/byteReader';
import {
  chunkBytes,
  cueChunks,
  isMarkerChunk,
  listWaveChunks,
  samplerChunk,
  waveHeader,
} from '@/core/formats/waveChunks';

export interface Markers {
  sampleRate: number;
  /** Loop bounds in sample frames, end exclusive; null for no loop. */
  loop: { start: number; end: number } | null;
  /** Bar lines in sample frames. */
  bars: { frame: number; label: string }[];
}

/** Names of the chunks of a WAV file; null where they cannot be listed. */
export async function waveChunkNames(path: string): Promise<ReadonlySet<string> | null> {
  const reader = byteReader(createReadStream(path));
  return listWaveChunks(reader)
    .then((places) => new Set(places.map(({ id }) => id)))
    .catch(() => null)
    .finally(() => reader.close());
}

/** What a tag writer may add to a file; anything else that was not there before is filling. */
const TAG_CHUNKS = new Set(['id3 ', 'ID3 ', 'LIST']);

/**
 * Replaces the loop points, cues and labels of the WAV file at `path`; every other chunk, unknown ones
 * included, is copied byte for byte; of those that `own` does not name only tags. RF64 files, whose sizes do not fit, are left as they are.
 */
export async function writeWaveMarkers(
  path: string,
  { sampleRate, loop, bars }: Markers,
  own: ReadonlySet<string>,
): Promise<void> {
  const reader = byteReader(createReadStream(path));
  const places = await listWaveChunks(reader)
    .catch(() => null)
    .finally(() => reader.close());
  if (!places) return;
  const added = [
    ...(loop ? [samplerChunk(loop.start, loop.end, sampleRate)] : []),
    ...(bars.length ? cueChunks(bars) : []),
  ].map(chunkBytes);
  const isNew = ({ id }: { id: string }) => !own.has(id);
  const kept = places
    .filter((place) => !isMarkerChunk(place) && (!isNew(place) || TAG_CHUNKS.has(place.id)))
    // New tags stand behind the sound: its data stay where simple readers look for them.
    .sort((a, b) => Number(isNew(a)) - Number(isNew(b)));
  const total =
    kept.reduce((sum, { size }) => sum + 8 + size + (size % 2), 0) +
    added.reduce((sum, bytes) => sum + bytes.length, 0);
  const target = `${path}.marked`;
  const out = await open(target, 'w');
  try {
    await out.write(waveHeader(total));
    for (const { offset, size } of kept) {
      for await (const block of createReadStream(path, { start: offset, end: offset + 8 + size - 1 }))
        await out.write(block as Buffer);
      if (size % 2 === 1) await out.write(new Uint8Array(1));
    }
    for (const bytes of added) await out.write(bytes);
  } finally {
    await out.close();
  }
  await rename(target, path);
}
