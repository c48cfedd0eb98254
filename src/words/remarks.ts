import type { SampleEntry } from '@/contract/entry';
import type { Remark } from '@/core/measurement/remark';

/** Why something was not measured or is unsure, in a sentence. */
export function remarkWords(remark: Remark): string {
  switch (remark.code) {
    case 'only silence':
      return 'Only silence.';
    case 'only drums':
      return 'Drums only: no key.';
    case 'no root':
      return 'No sustained pitch: no root.';
    case 'no key':
      return 'Not enough sustained pitch for a key.';
    case 'one-shot':
      return 'A one-shot has no tempo.';
    case 'nothing repeats':
      return 'Too little repetition for a tempo.';
    case 'speech':
      return 'It sounds like speech: tempo and key may be meaningless.';
    case 'tempo moves':
      return 'The tempo changes: the grid follows the player.';
    case 'another tempo':
      return `The tempo could also be ${remark.bpm.toFixed(1)} BPM.`;
    case 'as in library':
      return `The proved samples of this library decided on the tempo; by itself it would be ${remark.bpm.toFixed(1)} BPM.`;
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
