import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { UndecodableError } from '../../src/core/formats/audioFormat';
import { encodeAiff } from '../../src/core/formats/encodeAiff';
import { encodeWave } from '../../src/core/formats/encodeWave';
import { SNIFF_BYTES, sniffType } from '../../src/core/formats/sniff';
import { measureStream } from '../../src/core/measurement/measureStream';
import { readEmbedded } from '../../src/server/embeddedTags';
import { md5 } from '../../src/server/md5';
import { openMp4 } from '../../src/server/mp4';
import { rehearsalPiano } from '../../src/demo/performance';

interface Seed {
  format: string;
  bytes: Uint8Array;
  /** Frames of the whole file, null where they are no measure (MIDI is played). */
  frames: number | null;
  rate: number;
  /** Whether nothing in the file says how long it is. */
  cutIsUnseen: boolean;
}

const RATE = 22050;
const FRAMES = 3 * RATE;

/** A small file of each format: three seconds of struck tones. */
export async function seedFiles(): Promise<Seed[]> {
  const sound = new Float32Array(FRAMES);
  for (let hit = 0; hit < 12; hit++)
    for (let i = 0; i < 5000 && hit * 5512 + i < FRAMES; i++)
      sound[hit * 5512 + i] +=
        0.5 * Math.exp(-i / 900) * Math.sin(i * (0.05 + 0.02 * (hit % 3)) + hit * i * i * 1e-6);
  const wav = encodeWave([sound, sound], RATE, 16);
  const folder = mkdtempSync(join(tmpdir(), 'grento-fuzz-'));
  const file = join(folder, 'in.wav');
  writeFileSync(file, wav);
  const made = (name: string, program: string, args: (out: string) => string[]) => {
    const out = join(folder, name);
    execFileSync(program, args(out), { stdio: 'ignore' });
    return new Uint8Array(readFileSync(out));
  };
  const ffmpeg = (name: string, ...args: string[]) =>
    made(name, 'ffmpeg', (out) => ['-v', 'error', '-y', '-i', file, ...args, out]);
  const seed = (format: string, bytes: Uint8Array, frames: number | null = FRAMES, rate = RATE): Seed => ({
    format,
    bytes,
    frames,
    rate,
    cutIsUnseen: format === 'mp3 plain',
  });
  try {
    return [
      seed('wav', wav),
      seed('wav float', encodeWave([sound], RATE, '32f')),
      seed('aiff', encodeAiff([sound, sound], RATE, 24)),
      seed(
        'flac',
        made('a.flac', 'flac', (out) => ['--silent', '-o', out, file]),
      ),
      seed('ogg flac', ffmpeg('a.oga', '-c:a', 'flac', '-f', 'ogg')),
      seed(
        'mp3',
        made('a.mp3', 'lame', (out) => ['--quiet', '-b', '96', file, out]),
      ),
      seed(
        'mp3 plain',
        made('b.mp3', 'lame', (out) => ['--quiet', '-t', '-b', '96', file, out]),
      ),
      seed(
        'vorbis',
        made('a.ogg', 'oggenc', (out) => ['--quiet', '-q', '4', '-o', out, file]),
      ),
      seed(
        'opus',
        made('a.opus', 'opusenc', (out) => ['--quiet', '--bitrate', '64', file, out]),
        3 * 48000,
        48000,
      ),
      seed('mp4', ffmpeg('a.m4a', '-c:a', 'aac', '-movflags', '+faststart', '-f', 'mp4')),
      seed('midi', rehearsalPiano().bytes, null),
    ];
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Damages a copy of some bytes in one of many ways. */
export function mutated(
  bytes: Uint8Array,
  random: () => number,
): { bytes: Uint8Array; words: string; isCut: boolean } {
  const whole = (below: number) => Math.floor(random() * below);
  const place = () => whole(bytes.length);
  const copy = bytes.slice();
  const from = place();
  const length = 1 + whole(Math.min(6000, bytes.length - from));
  switch (whole(9)) {
    case 0:
      copy[from] ^= 1 << whole(8);
      return { bytes: copy, words: `a bit at ${from}`, isCut: false };
    case 1:
      for (let i = 0; i < 12; i++) copy[place()] = whole(256);
      return { bytes: copy, words: 'twelve bytes', isCut: false };
    case 2:
      return { bytes: copy.subarray(0, from), words: `cut at ${from}`, isCut: true };
    case 3:
      return {
        bytes: joined(copy.subarray(0, from), copy.subarray(from + length)),
        words: `${length} taken out at ${from}`,
        isCut: true,
      };
    case 4:
      copy.fill(0, from, from + length);
      return { bytes: copy, words: `${length} noughts at ${from}`, isCut: false };
    case 5: {
      const junk = Uint8Array.from({ length }, () => whole(256));
      return {
        bytes: joined(copy.subarray(0, from), junk, copy.subarray(from)),
        words: `${length} put in`,
        isCut: false,
      };
    }
    case 6: {
      const at = whole(Math.min(120, copy.length));
      copy[at] = whole(256);
      return { bytes: copy, words: `a byte of the head at ${at}`, isCut: false };
    }
    case 7: {
      const at = whole(Math.min(200, copy.length - 4));
      copy.set(
        [
          [0xff, 0xff, 0xff, 0xff],
          [0x7f, 0xff, 0xff, 0xff],
          [0, 0, 0, 0],
        ][whole(3)],
        at,
      );
      return { bytes: copy, words: `a number of the head at ${at}`, isCut: false };
    }
    default:
      for (let i = from; i < Math.min(bytes.length, from + length); i++) copy[i] = whole(256);
      return { bytes: copy, words: `${length} of noise at ${from}`, isCut: false };
  }
}

function joined(...parts: Uint8Array[]): Uint8Array {
  return Uint8Array.from(Buffer.concat(parts));
}

/** What became of a damaged file. */
export interface Tried {
  frames: number | null;
  /** The sentence with which it was refused. */
  error: string | null;
  warnings: string[];
  /** Something other than a refusal was thrown. */
  crash: string | null;
  milliseconds: number;
}

/** Does with a file what is done with one that has arrived. */
export async function tried(bytes: Uint8Array): Promise<Tried> {
  const begun = performance.now();
  const answer: Tried = { frames: null, error: null, warnings: [], crash: null, milliseconds: 0 };
  async function* open() {
    for (let at = 0; at < bytes.length; at += 65536) yield bytes.subarray(at, at + 65536);
  }
  try {
    const mp4 = sniffType(bytes.subarray(0, SNIFF_BYTES)).format === 'mp4' ? openMp4(open()) : null;
    const { audio } = await measureStream(() => mp4?.flac ?? open(), {
      claimed: mp4?.claimed,
      traced: true,
      byteLength: bytes.length,
      md5,
    });
    answer.frames = audio.frames;
    answer.warnings = [...audio.warnings, ...(mp4?.words(audio.frames / audio.sampleRate) ?? [])];
    await readEmbedded(
      async function* (from, to) {
        yield bytes.subarray(from, to);
      },
      mp4 ? 'mp4' : audio.format,
      bytes.length,
      audio.sampleRate,
    );
  } catch (error) {
    if (error instanceof UndecodableError) answer.error = error.message;
    else answer.crash = (error as Error).stack ?? String(error);
  }
  answer.milliseconds = performance.now() - begun;
  return answer;
}

const INSIDE =
  /\b(undefined|null|NaN|memory access|out of bounds|Cannot read|is not a function|unreachable|RangeError|TypeError|offset|RuntimeError|wasm|Invalid array length)\b|Error:/;

/** Whether words are for people: a sentence, with nothing from inside of a decoder or parser. */
export const isUserWord = (words: string): boolean => !INSIDE.test(words) && /^[A-Z0-9“].*[.)]$/s.test(words);
