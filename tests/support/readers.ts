import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import { promisify } from 'node:util';
import { parseMidi } from 'midi-file';

const run = promisify(execFile);

/** A file as Debian's ffprobe reads it: nothing of it is read by code of our own. */
export interface Probed {
  seconds: number;
  sampleRate: number;
  channels: number;
  frames: number;
  /** Tags by their names in capitals. */
  tags: Record<string, string>;
}

/** Lets `work` have the bytes as a file with that ending. */
async function asFile<T>(name: string, bytes: Uint8Array, work: (path: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'grento-read-'));
  try {
    const path = join(folder, `file${extname(name)}`);
    await writeFile(path, bytes);
    return await work(path);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Reads a sound file with ffprobe. */
export const probed = (name: string, bytes: Uint8Array): Promise<Probed> =>
  asFile(name, bytes, async (path) => {
    const { stdout } = await run('ffprobe', [
      '-v',
      'error',
      '-show_format',
      '-show_streams',
      '-of',
      'json',
      path,
    ]);
    const { format, streams } = JSON.parse(stdout) as {
      format: { duration: string; tags?: Record<string, string> };
      streams: {
        sample_rate: string;
        channels: number;
        duration_ts: number;
        tags?: Record<string, string>;
      }[];
    };
    const [stream] = streams;
    const all = Object.entries({ ...stream.tags, ...format.tags });
    return {
      ...{ seconds: Number(format.duration), sampleRate: Number(stream.sample_rate) },
      ...{ channels: stream.channels, frames: stream.duration_ts },
      tags: Object.fromEntries(all.map(([tag, text]) => [tag.toUpperCase(), text])),
    };
  });

/** Its loudest sample as ffmpeg finds it, dB of full scale. */
export const loudestDb = (name: string, bytes: Uint8Array): Promise<number> =>
  asFile(name, bytes, async (path) => {
    const { stderr } = await run('ffmpeg', ['-i', path, '-af', 'volumedetect', '-f', 'null', '-']);
    return Number(/max_volume: (-?[\d.]+) dB/.exec(stderr)![1]);
  });

/** The checksum of bytes by Debian's own tool. */
export const sha256Of = (bytes: Uint8Array): Promise<string> =>
  asFile('x', bytes, async (path) => (await run('sha256sum', [path])).stdout.split(' ')[0]);

/** Notes of a Standard MIDI File by their seconds, worked out from ticks and tempi alone. */
export function midiNotes(bytes: Uint8Array): { seconds: number; note: number; channel: number }[] {
  const { header, tracks } = parseMidi(bytes);
  const events = tracks
    .flatMap((track) => {
      let tick = 0;
      return track.map((event) => ({ event, tick: (tick += event.deltaTime) }));
    })
    .sort((a, b) => a.tick - b.tick);
  let [seconds, before, beat] = [0, 0, 0.5];
  const notes: { seconds: number; note: number; channel: number }[] = [];
  for (const { event, tick } of events) {
    seconds += ((tick - before) / header.ticksPerBeat!) * beat;
    before = tick;
    if (event.type === 'setTempo') beat = event.microsecondsPerBeat / 1e6;
    if (event.type === 'noteOn' && event.velocity > 0)
      notes.push({ seconds, note: event.noteNumber, channel: event.channel });
  }
  return notes;
}

/** Text frames of an ID3v2.4 tag within a file, by their names. */
export function id3Of(bytes: Uint8Array): Record<string, string> {
  const data = Buffer.from(bytes);
  const from = data.indexOf('ID3\x04', 0, 'latin1');
  if (from < 0) return {};
  const size = (at: number) => [0, 1, 2, 3].reduce((sum, i) => sum * 128 + data[at + i], 0);
  const end = from + 10 + size(from + 6);
  const frames: Record<string, string> = {};
  for (let at = from + 10; at < end && data[at] !== 0;) {
    const name = data.toString('latin1', at, at + 4);
    const length = size(at + 4);
    if (name.startsWith('T'))
      frames[name] = data.toString('utf8', at + 11, at + 10 + length).replace(/\0/g, '');
    at += 10 + length;
  }
  return frames;
}
