import { expectedErrors, sumsOf } from '@/library/errorsLeft/expectedErrors';
import { LOOKED_AT_FIRST } from '@/contract/errorsLeft';
import { randomFrom } from '@/demo/random';

/** An answer that was given with a confidence, 0 … 1, and whether it is right. */
export interface Answer {
  sureness: number;
  isRight: boolean;
}

/**
 * In how many of `draws` libraries of `size` recordings, drawn from those that were judged, the number of wrong answers
 * lies within what is expected of their confidences; null where nothing was judged.
 */
export function shareAsExpected(
  answers: readonly Answer[],
  size: number,
  draws = 400,
  seed = 1,
): number | null {
  if (answers.length === 0) return null;
  const random = randomFrom(seed);
  let within = 0;
  for (let draw = 0; draw < draws; draw++) {
    const drawn = Array.from({ length: size }, () => answers[Math.floor(random() * answers.length)]);
    const { low, high } = expectedErrors(
      sumsOf(
        drawn.map(({ sureness }) => sureness),
        LOOKED_AT_FIRST,
      ),
    );
    const wrong = drawn.filter(({ isRight }) => !isRight).length;
    // Between whole numbers: half a recording is none.
    if (wrong >= Math.floor(low) && wrong <= Math.ceil(high)) within++;
  }
  return within / draws;
}
