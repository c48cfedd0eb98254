import type { DecodedSummary } from '../formats/audioFormat';
import { decodeAudio } from '../formats/decode';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { mixToMono } from '../signal/pcm';
import { peakBuilder, type PeakPyramid } from '../signal/peaks';
import { createResampler, type Resampler } from '../signal/resample';
import { createListener } from './listening';
import { decide, type MeasureOptions, type Stage } from './measure';
import type { Measurement } from './schema';
import { shiftTimes } from './shiftTimes';

export interface MeasuredFile {
  audio: DecodedSummary;
  peaks: PeakPyramid;
  measurement: Measurement;
  millisecondsSpent: { decode: number; measure: number };
}

export interface MeasureStreamOptions extends MeasureOptions {
  /** Only what lies from … to is measured, seconds; its times are still those of the file. */
  part?: { from: number; to: number };
}

/**
 * Decodes a file block by block, listens to it, and decides. Neither the file nor the audio is held: memory
 * grows by about 40 kB per second of audio, however many channels and bits there are. Throws
 * UndecodableError with a sentence for the user, and RangeError when no audio lies in the wanted part.
 */
export async function measureStream(
  bytes: AsyncIterable<Uint8Array>,
  options: MeasureStreamOptions = {},
  onStage: (stage: Stage) => void = () => {},
  now: () => number = () => performance.now(),
): Promise<MeasuredFile> {
  onStage('listening');
  const begun = now();
  const { from, to } = options.part ?? { from: 0, to: Infinity };
  const first = Math.round(from * ANALYSIS_RATE);
  const last = Math.round(to * ANALYSIS_RATE);
  let resampler: Resampler | null = null;
  let peaks: ReturnType<typeof peakBuilder> | null = null;
  let listening = 0;
  let at = 0;
  const listener = createListener();
  const listen = (mono: Float32Array) => {
    const before = now();
    listener.push(mono.subarray(Math.max(0, first - at), Math.max(0, last - at)));
    at += mono.length;
    listening += now() - before;
  };
  const audio = await decodeAudio(bytes, (block, sampleRate) => {
    resampler ??= createResampler(sampleRate, ANALYSIS_RATE);
    peaks ??= peakBuilder(sampleRate);
    peaks.push(block);
    listen(resampler.push(mixToMono(block)));
  });
  listen(resampler!.finish());
  if (at <= first) {
    throw new RangeError(
      `The file is ${(at / ANALYSIS_RATE).toFixed(3)} s long: nothing begins at ${from} s.`,
    );
  }
  const decoded = now();
  const measurement = shiftTimes(decide(listener.finish(), options, onStage), first / ANALYSIS_RATE);
  measurement.durationSeconds = audio.frames / audio.sampleRate;
  return {
    audio,
    peaks: peaks!.finish(),
    measurement,
    millisecondsSpent: {
      decode: decoded - begun - listening,
      measure: listening + now() - decoded,
    },
  };
}
