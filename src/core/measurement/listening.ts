import { chromaFrames, type Chroma } from '../harmony/chroma';
import { HARMONY_RATE, pitchPeakBuilder, type PitchPeaks } from '../harmony/pitchSpectrum';
import { estimateTuning } from '../harmony/tuning';
import { attackEnvelopeBuilder, type AttackEnvelope } from '../signal/attack';
import { ANALYSIS_RATE, onsetFeatureBuilder, type OnsetFeatures } from '../rhythm/onsetFeatures';
import { findOnsets, type Onset } from '../rhythm/onsets';
import { createHalfBand } from '../signal/halfBand';
import { speechListener } from './speech';

/** Samples at ANALYSIS_RATE in one step of the attack envelope: 0.27 ms. */
const STEP_SAMPLES = 6;

/** Everything that is heard in a recording and that decisions are taken from; the audio itself is let go. */
export interface Heard {
  durationSeconds: number;
  features: OnsetFeatures;
  envelope: AttackEnvelope;
  onsets: Onset[];
  peaks: PitchPeaks;
  tuningCents: number;
  chroma: Chroma;
  /** It is a voice that speaks. */
  spoken: boolean;
}

/**
 * Listens to the mono mix at ANALYSIS_RATE block by block. Each block is gone through once; what is held
 * grows by about 35 kB per second of audio. `onHalf` gets the mix at HARMONY_RATE as well.
 */
export function createListener({ onHalf = () => {} }: { onHalf?: (mono: Float32Array) => void } = {}) {
  if (ANALYSIS_RATE !== 2 * HARMONY_RATE) throw new Error('the harmony rate is half the analysis rate');
  const onsetBuilder = onsetFeatureBuilder();
  const envelopeBuilder = attackEnvelopeBuilder(ANALYSIS_RATE, STEP_SAMPLES);
  const halving = createHalfBand();
  const pitchBuilder = pitchPeakBuilder();
  const speech = speechListener();
  let length = 0;
  return {
    push(mono: Float32Array) {
      length += mono.length;
      onsetBuilder.push(mono);
      envelopeBuilder.push(mono);
      const half = halving.push(mono);
      pitchBuilder.push(half);
      speech.push(half);
      onHalf(half);
    },
    finish(): Heard {
      const half = halving.finish();
      pitchBuilder.push(half);
      onHalf(half);
      const features = onsetBuilder.finish();
      const envelope = envelopeBuilder.finish();
      const peaks = pitchBuilder.finish();
      const tuningCents = estimateTuning(peaks);
      return {
        durationSeconds: length / ANALYSIS_RATE,
        features,
        envelope,
        onsets: findOnsets(features, envelope),
        peaks,
        tuningCents,
        chroma: chromaFrames(peaks, tuningCents),
        spoken: speech.finish(),
      };
    },
  };
}
