import type { ByteReader } from './byteReader';
import { chunksOf, fourLetters } from './chunks';
import { writeAscii } from './encodePcm';

/** Where a chunk of a RIFF file stands: `offset` of its header, `size` of its body without padding. */
export interface ChunkPlace {
  id: string;
  /** First four bytes of a LIST chunk's body, else empty. */
  listType: string;
  offset: number;
  size: number;
}

/** A chunk that is to be written. */
export interface NewChunk {
  id: string;
  body: Uint8Array;
}

/** Lists the chunks of a RIFF/WAVE file in order. Throws RangeError for RF64 and for other files. */
export async function listWaveChunks(reader: ByteReader): Promise<ChunkPlace[]> {
  const head = await reader.read(12);
  if (head.length < 12 || fourLetters(head, 0) !== 'RIFF' || fourLetters(head, 8) !== 'WAVE')
    throw new RangeError('not a RIFF/WAVE file');
  const places: ChunkPlace[] = [];
  for await (const { id, offset, size } of chunksOf(reader, 'little')) {
    const listType = id === 'LIST' ? fourLetters(await reader.peek(4), 0) : '';
    await reader.skip(size);
    // Of a file that is cut off only what is there.
    places.push({ id, listType, offset, size: reader.position - offset - 8 });
  }
  return places;
}

/** Chunks that hold loop points, cues and their labels: the ones that Grento writes again. */
export function isMarkerChunk({ id, listType }: Pick<ChunkPlace, 'id' | 'listType'>): boolean {
  return id === 'smpl' || id === 'cue ' || (id === 'LIST' && listType === 'adtl');
}

/**
 * The standard sampler chunk with one forward loop. `end` is exclusive here and inclusive in the file.
 * `rootMidi` is the note that plays the sample at its own pitch, `cents` how far above it the sample is.
 */
export function samplerChunk(
  start: number,
  end: number,
  sampleRate: number,
  rootMidi = 60,
  cents = 0,
): NewChunk {
  const body = new Uint8Array(36 + 24);
  const view = new DataView(body.buffer);
  view.setUint32(8, Math.round(1e9 / sampleRate), true);
  view.setUint32(12, cents < 0 ? rootMidi - 1 : rootMidi, true);
  view.setUint32(16, Math.round((((cents + 100) % 100) / 100) * 2 ** 32) >>> 0, true);
  view.setUint32(28, 1, true);
  view.setUint32(36 + 8, start, true);
  view.setUint32(36 + 12, end - 1, true);
  return { id: 'smpl', body };
}

/** A cue chunk and the list of its labels. `frame` counts from the start of the data. */
export function cueChunks(cues: readonly { frame: number; label: string }[]): NewChunk[] {
  const cue = new Uint8Array(4 + 24 * cues.length);
  const view = new DataView(cue.buffer);
  view.setUint32(0, cues.length, true);
  const labels: Uint8Array[] = [];
  cues.forEach(({ frame, label }, i) => {
    const at = 4 + 24 * i;
    view.setUint32(at, i + 1, true);
    view.setUint32(at + 4, frame, true);
    writeAscii(view, at + 8, 'data');
    view.setUint32(at + 20, frame, true);
    const text = new Uint8Array(4 + label.length + 1);
    new DataView(text.buffer).setUint32(0, i + 1, true);
    for (let c = 0; c < label.length; c++) text[4 + c] = label.charCodeAt(c) & 127;
    labels.push(chunkBytes({ id: 'labl', body: text }));
  });
  const list = new Uint8Array(4 + labels.reduce((sum, bytes) => sum + bytes.length, 0));
  writeAscii(new DataView(list.buffer), 0, 'adtl');
  let at = 4;
  for (const bytes of labels) {
    list.set(bytes, at);
    at += bytes.length;
  }
  return [
    { id: 'cue ', body: cue },
    { id: 'LIST', body: list },
  ];
}

/** Header, body and padding of a chunk. */
export function chunkBytes({ id, body }: NewChunk): Uint8Array {
  const bytes = new Uint8Array(8 + body.length + (body.length % 2));
  const view = new DataView(bytes.buffer);
  writeAscii(view, 0, id);
  view.setUint32(4, body.length, true);
  bytes.set(body, 8);
  return bytes;
}

/** The first twelve bytes of a RIFF/WAVE file whose chunks take `chunkBytesTotal` bytes. */
export function waveHeader(chunkBytesTotal: number): Uint8Array {
  const head = new Uint8Array(12);
  const view = new DataView(head.buffer);
  writeAscii(view, 0, 'RIFF');
  view.setUint32(4, 4 + chunkBytesTotal, true);
  writeAscii(view, 8, 'WAVE');
  return head;
}
