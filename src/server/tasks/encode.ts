import { spawn } from 'node:child_process';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeWave } from '@/core/formats/encodeWave';
import { ditherTo16 } from '@/core/recipes/dither';
import type { WriteFormat } from '@/core/recipes/recipe';
import type { OpenTags } from '@/library/samples/openTags';
import { temporaryFolder } from '../temporary';
import { waveChunkNames, writeWaveMarkers } from '../waveMarkers';
import { writeOpenTags } from '../writeOpenTags';

/** Places that are written into the file itself, in its frames. */
export interface Marks {
  bars: readonly { frame: number; label: string }[];
  /** It loops as a whole. */
  turns: boolean;
}

/**
 * Audio as the bytes of a file with its open tags. 16 bits are dithered. WAV has its bar lines as cues and its loop as a loop of the
 * sampler chunk; FLAC is written by Debian's ffmpeg from whole numbers. The same audio always gives the same bytes. Changes `channels`.
 */
export async function encoded(
  channels: readonly Float32Array[],
  sampleRate: number,
  format: Exclude<WriteFormat, 'midi'>,
  { bars, turns }: Marks,
  tags: OpenTags,
): Promise<Uint8Array> {
  if (format.endsWith('16')) ditherTo16(channels);
  const folder = await temporaryFolder();
  try {
    if (format.startsWith('flac')) {
      const path = join(folder, 'out.flac');
      await writeFlac(path, channels, sampleRate, format === 'flac 16' ? 16 : 24);
      await writeOpenTags(path, 'flac', tags);
      return await readFile(path);
    }
    const path = join(folder, 'out.wav');
    const bits = format === 'wav 16' ? 16 : format === 'wav 24' ? 24 : '32f';
    await writeFile(path, encodeWave(channels, sampleRate, bits));
    const own = await waveChunkNames(path);
    await writeOpenTags(path, 'wav', tags);
    const loop = turns ? { start: 0, end: channels[0].length } : null;
    await writeWaveMarkers(path, { sampleRate, loop, bars: [...bars] }, own!);
    return await readFile(path);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function writeFlac(
  path: string,
  channels: readonly Float32Array[],
  sampleRate: number,
  bits: 16 | 24,
): Promise<void> {
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
  const format = bits === 16 ? ['-sample_fmt', 's16'] : ['-sample_fmt', 's32', '-bits_per_raw_sample', '24'];
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
  if (code !== 0) throw new Error(`FLAC could not be written: ${said.trim() || `ffmpeg ended with ${code}`}`);
}
