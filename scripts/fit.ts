import { createReadStream, readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { z } from 'zod';
import { fitted } from '../src/core/timeStretch/voice';
import { encodeWave } from '../src/core/formats/encodeWave';
import { clearHits } from '../src/core/rhythm/clearHits';
import { measureStream } from '../src/core/measurement/measureStream';
import { decodeWhole } from './lib/decodeWhole';

const HELP = `npm run -s fit -- IN OUT [--ratio R] [--semitones S] [--cents C] [--samples N] [--formants 0|1] [--tape] [--known FILE]

Makes the sample in IN longer or shorter, higher or lower, and writes it to OUT as a WAV of 32-bit floats.

  --ratio R        how many times as long it is to be: 0.25 to 4 (default 1)
  --samples N      exactly so many frames instead
  --semitones S    how much higher, and --cents C besides
  --formants 1     formants stay where they are, as a voice wants it
  --tape           pitch and speed go together
  --known FILE     what is known of it, as JSON: {"attacks": [source frames], "loop": true|false}; without it the
                   file is measured first

Ends with 0, or with 2 and a sentence where something makes no sense or a file is broken.`;

class UseError extends Error {}

const knownSchema = z.object({
  attacks: z.array(z.number()).default([]),
  loop: z.boolean().default(false),
});

function numberOf(name: string, value: string | undefined, usual: number): number {
  if (value === undefined) return usual;
  const number = Number(value);
  if (value.trim() === '' || !Number.isFinite(number))
    throw new UseError(`${name} wants a number; got "${value}"`);
  return number;
}

async function attacksOf(file: string, rate: number) {
  const { measurement } = await measureStream(() => createReadStream(file));
  const { onsets, kind } = measurement;
  return {
    attacks: clearHits(onsets).map((time) => time * rate),
    loop: kind === 'loop',
  };
}

function knownIn(file: string): z.infer<typeof knownSchema> {
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new UseError(`${basename(file)} is no JSON file that can be read: ${(error as Error).message}`);
  }
  const known = knownSchema.safeParse(json);
  if (!known.success) throw new UseError(`${basename(file)}: ${z.prettifyError(known.error)}`);
  return known.data;
}

/** A negative number after an option is its value, not another option. */
function withNegatives(words: readonly string[]): string[] {
  const args: string[] = [];
  for (const word of words) {
    const last = args.length - 1;
    if (/^-[\d.]/.test(word) && /^--\w+$/.test(args[last] ?? '')) args[last] += `=${word}`;
    else args.push(word);
  }
  return args;
}

async function main() {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    args: withNegatives(process.argv.slice(2)),
    options: {
      ratio: { type: 'string' },
      semitones: { type: 'string' },
      cents: { type: 'string' },
      samples: { type: 'string' },
      formants: { type: 'string' },
      tape: { type: 'boolean' },
      known: { type: 'string' },
      help: { type: 'boolean' },
    },
  });
  if (values.help) return console.log(HELP);
  const [input, output] = positionals;
  if (!input || !output || positionals.length > 2) throw new UseError(HELP);
  if (values.formants !== undefined && !['0', '1'].includes(values.formants))
    throw new UseError(`--formants wants 0 or 1; got "${values.formants}"`);
  const ratio = numberOf('--ratio', values.ratio, 1);
  if (!(ratio > 0)) throw new UseError(`--ratio wants a number above 0; got ${ratio}`);
  const semitones = numberOf('--semitones', values.semitones, 0) + numberOf('--cents', values.cents, 0) / 100;
  const known = values.known === undefined ? null : knownIn(values.known);
  const { channels, rate } = await decodeWhole(input);
  const length =
    values.samples === undefined
      ? Math.round(channels[0].length * ratio)
      : numberOf('--samples', values.samples, 0);
  const { attacks, loop } = known ?? (await attacksOf(input, rate));
  const out = fitted(channels, {
    rate,
    length,
    semitones,
    attacks,
    isLoop: loop,
    holdFormants: values.formants === '1',
    tape: values.tape,
  });
  writeFileSync(output, encodeWave(out, rate, '32f'));
}

main().catch((error: Error) => {
  console.error(error.message);
  process.exit(2);
});
