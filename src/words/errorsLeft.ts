import type { ExpectedErrors, Guessed } from '@/contract/errorsLeft';
import { counted } from './plural';

const WORDS: Record<Guessed, [one: string, other: string]> = {
  tempo: ['tempo', 'tempi'],
  key: ['key', 'keys'],
};
const round = (value: number) => Math.round(value).toLocaleString('en');

/** "About 37 ± 9 of 4,210 measured tempi are wrong; the 60 least certain hold 29 of them." */
export function errorsLeftWords(
  guessed: Guessed,
  { guesses, expected, low, high, first, expectedInFirst }: ExpectedErrors,
): string {
  const [one, other] = WORDS[guessed];
  const of = counted(guesses, `measured ${one}`, `measured ${other}`);
  const within =
    low > 0
      ? `${round(expected)} ± ${round((high - low) / 2)}`
      : `${round(expected)} (${round(high)} at most)`;
  const held = first < guesses ? `; the ${first} least certain hold ${round(expectedInFirst)} of them` : '';
  return `About ${within} of ${of} ${expected < 1.5 ? 'is' : 'are'} wrong${held}.`;
}
