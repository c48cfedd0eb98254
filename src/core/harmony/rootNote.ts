import { tonalSums, type PitchPeaks } from './pitchSpectrum';

const NAMES = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
const HARMONICS = 8;
const TONAL_SHARE = 0.2;

export interface NotePitch {
  midi: number;
  /** How far above it. */
  cents: number;
}

/** Name of a MIDI note: F#3; C4 is 60. */
export const midiNoteName = (midi: number): string => NAMES[midi % 12] + (Math.floor(midi / 12) - 1);

/**
 * The pitch of a one-shot: the fundamental whose harmonics hold most of the lasting peaks' weight
 * (harmonic summation, Hermes 1988). Null for unpitched sounds.
 */
export function rootNote(peaks: PitchPeaks): NotePitch | null {
  const sums = tonalSums(peaks);
  const tonal = sums.tonal + peaks.low.tonal;
  const energy = sums.energy + peaks.low.energy;
  if (energy === 0 || tonal / energy < TONAL_SHARE || peaks.midi.length + peaks.low.midi.length === 0)
    return null;
  const from = 16;
  const steps = (96 - from) * 10;
  const salience = new Float64Array(steps);
  for (const { midi, weight } of [peaks, peaks.low]) {
    for (let i = 0; i < midi.length; i++) {
      for (let h = 1; h <= HARMONICS; h++) {
        const position = Math.round((midi[i] - 12 * Math.log2(h) - from) * 10);
        for (let d = -3; d <= 3; d++) {
          const at = position + d;
          if (at >= 0 && at < steps)
            salience[at] += Math.sqrt(weight[i]) * 0.82 ** (h - 1) * (1 - Math.abs(d) / 4);
        }
      }
    }
  }
  let best = 0;
  for (let s = 1; s < steps; s++) if (salience[s] > salience[best]) best = s;
  const midi = from + best / 10;
  const nearest = Math.round(midi);
  return {
    midi: nearest,
    cents: Math.round((midi - nearest) * 100),
  };
}
