import type { DecodedSummary } from '../formats/audioFormat';
import { decodeAudio } from '../formats/decode';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { growingArray } from '../signal/growingArray';
import { mixToMono } from '../signal/pcm';
import { peakBuilder, type PeakPyramid } from '../signal/peaks';
import { createResampler, type Resampler } from '../signal/resample';
import { measureAudio, type MeasureOptions, type Stage } from './measure';
import type { Measurement } from './schema';

export interface MeasuredFile {
  audio: DecodedSummary;
  peaks: PeakPyramid;
  measurement: Measurement;
  millisecondsSpent: { decode: number; measure: number };
}

/**
 * Decodes a file block by block and measures it. Only the mono mix at ANALYSIS_RATE and the waveform peaks
 * are held, so that memory is about 90 kB per second of audio however many channels and bits there are.
 * Throws UndecodableError with a sentence for the user.
 */
export async function measureStream(
  bytes: AsyncIterable<Uint8Array>,
  options: MeasureOptions = {},
  onStage: (stage: Stage | 'decode') => void = () => {},
  now: () => number = () => performance.now(),
): Promise<MeasuredFile> {
  onStage('decode');
  const begun = now();
  let resampler: Resampler | null = null;
  let peaks: ReturnType<typeof peakBuilder> | null = null;
  const mono = growingArray();
  const audio = await decodeAudio(bytes, (block, sampleRate) => {
    resampler ??= createResampler(sampleRate, ANALYSIS_RATE);
    peaks ??= peakBuilder(sampleRate);
    peaks.push(block);
    mono.append(resampler.push(mixToMono(block)));
  });
  mono.append(resampler!.finish());
  const decoded = now();
  const measurement = measureAudio(mono.view(), options, onStage);
  measurement.durationSeconds = audio.frames / audio.sampleRate;
  return {
    audio,
    peaks: peaks!.finish(),
    measurement,
    millisecondsSpent: { decode: decoded - begun, measure: now() - decoded },
  };
}
