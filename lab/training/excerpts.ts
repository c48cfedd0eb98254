import { createReadStream } from 'node:fs';
import { createListener, type Heard } from '@/core/measurement/listening';
import { decodeAudio } from '@/core/formats/decode';
import { pitchClassOf } from '@/core/harmony/keyNames';
import { ANALYSIS_RATE } from '@/core/rhythm/onsetFeatures';
import { mixToMono } from '@/core/signal/pcm';
import { createResampler } from '@/core/signal/resample';
import { randomFrom } from '@/demo/random';
import { master } from './production';
import { NAMES, groupOf, type Truth } from './truth';

/** Rates are rounded to this, so that the resampler's table stays small. */
const RATE_STEP = 50;

/** How many of them are made as loud and dense as finished recordings. */
const MASTERED = 0.4;

/** A stretch of a recording, played faster or slower, that counts as a recording of its own. */
export interface Excerpt {
  truth: Truth;
  samples: Float32Array;
}

/**
 * Cuts `count` excerpts out of a recording with known truth: played up to two semitones higher or lower, and
 * of long ones another stretch, or a loop of whole bars with its edges exact, rough, with pickup or tail. What
 * a corpus is made of is few pieces; other cuts of them show the same music in places and at speeds that
 * their truth follows exactly. Some are mastered again.
 */
export async function cutExcerpts(truth: Truth & { path: string }, count: number): Promise<Excerpt[]> {
  const random = randomFrom(Array.from(truth.id).reduce((sum, c) => sum * 31 + c.charCodeAt(0), 7));
  const excerpts: Excerpt[] = [];
  for (let i = 0; i < count; i++) {
    const semitones = [-2, -1, 1, 2, 0][Math.floor(random() * 5)];
    const ratio = 2 ** ((semitones + (random() - 0.5) * 0.4) / 12);
    const played = await decodeAt(truth.path, ratio);
    const faster = playedAt(truth, played.ratio, semitones);
    const made = truth.kind === 'oneshot' ? whole(faster, played.samples) : cut(faster, played.samples);
    if (random() < MASTERED) master(made.samples, ANALYSIS_RATE, random);
    made.truth.id = `${truth.id}~${i}`;
    made.truth.group = groupOf(truth);
    excerpts.push(made);
  }
  return excerpts;

  function cut(of: Truth, samples: Float32Array): Excerpt {
    const seconds = samples.length / ANALYSIS_RATE;
    if (canLoop(of) && random() < 0.6) {
      const loop = cutLoop(of, samples, random);
      if (loop) return loop;
    }
    if (seconds < 30) return whole(of, samples);
    const length = Math.min(seconds, random() < 0.6 ? 42 + 30 * random() : 18 + 20 * random());
    const start = random() * (seconds - length);
    return stretch(of, samples, start, start + length);
  }
}

export async function hearSamples(samples: Float32Array): Promise<Heard> {
  const listener = createListener();
  listener.push(samples);
  return listener.finish();
}

/** The mono mix at ANALYSIS_RATE, played about `ratio` times as fast; says how fast exactly. */
async function decodeAt(path: string, ratio: number): Promise<{ samples: Float32Array; ratio: number }> {
  const parts: Float32Array[] = [];
  let exact = ratio;
  let resampler: ReturnType<typeof createResampler> | null = null;
  await decodeAudio(
    () => createReadStream(path),
    (block, rate) => {
      if (!resampler) {
        const pretended = Math.round((rate * ratio) / RATE_STEP) * RATE_STEP;
        exact = pretended / rate;
        resampler = createResampler(pretended, ANALYSIS_RATE);
      }
      parts.push(resampler.push(mixToMono(block)));
    },
  );
  parts.push(resampler!.finish());
  const samples = new Float32Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    samples.set(part, at);
    at += part.length;
  }
  return { samples, ratio: exact };
}

