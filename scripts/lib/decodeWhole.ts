import { createReadStream } from 'node:fs';
import { basename } from 'node:path';
import { decodeAudio } from '../../src/core/formats/decode';
import { growingArray, type GrowingArray } from '../../src/core/signal/growingArray';

/** All channels of a file. Throws an Error that names it. */
export async function decodeWhole(file: string): Promise<{ channels: Float32Array[]; rate: number }> {
  let channels: GrowingArray[] = [];
  let rate = 0;
  try {
    await decodeAudio(
      () => createReadStream(file),
      (block, blockRate) => {
        rate = blockRate;
        if (channels.length === 0) channels = block.map(() => growingArray());
        block.forEach((samples, c) => channels[c].append(samples));
      },
    );
  } catch (error) {
    throw new Error(`${basename(file)}: ${(error as Error).message}`, { cause: error });
  }
  return { channels: channels.map((channel) => channel.view()), rate };
}
