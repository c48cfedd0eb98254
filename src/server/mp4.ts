import { plural } from '@/words/plural';
import { spawn } from 'node:child_process';
import { rm } from 'node:fs/promises';
import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import { UndecodableError } from '@/core/formats/audioFormat';
import { LONGEST_SECONDS, tooLong } from '@/core/formats/decode';
import { lostWords } from '@/core/formats/placing';
import { temporaryFolder } from './temporary';

/** Frames of sound in a packet of AAC, plain and with a rate of its own for what is high. */
const AAC_PACKETS = [1024, 2048];
/** Encoder's delay and padding together are shorter, frames. */
const MOST_PADDING = 8192;

const NO_PROGRAM =
  'MP4 files are decoded by the program ffmpeg, which is not installed. Please run: sudo apt-get install -y ffmpeg';
const NOTHING = 'No audio could be decoded from this MP4 file; it is damaged or empty.';
/** A gap in the times of frames longer than this is filled with silence, seconds. */
const SHORTEST_GAP = 0.005;

/** The sound of an MP4 file; what it says of itself is known once `flac` has been read. */
export interface Mp4Sound {
  flac: AsyncGenerator<Uint8Array>;
  /** Seconds by its own tables, without the encoder's delay and padding; null where they are not said. */
  claimed: () => number | null;
  /** What is missing from `seconds` that were decoded, in sentences for the user. */
  words: (seconds: number) => string[];
}

/**
 * Decodes the first sound track of an MP4 file to FLAC of 24 bits, with Debian's ffmpeg as a program of its
 * own. The encoder's delay and padding are taken off by the edit list and the tables, or by the field that some
 * encoders write for it; silence stands for frames that are damaged. `source` is a path, or
 * bytes that are put into a temporary file (the table of an MP4 often stands at its end). Reading throws
 * UndecodableError with a sentence for the user.
 */
export function openMp4(source: string | AsyncIterable<Uint8Array>): Mp4Sound {
  let claimed: number | null = null;
  let isBelieved = true;
  let damaged = 0;

  async function* flac(): AsyncGenerator<Uint8Array> {
    const folder = await temporaryFolder();
    try {
      let path = typeof source === 'string' ? source : join(folder, 'in.mp4');
      if (typeof source !== 'string') await pipeline(Readable.from(source), createWriteStream(path));
      else if (path.startsWith('-')) path = `./${path}`;
      const span = await spanOf(path);
      if (span) ({ isBelieved } = span);
      claimed = span && span.frames / span.rate;
      if (claimed !== null && claimed > LONGEST_SECONDS) throw tooLong(claimed);
      const trim = span?.isBelieved ? `,atrim=end_sample=${span.frames}` : '';
      const child = run('ffmpeg', [
        ...['-v', 'error', '-nostdin', '-i', path, '-map', '0:a:0', '-vn'],
        ...['-af', `aresample=async=1:min_hard_comp=${SHORTEST_GAP}${trim}`, '-t', `${LONGEST_SECONDS + 1}`],
        ...['-c:a', 'flac', '-sample_fmt', 's32', '-f', 'flac', '-'],
      ]);
      try {
        let bytes = 0;
        for await (const part of child.out) {
          bytes += (part as Buffer).length;
          yield part as Buffer;
        }
        const { failed, said } = await child.ended;
        damaged = said.split('\n').filter((line) => /error|invalid|corrupt/i.test(line)).length;
        if (failed && bytes === 0)
          throw new UndecodableError(
            /matches no streams/.test(said) ? 'This MP4 file holds no sound.' : NOTHING,
          );
      } finally {
        child.kill();
      }
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  function words(seconds: number): string[] {
    const found = lostWords([], seconds, claimed);
    if (damaged > 0)
      found.unshift(
        `${damaged} damaged ${plural(damaged, 'place')} could not be decoded; they are silent or missing.`,
      );
    if (!isBelieved && found.length === 0)
      found.push(
        `Its tables disagree about its length: ${(claimed ?? 0).toFixed(2)} s or ${seconds.toFixed(2)} s. It may end with encoder padding.`,
      );
    return found;
  }
  return { flac: flac(), claimed: () => claimed, words };
}

const probed = z.object({
  streams: z
    .array(
      z.object({
        sample_rate: z.coerce.number().int().positive(),
        time_base: z.templateLiteral(['1/', z.number()]),
        duration_ts: z.number().int().positive().optional(),
        codec_name: z.string().optional(),
        nb_frames: z.coerce.number().int().positive().optional(),
      }),
    )
    .max(1),
  format: z.object({ tags: z.record(z.string(), z.string()).optional() }).optional(),
});

/** What the tables of a file say of its sound, in frames; null where they say nothing that can be true. */
async function spanOf(path: string): Promise<{ frames: number; rate: number; isBelieved: boolean } | null> {
  const child = run('ffprobe', [
    ...['-v', 'quiet', '-select_streams', 'a:0', '-of', 'json'],
    ...[
      '-show_entries',
      'stream=codec_name,sample_rate,time_base,duration_ts,nb_frames:format_tags=iTunSMPB',
      path,
    ],
  ]);
  let said = '';
  for await (const part of child.out) said += String(part);
  await child.ended;
  const parsed = probed.safeParse(JSON.parse(said || '{}'));
  const stream = parsed.success ? parsed.data.streams[0] : undefined;
  if (!parsed.success || !stream) return null;
  const { sample_rate: rate, nb_frames: packets, codec_name: codec } = stream;
  // Delay, padding and length in hexadecimal. The decoder has taken the delay off when it knows the field.
  const field = Object.values(parsed.data.format?.tags ?? {})[0];
  const [, , , length] =
    field
      ?.trim()
      .split(/\s+/)
      .map((part) => parseInt(part, 16)) ?? [];
  const perSecond = Number(stream.time_base.slice(2));
  const ticks = stream.duration_ts === undefined ? null : Math.round((stream.duration_ts * rate) / perSecond);
  const frames = length > 0 ? length : ticks;
  if (frames === null) return null;
  // Delay and padding are a few packets; what the tables leave out beyond that is a damaged number, or was cut by hand.
  const isBelieved =
    codec !== 'aac' ||
    packets === undefined ||
    AAC_PACKETS.some((size) => frames <= packets * size && frames > packets * size - MOST_PADDING);
  return { frames, rate, isBelieved };
}

/** A program with its output and, in the end, whether it failed and what it said. Throws when it is not installed. */
function run(program: string, args: string[]) {
  const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  child.stderr.on('data', (part: Buffer) => (said = (said + part.toString()).slice(-20_000)));
  const ended = new Promise<number | Error | null>((resolve) => {
    child.on('error', resolve);
    child.on('close', resolve);
  }).then((end) => {
    if (end instanceof Error) throw new UndecodableError(NO_PROGRAM);
    return { failed: end !== 0, said };
  });
  // It is asked for only once the output has ended.
  ended.catch(() => {});
  return { out: child.stdout, ended, kill: () => child.kill() };
}
