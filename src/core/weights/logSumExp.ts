/** The logarithm of the sum of exponentials: what several options are worth together. −∞ for none. */
export function logSumExp(scores: readonly number[]): number {
  if (scores.length === 0) return -Infinity;
  const top = Math.max(...scores);
  return top + Math.log(scores.reduce((sum, score) => sum + Math.exp(score - top), 0));
}
