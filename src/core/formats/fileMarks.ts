import { readerAt, readerOf, type ReadAt } from './byteReader';
import { chunksOf, fourLetters, viewOf } from './chunks';

/** What WAV and AIFF files say in chunks of their own about places in the audio, and in plain text. */
export interface FileMarks {
  /** Named places, sample frames. */
  cues: { frame: number; label: string }[];
  /** The first sustained loop, sample frames, end exclusive. */
  loop: { start: number; end: number } | null;
  /** Free texts: descriptions, comments, annotations. */
  texts: { field: string; text: string }[];
}

/** Chunks that are read are small; larger ones are not what they say. */
const LARGEST_CHUNK = 1e6;

/**
 * Marks of a RIFF/WAVE file: cue points with the labels of its `adtl` list, the loop of the sampler chunk, the
 * description of the broadcast extension (EBU Tech 3285) and the texts of the INFO list. Damaged chunks are
 * passed over.
 */
export async function readWaveMarks(readAt: ReadAt, byteLength: number): Promise<FileMarks> {
  const marks: FileMarks = { cues: [], loop: null, texts: [] };
  const frames = new Map<number, number>();
  const labels = new Map<number, string>();
  for await (const { id, body } of bodies(readAt, byteLength, 'little')) {
    const view = viewOf(body);
    if (id === 'cue ' && body.length >= 4) {
      for (let i = 0, at = 4; i < view.getUint32(0, true) && at + 24 <= body.length; i++, at += 24)
        frames.set(view.getUint32(at, true), view.getUint32(at + 20, true));
    } else if (id === 'smpl' && body.length >= 60 && view.getUint32(28, true) > 0) {
      const start = view.getUint32(44, true);
      const end = view.getUint32(48, true) + 1;
      if (end > start) marks.loop = { start, end };
    } else if (id === 'bext' && body.length >= 256) {
      addText(marks, 'bext description', body.subarray(0, 256));
    } else if (id === 'LIST' && body.length >= 4) {
      const type = fourLetters(body, 0);
      for await (const { id: name, size, head } of chunksOf(readerOf(body.subarray(4)), 'little')) {
        const inner = await head(size);
        if (type === 'adtl' && name === 'labl' && inner.length > 4)
          labels.set(viewOf(inner).getUint32(0, true), textOf(inner.subarray(4)));
        if (type === 'INFO') addText(marks, name, inner);
      }
    }
  }
  for (const [number, frame] of frames) marks.cues.push({ frame, label: labels.get(number) ?? '' });
  return marks;
}

/** Marks of an AIFF or AIFF-C file: its MARK chunk, the sustain loop of INST, and its texts. */
export async function readAiffMarks(readAt: ReadAt, byteLength: number): Promise<FileMarks> {
  const marks: FileMarks = { cues: [], loop: null, texts: [] };
  const frames = new Map<number, number>();
  let loop: [number, number] | null = null;
  for await (const { id, body } of bodies(readAt, byteLength, 'big')) {
    const view = viewOf(body);
    if (id === 'MARK' && body.length >= 2) {
      for (let i = 0, at = 2; i < view.getUint16(0) && at + 7 <= body.length; i++) {
        const frame = view.getUint32(at + 2);
        const length = body[at + 6];
        frames.set(view.getUint16(at), frame);
        marks.cues.push({ frame, label: textOf(body.subarray(at + 7, at + 7 + length)) });
        // A counted string with its count fills an even number of bytes.
        at += 6 + length + 1 + ((length + 1) % 2);
      }
    } else if (id === 'INST' && body.length >= 14 && view.getUint16(8) === 1) {
      loop = [view.getUint16(10), view.getUint16(12)];
    } else if (id === 'NAME' || id === 'ANNO' || id === '(c) ') addText(marks, id.trim(), body);
  }
  const [start, end] = loop ? [frames.get(loop[0]), frames.get(loop[1])] : [];
  if (start !== undefined && end !== undefined && end > start) marks.loop = { start, end };
  return marks;
}

/** The chunks of a file that are not its sound, with their bodies. */
async function* bodies(readAt: ReadAt, byteLength: number, endian: 'little' | 'big') {
  const reader = readerAt(readAt, byteLength);
  await reader.skip(12);
  for await (const { id, size, head } of chunksOf(reader, endian))
    if (id !== 'data' && id !== 'SSND' && size <= LARGEST_CHUNK) yield { id, body: await head(size) };
}

function addText({ texts }: FileMarks, field: string, bytes: Uint8Array) {
  const text = textOf(bytes);
  if (text) texts.push({ field, text });
}

/** Text up to the first nought; these formats know no encoding, UTF-8 reads ASCII as well. */
function textOf(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  return new TextDecoder().decode(bytes.slice(0, end < 0 ? bytes.length : end)).trim();
}
