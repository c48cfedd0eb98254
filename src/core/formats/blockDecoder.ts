import { UndecodableError } from './audioFormat';

/** What a decoder of the wasm family hands over. */
export interface DecodedBlock {
  channelData: Float32Array[];
  samplesDecoded: number;
  sampleRate: number;
}

/** A decoder of the wasm family: bytes in, the frames that they complete out. */
export interface BlockDecoder {
  ready: Promise<void>;
  decode(bytes: Uint8Array): DecodedBlock | Promise<DecodedBlock>;
  flush?(): DecodedBlock | Promise<DecodedBlock>;
  free(): void;
}

/** The sound of a block, of its true length. */
export const soundOf = ({ channelData, samplesDecoded }: DecodedBlock): Float32Array[] =>
  channelData.map((channel) => channel.subarray(0, samplesDecoded));

/**
 * What a decoder says, or null where it gave up: what it throws over damaged bytes speaks of its own memory and tells
 * the user nothing.
 */
export async function orNull<T>(decoding: () => T | Promise<T>): Promise<T | null> {
  try {
    return await decoding();
  } catch {
    return null;
  }
}

/** Throws UndecodableError when a stream changes what it is. */
export function sameLayout(sampleRate: number, channels: number, block: DecodedBlock): void {
  if (block.sampleRate !== sampleRate || block.channelData.length !== channels)
    throw new UndecodableError('The file changes its sample rate or channel count midway.');
}
