import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { decodeAudio } from '../src/core/formats/decode';
import { encodeAiff } from '../src/core/formats/encodeAiff';
import { encodeWave } from '../src/core/formats/encodeWave';
import { randomFrom } from '../src/demo/random';
import { md5 } from '../src/server/md5';
import { openMp4 } from '../src/server/mp4';

const HELP = `npm run bench:damage -- [--count N] [--seed N] [--only WORDS]

Damages recordings of all formats behind their heads and decodes them. For each format and kind of damage it says how many of the
damages that can be heard were told of, and of how many the sound behind the damage stands where it stood, to the sample.`;

const RATE = 44_100;
const SECONDS = 12;
/** What differs by more than this can be heard. */
const AUDIBLE = 0.02;
/** The head of a file, whose damage is another matter, bytes. */
const HEAD = 6000;

/** Struck tones and noise, of which no second is like another. */
function recording(): Float32Array {
  const random = randomFrom(11);
  const sound = new Float32Array(RATE * SECONDS);
  for (let at = 0; at < sound.length; at += Math.floor(RATE * (0.1 + 0.2 * random()))) {
    const step = 0.02 + 0.15 * random();
    const noise = random() < 0.4;
    for (let i = 0; i < RATE / 3 && at + i < sound.length; i++)
      sound[at + i] += 0.4 * Math.exp(-i / 4000) * (noise ? random() * 2 - 1 : Math.sin(i * step));
  }
  for (let i = 0; i < sound.length; i++) sound[i] += 0.02 * (random() - 0.5);
  return sound;
}

