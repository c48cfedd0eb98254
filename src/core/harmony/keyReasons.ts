import type { Key } from './keyNames';
import { noteName, scaleNotes } from './scale';

/** What speaks for and against a key, as shares of the sound, 0 … 1. */
export interface KeyReasons {
  /** Share of the notes' sound that lies in the scale. */
  inScale: number;
  /** The loudest note outside it, and its share. */
  loudestOutside: { pitchClass: number; share: number };
  /** Share of the bass that stands on the tonic. */
  bassOnTonic: number;
  /** The key's own third against the other one; over 1 speaks for the mode. */
  thirdRatio: number;
  /** The leading note's share. */
  leadingNote: number;
}

/** Reasons from a total chroma of all notes and one of the bass, 12 values each, C first. */
export function keyReasons(all: ArrayLike<number>, bass: ArrayLike<number>, key: Key): KeyReasons {
  const shares = (x: ArrayLike<number>) => {
    const values = Array.from(x);
    const sum = values.reduce((a, b) => a + b, 0) || 1;
    return values.map((value) => value / sum);
  };
  const sound = shares(all);
  const low = shares(bass);
  const scale = new Set(scaleNotes(key));
  let inScale = 0;
  let outside = { pitchClass: 0, share: -1 };
  sound.forEach((share, pitchClass) => {
    if (scale.has(pitchClass)) inScale += share;
    else if (share > outside.share) outside = { pitchClass, share };
  });
  const at = (semitones: number) => sound[(key.tonic + semitones) % 12];
  const own = at(key.mode === 'major' ? 4 : 3);
  const other = at(key.mode === 'major' ? 3 : 4);
  return {
    inScale,
    loudestOutside: outside,
    bassOnTonic: low[key.tonic],
    thirdRatio: (own + 1e-3) / (other + 1e-3),
    leadingNote: at(11),
  };
}

/** The reasons as a curator would say them. */
export function reasonWords(reasons: KeyReasons, key: Key): string {
  const percent = (share: number) => `${Math.round(100 * share)} %`;
  const { inScale, loudestOutside, bassOnTonic, thirdRatio } = reasons;
  const parts = [
    `${percent(inScale)} in the scale`,
    `bass on ${noteName(key.tonic, key)} ${percent(bassOnTonic)}`,
  ];
  const third = key.mode === 'major' ? 'major' : 'minor';
  if (thirdRatio >= 1.15) parts.push(`${third} third ${Math.min(9.9, thirdRatio).toFixed(1)} × the other`);
  else if (thirdRatio <= 0.87) parts.push(`the ${third} third is the weaker one`);
  else parts.push('thirds undecided');
  if (loudestOutside.share > 0.07) parts.push(`${noteName(loudestOutside.pitchClass, key)} is foreign`);
  return parts.join(', ');
}

/** Sum of chroma rows of 12. */
export function chromaTotal(rows: ArrayLike<number>): Float64Array {
  const total = new Float64Array(12);
  for (let i = 0; i < rows.length; i++) total[i % 12] += rows[i];
  return total;
}