function playedAt(truth: Truth, ratio: number, semitones: number): Truth {
  const scaled = (time: number) => time / ratio;
  return {
    ...truth,
    bpm: truth.bpm && truth.bpm * ratio,
    bpmAlt: truth.bpmAlt?.map((bpm) => bpm * ratio),
    beats: truth.beats?.map(scaled),
    downbeats: truth.downbeats?.map(scaled),
    loopStart: truth.loopStart == null ? truth.loopStart : scaled(truth.loopStart),
    loopEnd: truth.loopEnd == null ? truth.loopEnd : scaled(truth.loopEnd),
    key: truth.key && {
      tonic: NAMES[(pitchClassOf(truth.key.tonic.replace(/^([A-G][#b]?).*/, '$1'))! + semitones + 12) % 12],
      mode: truth.key.mode,
    },
  };
}

const whole = (truth: Truth, samples: Float32Array): Excerpt => ({ truth: { ...truth }, samples });

/** What stands between two times, seconds; bounds of a loop are no longer known then. */
function stretch(truth: Truth, samples: Float32Array, from: number, to: number): Excerpt {
  const inside = (times?: number[] | null) =>
    times?.filter((time) => time >= from - 0.001 && time < to).map((time) => time - from);
  return {
    truth: {
      ...truth,
      beats: inside(truth.beats),
      downbeats: inside(truth.downbeats),
      loopStart: null,
      loopEnd: null,
      bars: null,
      // A part of a piece may stand in another key than the whole.
      key: null,
      keyUnknown: true,
    },
    samples: samples.slice(Math.round(from * ANALYSIS_RATE), Math.round(to * ANALYSIS_RATE)),
  };
}

const canLoop = ({ downbeats, tempoConstant, kind }: Truth) =>
  (downbeats?.length ?? 0) > 3 && tempoConstant !== false && kind !== 'vocal' && kind !== 'loop';

/** A loop of one, two, four or eight bars, cut as people cut; null where the bars are not of one length. */
function cutLoop(truth: Truth, samples: Float32Array, random: () => number): Excerpt | null {
  const downbeats = truth.downbeats!;
  const counts = [1, 2, 2, 4, 4, 8].filter((bars) => bars < downbeats.length);
  const bars = counts[Math.floor(random() * counts.length)];
  const first = Math.floor(random() * (downbeats.length - bars));
  const [start, end] = [downbeats[first], downbeats[first + bars]];
  const bar = (end - start) / bars;
  const regular = Array.from({ length: bars }, (_, i) => downbeats[first + i + 1] - downbeats[first + i]);
  if (regular.some((length) => Math.abs(length / bar - 1) > 0.02) || end - start < 1.2) return null;
  const beat = truth.bpm ? 60 / truth.bpm : bar / 4;
  const variant = ['exact', 'exact', 'rough', 'rough', 'pickup', 'tail'][Math.floor(random() * 6)];
  const before = variant === 'rough' ? 0.01 + 0.35 * random() : variant === 'pickup' ? beat : 0;
  const after = variant === 'rough' ? 0.05 + 1.1 * random() : variant === 'tail' ? 0.8 + 1.5 * random() : 0;
  const made = stretch(truth, samples, start - before, end + after);
  const edge = Math.round(before * ANALYSIS_RATE);
  const loopEnd = Math.round((before + end - start) * ANALYSIS_RATE);
  if (start - before < 0) return null;
  // Silence before it, or what was played.
  if (variant === 'rough' && random() < 0.5) made.samples.fill(0, 0, edge);
  // A tail rings out: what follows is faded.
  if (variant === 'tail' || (variant === 'rough' && random() < 0.5))
    for (let i = loopEnd; i < made.samples.length; i++)
      made.samples[i] *= Math.exp((-5 * (i - loopEnd)) / (0.6 * ANALYSIS_RATE));
  return {
    samples: made.samples,
    truth: {
      ...made.truth,
      kind: 'loop',
      variant,
      beats: made.truth.beats?.filter((time) => time >= before - 0.02 && time < before + end - start - 0.02),
      downbeats: made.truth.downbeats?.filter(
        (time) => time >= before - 0.02 && time < before + end - start - 0.02,
      ),
      bars,
      loopStart: before,
      loopEnd: before + end - start,
    },
  };
}
