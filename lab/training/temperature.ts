import { logSumExp } from '@/core/weights/logSumExp';

/** Scores that options got, and which of them are right. */
export interface Judged {
  scores: number[];
  right: boolean[];
}

/**
 * The temperature under which beliefs of held-out decisions fit best: the likelihood of what is right is
 * largest (temperature scaling, Guo et al. 2017).
 */
export function fitTemperature(decisions: readonly Judged[]): number {
  const usable = decisions.filter(({ right }) => right.includes(true));
  const loss = (temperature: number) =>
    usable.reduce((sum, { scores, right }) => {
      const tempered = scores.map((score) => score / temperature);
      return sum + logSumExp(tempered) - logSumExp(tempered.filter((_, o) => right[o]));
    }, 0);
  let best = 1;
  for (let temperature = 0.5; temperature < 6; temperature *= 1.04)
    if (loss(temperature) < loss(best)) best = temperature;
  return usable.length ? best : 1;
}
