import { UndecodableError } from '@/core/formats/audioFormat';
import { decodeAudio } from '@/core/formats/decode';
import { resample } from '@/core/signal/resample';
import { database } from '@/store/database';
import { readOriginal } from '@/store/originalBytes';
import { readSampleFile, type SampleFile } from '@/store/samples';

/** Where a sample's audio is read: its listening copy where it has one. */
export const listenedTo = (file: SampleFile) =>
  file.listeningId === null ? file : { originalId: file.listeningId, byteLength: file.listeningBytes! };

/**
 * All of a sample's audio at a rate, of one or two channels. `onRead` gets the share that is read. Throws UndecodableError with a sentence
 * for the user where it is gone or cannot be decoded.
 */
export async function wholeSample(
  sampleId: string,
  rate: number,
  onRead: (share: number) => void,
): Promise<Float32Array[]> {
  const file = await readSampleFile(database(), sampleId);
  if (!file) throw new UndecodableError('One of its samples has been deleted.');
  const { originalId, byteLength } = listenedTo(file);
  let read = 0;
  async function* bytes() {
    read = 0;
    for await (const part of readOriginal(originalId, 0, byteLength)) {
      read += part.length;
      yield part;
      onRead(read / byteLength);
    }
  }
  const blocks: Float32Array[][] = [];
  let frames = 0;
  const { sampleRate } = await decodeAudio(bytes, (block) => {
    blocks.push(block.slice(0, 2).map((channel) => channel.slice()));
    frames += block[0].length;
  });
  const count = blocks[0]?.length ?? 0;
  if (count === 0) throw new UndecodableError('One of its samples could not be decoded.');
  const channels = Array.from({ length: count }, () => new Float32Array(frames));
  let at = 0;
  for (const block of blocks) {
    block.forEach((channel, c) => channels[c].set(channel, at));
    at += block[0].length;
  }
  return sampleRate === rate
    ? channels
    : channels.map((channel) => resample(channel, sampleRate, rate, 'fine'));
}
