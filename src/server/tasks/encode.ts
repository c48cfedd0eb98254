import { spawn } from 'node:child_process';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeWave } from '@/core/formats/encodeWave';
import { chunkBytes, cueChunks, samplerChunk } from '@/core/formats/waveChunks';
import { ditherTo16 } from '@/core/recipes/dither';
import type { WriteFormat } from '@/core/recipes/recipe';
import { temporaryFolder } from '../temporary';

/** Places that are written into the file itself, in its frames. */
export interface Marks {
  bars: readonly { frame: number; label: string }[];
  /** It goes round as a whole. */
  turns: boolean;
}

/**
 * Audio as the bytes of a file. 16 bits are dithered. WAV has its bar lines as cues and its turn as a loop of the sampler chunk; FLAC
 * is written by Debian's ffmpeg from whole numbers. The same audio always gives the same bytes. Changes `channels`.
 */
export async function encoded(
  channels: readonly Float32Array[],
  sampleRate: number,
  format: Exclude<WriteFormat, 'midi'>,
  { bars, turns }: Marks,
): Promise<Uint8Array> {
  if (format.endsWith('16')) ditherTo16(channels);
  if (format.startsWith('flac')) return flac(channels, sampleRate, format === 'flac 16' ? 16 : 24);
  const bits = format === 'wav 16' ? 16 : format === 'wav 24' ? 24 : '32f';
  const file = encodeWave(channels, sampleRate, bits);
  const chunks = [
    ...(turns ? [samplerChunk(0, channels[0].length, sampleRate)] : []),
    ...(bars.length > 0 ? cueChunks(bars) : []),
  ].map(chunkBytes);
  const whole = Buffer.concat([file, ...chunks]);
  whole.writeUInt32LE(whole.length - 8, 4);
  return whole;
}

async function flac(
  channels: readonly Float32Array[],
  sampleRate: number,
  bits: 16 | 24,
): Promise<Uint8Array> {
  const folder = await temporaryFolder();
  const path = join(folder, 'out.flac');
  try {
    const count = channels.length;
    const frames = channels[0].length;
    // Left in words of 32 bits: the encoder takes the upper ones.
    const words = new Int32Array(frames * count);
    const full = 2 ** (bits - 1);
    for (let c = 0; c < count; c++)
      for (let n = 0; n < frames; n++) {
        const step = Math.max(-full, Math.min(full - 1, Math.round(channels[c][n] * full)));
        words[n * count + c] = step * 2 ** (32 - bits);
      }
    const format =
      bits === 16 ? ['-sample_fmt', 's16'] : ['-sample_fmt', 's32', '-bits_per_raw_sample', '24'];
    const input = ['-f', 's32le', '-ar', String(sampleRate), '-ac', String(count), '-i', 'pipe:0'];
    // Nothing of the moment: the same audio gives the same bytes.
    const exact = ['-map_metadata', '-1', '-fflags', '+bitexact', '-flags:a', '+bitexact'];
    const dither = bits === 16 ? ['-dither_method', '0'] : [];
    const child = spawn(
      'ffmpeg',
      ['-v', 'error', '-y', ...input, ...exact, '-c:a', 'flac', ...format, ...dither, path],
      {
        stdio: ['pipe', 'ignore', 'pipe'],
      },
    );
    let said = '';
    child.stderr.on('data', (part) => (said += part));
    child.stdin.on('error', () => {});
    child.stdin.end(Buffer.from(words.buffer));
    const code = await new Promise<number | null>((resolve, reject) => {
      child.on('error', reject);
      child.on('close', resolve);
    });
    if (code !== 0)
      throw new Error(`FLAC could not be written: ${said.trim() || `ffmpeg ended with ${code}`}`);
    return await readFile(path);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
