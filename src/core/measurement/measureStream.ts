import { printBuilder, type Print } from '../alike/print';
import type { DecodedSummary } from '../formats/audioFormat';
import type { OpenBytes } from '../formats/byteReader';
import { decodeAudio, type AudioOptions } from '../formats/decode';
import { HARMONY_RATE } from '../harmony/pitchSpectrum';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { mixToMono } from '../signal/pcm';
import { peakBuilder } from '../signal/peaks';
import { createResampler, type Resampler } from '../signal/resample';
import { bandStrengthBuilder } from '../traces/bandStrength';
import { tracesOf, type Traces } from '../traces/traces';
import { createListener } from './listening';
import { lessSure, lostShare } from './lessSure';
import { decide, type MeasureOptions, type Stage } from './measure';
import type { Measurement } from './schema';
import { shiftTimes } from './shiftTimes';

export interface MeasuredFile {
  audio: DecodedSummary;
  /** What the Bench draws, if it was asked for. */
  traces: Traces | null;
  /** By what the recording is known again, if the traces were asked for. */
  print: Print | null;
  measurement: Measurement;
  millisecondsSpent: { decode: number; measure: number };
}

export interface MeasureStreamOptions extends MeasureOptions, AudioOptions {
  /** Only what lies from … to is measured, seconds; its times are still those of the file. */
  part?: { from: number; to: number };
  /** Whether what the Bench draws is made along the way. */
  traced?: boolean;
  /** Gets every decoded block as it comes, valid until it returns. */
  onPcm?: (block: readonly Float32Array[], sampleRate: number) => void;
  /** Seconds that the file says it has, where only its container knows; asked for once all is decoded. */
  claimed?: () => number | null;
}

/**
 * Decodes a file block by block, listens to it, and decides. Neither the file nor the audio is held: memory
 * grows by about 40 kB per second of audio, however many channels and bits there are. Throws
 * UndecodableError with a sentence for the user, and RangeError when no audio lies in the wanted part.
 */
export async function measureStream(
  open: OpenBytes,
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
  let peaks = null as ReturnType<typeof peakBuilder> | null;
  let listening = 0;
  let at = 0;

  const strength = options.traced ? bandStrengthBuilder(ANALYSIS_RATE) : null;
  const print = options.traced ? printBuilder(HARMONY_RATE) : null;
  const listener = createListener({ onHalf: print?.push });
  const listen = (mono: Float32Array) => {
    const before = now();
    strength?.push(mono);
    listener.push(mono.subarray(Math.max(0, first - at), Math.max(0, last - at)));
    at += mono.length;
    listening += now() - before;
  };
  const audio = await decodeAudio(
    open,
    (block, sampleRate) => {
      options.onPcm?.(block, sampleRate);
      resampler ??= createResampler(sampleRate, ANALYSIS_RATE);
      if (options.traced) (peaks ??= peakBuilder(sampleRate)).push(block);
      listen(resampler.push(mixToMono(block)));
    },
    options,
  );
  listen(resampler!.finish());
  if (at <= first) {
    throw new RangeError(
      `The file is ${(at / ANALYSIS_RATE).toFixed(3)} s long: nothing begins at ${from} s.`,
    );
  }
  const decoded = now();
  const heard = listener.finish();
  const measurement = shiftTimes(
    decide(heard, { ...options, performance: audio.format === 'midi', unpitched: audio.unpitched }, onStage),
    first / ANALYSIS_RATE,
  );
  measurement.durationSeconds = audio.frames / audio.sampleRate;
  lessSure(measurement, lostShare(audio, audio.claimed ?? options.claimed?.() ?? null));
  const traces =
    strength && peaks
      ? tracesOf(measurement.durationSeconds, peaks.finish(), strength.finish(), heard.chroma)
      : null;
  return {
    audio,
    traces,
    print: print?.finish() ?? null,
    measurement,
    millisecondsSpent: {
      decode: decoded - begun - listening,
      measure: listening + now() - decoded,
    },
  };
}
