import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import { decodeAudio } from '../../src/core/formats/decode';
import { createListener, type Heard } from '../../src/core/measurement/listening';
import { feltBeatsPerBar } from '../../src/core/rhythm/grid';
import { ANALYSIS_RATE } from '../../src/core/rhythm/onsetFeatures';
import { mixToMono } from '../../src/core/signal/pcm';
import { createResampler, type Resampler } from '../../src/core/signal/resample';
import { practicePiece } from './practice';
import { practiceOneShot } from './practiceOneShots';

/** One line of a truth file. Times in seconds. */
export interface Truth {
  id: string;
  file: string;
  group?: string;
  piece?: string;
  kind: string;
  variant?: string;
  source?: string;
  bpm: number | null;
  bpmAlt?: number[] | null;
  beats?: number[] | null;
  downbeats?: number[] | null;
  meter?: { beatsPerBar: number; beatUnit: number } | null;
  beatsPerBar?: number | null;
  beatUnit?: number | null;
  bars?: number | null;
  loopStart?: number | null;
  loopEnd?: number | null;
  key?: { tonic: string; mode: 'major' | 'minor' } | null;
  keyUnknown?: boolean;
  /** False where the tempo moves. */
  tempoConstant?: boolean;
  rootNote?: unknown;
}

/** Felt beats in a bar of the truth, or null where it is not known. */
export function feltSizeOf(truth: Truth): number | null {
  const meter =
    truth.meter ??
    (truth.beatsPerBar && truth.beatUnit
      ? { beatsPerBar: truth.beatsPerBar, beatUnit: truth.beatUnit }
      : null);
  return meter && feltBeatsPerBar(meter);
}

/** Items that belong together in cross-validation: made of the same piece. */
export const groupOf = (truth: Truth) => truth.group ?? truth.piece ?? truth.id;

export function readTruth(file: string): (Truth & { path: string })[] {
  return readFileSync(file, 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Truth)
    .map((truth) => ({ ...truth, path: join(dirname(file), truth.file) }))
    .filter(({ path }) => !path.endsWith('.mid') && existsSync(path));
}

/** Keeps what was heard under `name` in the folder `keep` for the next run, when that is given. */
async function kept(keep: string | null, name: string, make: () => Promise<Heard>): Promise<Heard> {
  const path = keep && join(keep, `${name}.heard`);
  if (path && existsSync(path)) return deserialize(readFileSync(path)) as Heard;
  const heard = await make();
  if (path) {
    mkdirSync(keep, { recursive: true });
    // Copies without the spare room of growing arrays.
    heard.features.levelDb = heard.features.levelDb.slice();
    heard.envelope.steps = heard.envelope.steps.slice();
    writeFileSync(path, serialize(heard));
  }
  return heard;
}

/** Decodes and listens to a file. */
export function hear(path: string, keep: string | null): Promise<Heard> {
  return kept(keep, createHash('sha1').update(path).digest('hex'), async () => {
    let resampler: Resampler | null = null;
    const listener = createListener();
    await decodeAudio(createReadStream(path), (block, rate) => {
      resampler ??= createResampler(rate, ANALYSIS_RATE);
      listener.push(resampler.push(mixToMono(block)));
    });
    listener.push(resampler!.finish());
    return listener.finish();
  });
}

/** Makes and hears a practice piece; its truth is cheap enough to be made again. */
export async function hearPractice(
  seed: number,
  keep: string | null,
): Promise<{ truth: Truth; heard: Heard }> {
  const made = keep && join(keep, `practice-${seed}.json`);
  let truth: Truth | null =
    made && existsSync(made) ? (JSON.parse(readFileSync(made, 'utf8')) as Truth) : null;
  const heard = await kept(keep, `practice-${seed}`, async () => {
    const piece = practicePiece(seed);
    truth = piece.truth;
    if (made) {
      mkdirSync(keep, { recursive: true });
      writeFileSync(made, JSON.stringify(truth));
    }
    const listener = createListener();
    listener.push(piece.samples);
    return listener.finish();
  });
  return { truth: truth ?? practicePiece(seed).truth, heard };
}

/** Makes and hears a practice one-shot. */
export async function hearPracticeOneShot(
  seed: number,
  keep: string | null,
): Promise<{ truth: Truth; heard: Heard }> {
  const heard = await kept(keep, `practice-oneshot-${seed}`, async () => {
    const listener = createListener();
    listener.push(practiceOneShot(seed));
    return listener.finish();
  });
  const truth = {
    id: `O${seed}`,
    file: '',
    kind: 'oneshot',
    variant: 'practice',
    bpm: null,
    keyUnknown: true,
  };
  return { truth, heard };
}
