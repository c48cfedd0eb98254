import type { Refusal } from '@/library/change/refusal';
import { gridWords } from './grid';

/** Why something was not done to a sample, in a sentence for the curator. */
export function refusalWords(refusal: Refusal): string {
  switch (refusal.code) {
    case 'no such sample':
      return 'There is no such sample.';
    case 'no such set':
      return 'There is no such stem set.';
    case 'no such state':
      return 'There is no such earlier state.';
    case 'changed elsewhere': {
      const { by, words } = refusal;
      return `It has been changed elsewhere${by === null ? '' : ` by ${by}`}${words === null ? '' : ` (“${words}”)`}; the latest state is shown.`;
    }
    case 'step of another':
      return `The last step, “${refusal.words}”, is ${refusal.by}’s.`;
    case 'set joined since':
      return `It now shares its grid with the set “${refusal.set}”; split the set under Stem sets first.`;
    case 'merged':
      return `“${refusal.name}” was merged into another sample; undo the merge under Duplicates.`;
    case 'not measured yet':
      return `${refusal.name === null ? 'It' : `“${refusal.name}”`} is not measured yet${refusal.what === 'save' ? ' and cannot be saved' : ''}.`;
    case 'no name to sign with':
      return 'A proof needs a name; enter yours first.';
    case 'nothing to prove':
      return 'There is no tempo to check against a click.';
    case 'no grid':
      return 'It has no grid.';
    case 'no tempo':
      return 'It has no tempo.';
    case 'cannot be read':
      return 'The file cannot be read; there is nothing to accept.';
    case 'grid does not fit':
      return gridWords(refusal.fault, refusal.figures);
    case 'pins out of order':
      return 'Pins out of order: a later beat needs a later time.';
    case 'loop without a grid':
      return 'A loop is counted in bars, and there is no grid.';
    case 'no stem of the set':
      return 'This sample is not a stem of the set.';
    case 'reading of another':
      return `The selected reading of the ${refusal.property} does not belong to this sample.`;
    case 'one out of reach':
      return `The one at ${refusal.one.toFixed(2)} s lies more than ${refusal.reachSeconds} s outside the audio.`;
    case 'too many beats':
      return `A grid has at most ${refusal.most} beats.`;
    case 'too many tags':
      return `A sample has at most ${refusal.most} tags.`;
    case 'beats do not rise':
      return `Beats of a moving grid must ascend; at ${refusal.at.toFixed(2)} s they do not.`;
    case 'impossible tempo':
      return `${Math.round(refusal.bpm)} BPM is outside the range of tempos.`;
    case 'no such source':
      return `No ${refusal.source} says its tempo or key.`;
    case 'name':
      return refusal.fault;
  }
}
