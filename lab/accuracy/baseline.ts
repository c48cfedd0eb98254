import { totalChroma } from '@/core/harmony/chroma';
import { ALL_KEYS, tonicName } from '@/core/harmony/keyNames';
import { activeStretch } from '@/core/measurement/activeStretch';
import type { Heard } from '@/core/measurement/listening';
import { FRAME_RATE } from '@/core/rhythm/onsetFeatures';
import { gridBeats } from '@/core/rhythm/lattice';
import { periodicity } from '@/core/rhythm/tempogram';
import type { Prediction } from './predictions';

/** Probe-tone ratings (Krumhansl & Kessler 1982). */
const PROFILES = {
  major: [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88],
  minor: [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17],
};

/**
 * The simplest measuring that a textbook would give, on the same onset evidence and chroma: the strongest
 * autocorrelation under a log-normal tempo prior, the best-fitting phase, four beats a bar from the first
 * beat, the best-correlating key profile; what is shorter than two seconds is a one-shot.
 */
export function baseline(id: string, heard: Heard): Prediction {
  const { features, durationSeconds, chroma } = heard;
  const active = activeStretch(features);
  const nothing: Prediction = { id, bpm: null, beats: [], downbeats: [], key: null, kind: 'oneshot' };
  if (!active) return nothing;
  const key = bestKey(totalChroma(chroma.all));
  if (durationSeconds < 2) return { ...nothing, key };
  const periodic = periodicity(features.strength);
  let bpm = 120;
  let best = -Infinity;
  for (let tempo = 40; tempo <= 240; tempo *= 1.002) {
    const value = periodic.at(60 / tempo) * Math.exp(-0.5 * (Math.log2(tempo / 120) / 0.9) ** 2);
    if (value > best) {
      best = value;
      bpm = tempo;
    }
  }
  const period = 60 / bpm;
  let anchor = 0;
  let bestSum = -1;
  for (let phase = 0; phase < period; phase += 1 / FRAME_RATE) {
    let sum = 0;
    for (let time = phase; time < durationSeconds; time += period)
      sum += features.strength[Math.round(time * FRAME_RATE)] ?? 0;
    if (sum > bestSum) {
      bestSum = sum;
      anchor = phase;
    }
  }
  const beats = Array.from(gridBeats(anchor, period, durationSeconds));
  const downbeats = beats.filter((_, k) => k % 4 === 0);
  const bars = Math.max(1, Math.round((active.end - (downbeats[0] ?? 0)) / (4 * period)));
  return {
    id,
    bpm,
    beats,
    downbeats,
    meter: { beatsPerBar: 4, beatUnit: 4 },
    beatsPerBar: 4,
    bars,
    loopStart: downbeats[0] ?? 0,
    loopEnd: (downbeats[0] ?? 0) + bars * 4 * period,
    key,
    tuningCents: 0,
    kind: durationSeconds > 45 ? 'song' : 'loop',
  };
}

function bestKey(chroma: Float64Array): Prediction['key'] {
  const scores = ALL_KEYS.map(({ tonic, mode }) => {
    const profile = PROFILES[mode];
    const mean = profile.reduce((a, b) => a + b, 0) / 12;
    let dot = 0;
    let norm = 0;
    for (let i = 0; i < 12; i++) {
      dot += (profile[i] - mean) * chroma[(tonic + i) % 12];
      norm += (profile[i] - mean) ** 2;
    }
    return dot / Math.sqrt(norm);
  });
  const key = ALL_KEYS[scores.indexOf(Math.max(...scores))];
  return { tonic: tonicName(key), mode: key.mode };
}
