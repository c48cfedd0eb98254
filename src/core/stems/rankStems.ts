import type { Measurement } from '../measurement/schema';
import { readPart } from '../readings/nameReading';

/** A stem with how well it may speak for its set, and why. */
export interface RankedStem {
  id: string;
  score: number;
  reasons: string[];
}

interface Stem {
  id: string;
  name: string;
  measurement: Measurement;
}

/** How clearly each stem tells the rhythm, the clearest first: it gives the set its grid. */
export function rankForGrid(stems: readonly Stem[]): RankedStem[] {
  return ranked(stems, ({ name, measurement }, say) => {
    const { tempo, onsets, durationSeconds, kind } = measurement;
    if (!tempo) {
      say('no tempo found');
      return 0;
    }
    let score = tempo.sureness;
    say(`tempo ${Math.round(tempo.sureness * 100)} % sure`);
    if (measurement.theOneSureness !== null) {
      score += 0.5 * measurement.theOneSureness;
      say(`the one ${Math.round(measurement.theOneSureness * 100)} % sure`);
    }
    if (tempo.steady) score += 0.2;
    const strong = onsets.filter(({ strength }) => strength > 3).length / durationSeconds;
    score += Math.min(0.6, 0.15 * strong);
    say(`${strong.toFixed(1)} clear hits a second`);
    const { part } = readPart(name);
    if (part === 'drums' || part === 'percussion') {
      score += 0.5;
      say(`named ${part}`);
    }
    const late = onsets.length ? onsets[0].time / durationSeconds : 1;
    if (late > 0.1) {
      score -= 0.5 * late;
      say('begins late');
    }
    return kind === 'oneshot' ? score / 2 : score;
  });
}

/** How clearly each stem tells the key, the clearest first: drums and noise come last. */
export function rankForKey(stems: readonly Stem[]): RankedStem[] {
  return ranked(stems, ({ name, measurement }, say) => {
    const { key, character } = measurement;
    if (!key) {
      say('not enough lasting tone');
      return 0;
    }
    let score = key.sureness;
    say(`key ${Math.round(key.sureness * 100)} % sure`);
    if (character) score += 0.3 * Math.max(0, 1 - character.flatness * 3);
    const { part } = readPart(name);
    if (part === 'chords' || part === 'pad') {
      score += 0.3;
      say(`named ${part}`);
    } else if (part === 'drums' || part === 'percussion' || part === 'effect') {
      score -= 0.6;
      say(`named ${part}`);
    } else if (part === 'bass') {
      score -= 0.05;
    }
    return Math.max(0.01, score);
  });
}

function ranked(
  stems: readonly Stem[],
  judge: (stem: Stem, say: (reason: string) => void) => number,
): RankedStem[] {
  return stems
    .map((stem) => {
      const reasons: string[] = [];
      return { id: stem.id, score: judge(stem, (reason) => reasons.push(reason)), reasons };
    })
    .sort((a, b) => b.score - a.score);
}
