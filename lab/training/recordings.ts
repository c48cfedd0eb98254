import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { deserialize, serialize } from 'node:v8';
import { decodeAudio } from '@/core/formats/decode';
import { createListener, type Heard } from '@/core/measurement/listening';
import { ANALYSIS_RATE } from '@/core/rhythm/onsetFeatures';
import { findOnsets } from '@/core/rhythm/onsets';
import { mixToMono } from '@/core/signal/pcm';
import { createResampler, type Resampler } from '@/core/signal/resample';
import { cutExcerpts, hearSamples } from './excerpts';
import { practicePiece } from './practice';
import { practiceOneShot } from './practiceOneShots';
import { practicePerformance } from './practicePerformances';
import type { Truth } from './truth';

/** Keeps what was heard under `name` in the folder `keep` for the next run, when that is given. */
async function kept(keep: string | null, name: string, make: () => Promise<Heard>): Promise<Heard> {
  const path = keep && join(keep, `${name}.heard`);
  if (path && existsSync(path)) {
    const known = deserialize(readFileSync(path)) as Heard;
    // Where the attacks are is found anew: it costs little, and the rule for it may have changed.
    return { ...known, onsets: findOnsets(known.features, known.envelope) };
  }
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
  return kept(keep, createHash('sha1').update(path).digest('hex'), () =>
    hearFile(() => createReadStream(path)),
  );
}

async function hearFile(open: () => AsyncIterable<Uint8Array>): Promise<Heard> {
  let resampler: Resampler | null = null;
  const listener = createListener();
  await decodeAudio(open, (block, rate) => {
    resampler ??= createResampler(rate, ANALYSIS_RATE);
    listener.push(resampler.push(mixToMono(block)));
  });
  listener.push(resampler!.finish());
  return listener.finish();
}

/** Cuts and hears `count` excerpts of a recording. */
export async function hearExcerpts(
  truth: Truth & { path: string },
  count: number,
  keep: string | null,
): Promise<{ truth: Truth; heard: Heard }[]> {
  const listFile = keep && join(keep, `excerpts-${truth.id}-${count}.json`);
  const known: Truth[] | null =
    listFile && existsSync(listFile) ? (JSON.parse(readFileSync(listFile, 'utf8')) as Truth[]) : null;
  const cut = known ? null : await cutExcerpts(truth, count);
  const truths = known ?? cut!.map((excerpt) => excerpt.truth);
  const all: { truth: Truth; heard: Heard }[] = [];
  for (const [i, one] of truths.entries())
    all.push({
      truth: one,
      heard: await kept(keep, `excerpt-${one.id}`, () => hearSamples(cut![i].samples)),
    });
  if (listFile) writeFileSync(listFile, JSON.stringify(truths));
  return all;
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
    return hearSamples(piece.samples);
  });
  return { truth: truth ?? practicePiece(seed).truth, heard };
}

/** Plays and hears a practice performance, as a file of MIDI. */
export async function hearPracticePerformance(
  seed: number,
  keep: string | null,
): Promise<{ truth: Truth; heard: Heard }> {
  const { truth, bytes } = practicePerformance(seed);
  const heard = await kept(keep, `practice-performance-${seed}`, () =>
    hearFile(() => Readable.from([bytes])),
  );
  return { truth, heard };
}

/** Makes and hears a practice one-shot. */
export async function hearPracticeOneShot(
  seed: number,
  keep: string | null,
): Promise<{ truth: Truth; heard: Heard }> {
  const heard = await kept(keep, `practice-oneshot-${seed}`, () => hearSamples(practiceOneShot(seed)));
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
