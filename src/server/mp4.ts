import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { createWriteStream } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { UndecodableError } from '@/core/formats/audioFormat';

/**
 * Decodes the first sound track of an MP4 file to FLAC of 24 bits, with Debian's ffmpeg as a program of its
 * own: the edit list is followed, so that the encoder's delay and padding are gone. `source` is a path, or
 * bytes that are put into a temporary file (the table of an MP4 often stands at its end). Throws
 * UndecodableError with a sentence for the user.
 */
export async function* mp4ToFlac(source: string | AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const folder = await mkdtemp(join(tmpdir(), 'grento-'));
  try {
    let path = typeof source === 'string' ? source : join(folder, 'in.mp4');
    if (typeof source !== 'string') await pipeline(Readable.from(source), createWriteStream(path));
    else if (path.startsWith('-')) path = `./${path}`;
    const child = spawn(
      'ffmpeg',
      [
        '-v',
        'error',
        '-nostdin',
        '-i',
        path,
        '-map',
        '0:a:0',
        '-vn',
        '-c:a',
        'flac',
        '-sample_fmt',
        's32',
        '-f',
        'flac',
        '-',
      ],
      { stdio: ['ignore', 'pipe', 'pipe'] },
    );
    let said = '';
    child.stderr.on('data', (part: Buffer) => (said = (said + part.toString()).slice(-2000)));
    const ended = new Promise<number | Error | null>((resolve) => {
      child.on('error', resolve);
      child.on('close', resolve);
    });
    try {
      let bytes = 0;
      for await (const part of child.stdout) {
        bytes += (part as Buffer).length;
        yield part as Buffer;
      }
      const end = await ended;
      if (end instanceof Error)
        throw new UndecodableError(
          'MP4 files are decoded by the program ffmpeg, which is not installed. Please run: sudo apt-get install -y ffmpeg',
        );
      if (end !== 0 && bytes === 0)
        throw new UndecodableError(
          /matches no streams/.test(said)
            ? 'This MP4 file holds no sound.'
            : 'No audio could be decoded from this MP4 file; it is damaged or empty.',
        );
    } finally {
      child.kill();
    }
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
