export interface Chord {
  /** Pitch class of the root, 0 = C. */
  root: number;
  mode: 'major' | 'minor';
}

/** The least part of all that each note of a chord must have, and how much more the strongest may have than the weakest. */
const LEAST_SHARE = 0.15;
const MOST_UNEVEN = 1.9;

/** The three notes of every major and minor triad and what they have of a chroma. */
function triads(chroma: readonly number[]) {
  return Array.from({ length: 24 }, (_, i) => {
    const root = i % 12;
    const mode: Chord['mode'] = i < 12 ? 'major' : 'minor';
    const shares = [0, i < 12 ? 4 : 3, 7].map((interval) => chroma[(root + interval) % 12]);
    return { root, mode, shares };
  });
}

/**
 * The triad that a chroma (12 shares of pitch classes, C first) is made of; null where it is none. A single note has a
 * triad too, by its harmonics, but an uneven one: its root outweighs the third more than twice.
 */
export function chordOf(chroma: readonly number[]): Chord | null {
  const [best] = triads(chroma).sort((a, b) => Math.min(...b.shares) - Math.min(...a.shares));
  const least = Math.min(...best.shares);
  if (least < LEAST_SHARE || Math.max(...best.shares) > MOST_UNEVEN * least) return null;
  return { root: best.root, mode: best.mode };
}

/**
 * The most of a chroma that lies on one triad: about a third for hiss and drums, which spread over all twelve notes,
 * over a half for what has a pitch.
 */
export const tonalFocus = (chroma: readonly number[]): number =>
  Math.max(...triads(chroma).map(({ shares }) => shares.reduce((sum, share) => sum + share, 0)));
