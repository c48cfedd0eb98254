import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Debian's encoders, for test files in formats that Grento reads but does not write. */
const ENCODERS: Record<
  | 'flac'
  | 'oggFlac'
  | 'mp3'
  | 'mp3Ffmpeg'
  | 'mp3FfmpegChanging'
  | 'ogg'
  | 'opus'
  | 'm4a'
  | 'm4aNoEdits'
  | 'mp3Plain'
  | 'mp3Changing',
  (wav: string, out: string) => [program: string, args: string[]]
> = {
  flac: (wav: string, out: string) => ['flac', ['--silent', '-o', out, wav]],
  mp3: (wav: string, out: string) => ['lame', ['--quiet', '-b', '192', wav, out]],
  /** Without the gapless statement in its first frame. */
  mp3Changing: (wav: string, out: string) => ['lame', ['--quiet', '-V', '3', wav, out]],
  mp3Plain: (wav: string, out: string) => ['lame', ['--quiet', '-t', '-b', '192', wav, out]],
  mp3Ffmpeg: (wav: string, out: string) => [
    'ffmpeg',
    ['-v', 'error', '-y', '-i', wav, '-b:a', '128k', '-f', 'mp3', out],
  ],
  mp3FfmpegChanging: (wav: string, out: string) => [
    'ffmpeg',
    ['-v', 'error', '-y', '-i', wav, '-q:a', '3', '-f', 'mp3', out],
  ],
  m4a: (wav: string, out: string) => [
    'ffmpeg',
    ['-v', 'error', '-y', '-i', wav, '-c:a', 'aac', '-b:a', '160k', '-f', 'mp4', out],
  ],
  m4aNoEdits: (wav: string, out: string) => [
    'ffmpeg',
    ['-v', 'error', '-y', '-i', wav, '-c:a', 'aac', '-b:a', '160k', '-use_editlist', '0', '-f', 'mov', out],
  ],
  oggFlac: (wav: string, out: string) => ['flac', ['--silent', '--ogg', '-o', out, wav]],
  ogg: (wav: string, out: string) => ['oggenc', ['--quiet', '-q', '6', '-o', out, wav]],
  opus: (wav: string, out: string) => ['opusenc', ['--quiet', '--bitrate', '160', wav, out]],
};

export type Encoded = keyof typeof ENCODERS;

/** Encodes the bytes of a WAV file. */
export function encoded(wav: Uint8Array, as: Encoded): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), 'grento-test-'));
  try {
    const input = join(folder, 'in.wav');
    const output = join(folder, `out.${as}`);
    writeFileSync(input, wav);
    const [program, args] = ENCODERS[as](input, output);
    execFileSync(program, args, { stdio: 'ignore' });
    return new Uint8Array(readFileSync(output));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
