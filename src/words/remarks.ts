import type { SampleEntry } from '@/contract/entry';
import type { Remark } from '@/core/measurement/remark';

/** Why something was not measured or is unsure, in a sentence. */
export function remarkWords(remark: Remark): string {
  switch (remark.code) {
    case 'only silence':
      return 'There is only silence.';
    case 'only drums':
      return 'There are only drums: no key.';
    case 'no root':
      return 'No pitch in it lasts: no root.';
    case 'no key':
      return 'There is not enough lasting tone for a key.';
    case 'one-shot':
      return 'A one-shot has no tempo.';
    case 'nothing repeats':
      return 'Nothing repeats often enough for a tempo.';
    case 'speech':
      return 'It sounds like speech: what recurs in it need be no beat, and no key.';
    case 'tempo moves':
      return 'The tempo moves: the grid follows the player.';
    case 'another tempo':
      return `The tempo could also be ${remark.bpm.toFixed(1)} BPM.`;
  }
}

/** All that is to be said of how a sample was read and measured, in sentences. */
export const notesOf = ({
  warnings,
  measurement,
}: Pick<SampleEntry, 'warnings' | 'measurement'>): string[] => [
  ...warnings,
  ...(measurement?.remarks ?? []).map(remarkWords),
];
