/** Measured tempi this near to each other are one. */
const SAME = 0.01;
/** Fewer agree by chance. */
const FEWEST = 3;
/** What less of the confidence agrees on is shared by nobody. */
const LEAST_SHARE = 0.4;

/** The tempo that most of some samples agree on, and by how much of their confidence; null where there is none. */
export function sharedTempo(
  measured: readonly { bpm: number; sureness: number }[],
): { bpm: number; sureness: number } | null {
  const all = measured.reduce((sum, { sureness }) => sum + sureness, 0);
  let best: { bpm: number; sureness: number } | null = null;
  for (const { bpm } of measured) {
    const agreeing = measured.filter((one) => Math.abs(one.bpm / bpm - 1) <= SAME);
    const weight = agreeing.reduce((sum, { sureness }) => sum + sureness, 0);
    if (agreeing.length < FEWEST || weight < LEAST_SHARE * all || weight / all <= (best?.sureness ?? 0))
      continue;
    const mean = agreeing.reduce((sum, one) => sum + one.sureness * one.bpm, 0) / weight;
    best = { bpm: mean, sureness: weight / all };
  }
  return best;
}