function files(): Map<string, Uint8Array> {
  const sound = recording();
  const wav = encodeWave([sound, sound], RATE, 16);
  const folder = mkdtempSync(join(tmpdir(), 'grento-damage-'));
  const input = join(folder, 'in.wav');
  writeFileSync(input, wav);
  const made = (name: string, program: string, ...args: string[]) => {
    const out = join(folder, name);
    execFileSync(program, [...args.map((one) => (one === 'IN' ? input : one)), out], { stdio: 'ignore' });
    return new Uint8Array(readFileSync(out));
  };
  const ffmpeg = (name: string, ...args: string[]) =>
    made(name, 'ffmpeg', '-v', 'error', '-y', '-i', 'IN', ...args);
  try {
    return new Map([
      ['wav', wav],
      ['aiff', encodeAiff([sound, sound], RATE, 24)],
      ['flac', ffmpeg('a.flac')],
      ['ogg flac', ffmpeg('a.oga', '-c:a', 'flac', '-f', 'ogg')],
      ['mp3 lame constant', made('a.mp3', 'lame', '--quiet', '-b', '128', 'IN')],
      ['mp3 lame changing', made('b.mp3', 'lame', '--quiet', '-V', '3', 'IN')],
      ['mp3 lame bare', made('c.mp3', 'lame', '--quiet', '-t', '-b', '128', 'IN')],
      ['mp3 ffmpeg constant', ffmpeg('d.mp3', '-b:a', '128k')],
      ['mp3 ffmpeg changing', ffmpeg('e.mp3', '-q:a', '3')],
      ['mp3 ffmpeg bare', ffmpeg('f.mp3', '-b:a', '128k', '-write_xing', '0')],
      ['vorbis', ffmpeg('a.ogg', '-c:a', 'libvorbis')],
      ['opus', ffmpeg('a.opus', '-c:a', 'libopus')],
      ['mp4', ffmpeg('a.m4a', '-c:a', 'aac', '-movflags', '+faststart', '-f', 'mp4')],
    ]);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

type Damage = (bytes: Uint8Array, at: number, random: () => number) => Uint8Array;
const burst =
  (most: number): Damage =>
  (bytes, at, random) => {
    const copy = bytes.slice();
    const to = Math.min(bytes.length, at + 1 + Math.floor(most * random()));
    for (let i = at; i < to; i++) copy[i] = Math.floor(256 * random());
    return copy;
  };
const DAMAGES: Record<string, Damage> = {
  'a bit': (bytes, at, random) => {
    const copy = bytes.slice();
    copy[at] ^= 1 << Math.floor(8 * random());
    return copy;
  },
  'a burst': burst(4000),
  noughts: (bytes, at, random) => {
    const copy = bytes.slice();
    copy.fill(0, at, at + 1 + Math.floor(4000 * random()));
    return copy;
  },
  '300 to 500 bytes cut out': (bytes, at, random) => cut(bytes, at, 300 + Math.floor(200 * random())),
  'up to 8000 bytes cut out': (bytes, at, random) => cut(bytes, at, 1 + Math.floor(8000 * random())),
  'cut off': (bytes, at) => bytes.slice(0, at),
};
const cut = (bytes: Uint8Array, at: number, count: number) =>
  Uint8Array.from(Buffer.concat([bytes.subarray(0, at), bytes.subarray(at + count)]));

async function decoded(bytes: Uint8Array, isMp4: boolean) {
  const blocks: Float32Array[] = [];
  async function* whole() {
    yield bytes;
  }
  const sound = isMp4 ? openMp4(whole()) : null;
  const parts: Uint8Array[] = [];
  if (sound) for await (const part of sound.flac) parts.push(part);
  const given = sound ? Buffer.concat(parts) : bytes;
  const audio = await decodeAudio(
    async function* () {
      yield given;
    },
    (block) => blocks.push(block[0].slice()),
    { md5, byteLength: given.length, ...(sound && { claimed: sound.claimed }) } as never,
  );
  const warnings = [...audio.warnings, ...(sound ? sound.words(audio.frames / audio.sampleRate) : [])];
  const samples = new Float32Array(blocks.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const block of blocks) {
    samples.set(block, at);
    at += block.length;
  }
  return { samples, warnings };
}

const differs = (a: Float32Array, b: Float32Array, from: number, to: number) => {
  for (let n = from; n < to; n++) if (Math.abs((a[n] ?? 0) - (b[n] ?? 0)) > AUDIBLE) return true;
  return false;
};

const { values } = parseArgs({
  options: {
    count: { type: 'string' },
    seed: { type: 'string' },
    only: { type: 'string' },
    help: { type: 'boolean' },
  },
});
if (values.help) {
  console.log(HELP);
  process.exit(0);
}
const count = Number(values.count ?? 10);
const random = randomFrom(Number(values.seed ?? 1));
const total = { audible: 0, told: 0, behind: 0, right: 0 };
console.log('format and damage'.padEnd(48), 'heard  told   behind  right');
for (const [format, bytes] of files()) {
  if (values.only && !format.includes(values.only)) continue;
  const whole = (await decoded(bytes, format === 'mp4')).samples;
  for (const [words, damage] of Object.entries(DAMAGES)) {
    const sum = { audible: 0, told: 0, behind: 0, right: 0 };
    for (let i = 0; i < count; i++) {
      // Sound stands behind it for two seconds and more.
      const at = HEAD + Math.floor((bytes.length * 0.8 - HEAD) * random());
      const { samples, warnings } = await decoded(damage(bytes, at, random), format === 'mp4').catch(
        (error: Error) => ({ samples: new Float32Array(0), warnings: [error.message] }),
      );
      const end = Math.floor(whole.length * 0.92);
      if (!differs(whole, samples, 0, whole.length) && Math.abs(samples.length - whole.length) < 64) continue;
      sum.audible++;
      if (warnings.length > 0) sum.told++;
      if (words === 'cut off' || samples.length === 0) continue;
      sum.behind++;
      // Coders settle within some frames.
      if (!differs(whole, samples, end, whole.length - RATE / 4)) sum.right++;
    }
    for (const key of Object.keys(total) as (keyof typeof total)[]) total[key] += sum[key];
    console.log(
      `${format}: ${words}`.padEnd(48),
      `${sum.audible}`.padEnd(6),
      `${sum.told}`.padEnd(6),
      `${sum.behind}`.padEnd(7),
      sum.right,
    );
  }
}
console.log(
  `told of ${total.told} of ${total.audible} that can be heard (${((100 * total.told) / total.audible).toFixed(1)} %); ` +
    `in place behind ${total.right} of ${total.behind} (${((100 * total.right) / total.behind).toFixed(1)} %)`,
);
