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
      return `It was changed elsewhere in the meantime${by === null ? '' : ` by ${by}`}${words === null ? '' : ` (“${words}”)`}; it is shown anew.`;
    }
    case 'step of another':
      return `The last step, “${refusal.words}”, is ${refusal.by}’s.`;
    case 'set joined since':
      return `It shares its grid with the set “${refusal.set}” since then; part the set under Stem sets first.`;
    case 'merged':
      return `“${refusal.name}” was merged into another sample; open the pair under Alike again.`;
    case 'not measured yet':
      return `${refusal.name === null ? 'It' : `“${refusal.name}”`} is not measured yet${refusal.what === 'save' ? ' and cannot be saved' : ''}.`;
    case 'no name to sign with':
      return 'A proof is signed with a name; say who you are.';
    case 'nothing to prove':
      return 'Without a tempo there is nothing to prove against a click.';
    case 'no grid':
      return 'It has no grid.';
    case 'no tempo':
      return 'It has no tempo.';
    case 'cannot be read':
      return 'It cannot be read; there is nothing to accept.';
    case 'grid does not fit':
      return gridWords(refusal.fault, refusal.figures);
    case 'pins out of order':
      return 'Pins out of order: a later beat must stand at a later place.';
    case 'loop without a grid':
      return 'A loop is counted in bars; without a grid there are none.';
    case 'no stem of the set':
      return 'This sample is no stem of the set.';
    case 'reading of another':
      return `The reading that was chosen for the ${refusal.property} is none of this sample’s.`;
    case 'one out of reach':
      return `The one at ${refusal.one.toFixed(2)} s lies more than ${refusal.reachSeconds} s outside of the audio.`;
    case 'too many beats':
      return `A grid has at most ${refusal.most} beats.`;
    case 'too many tags':
      return `A sample has at most ${refusal.most} tags.`;
    case 'beats do not rise':
      return `Beats of a moving grid must rise; at ${refusal.at.toFixed(2)} s they do not.`;
    case 'impossible tempo':
      return `${Math.round(refusal.bpm)} BPM is no tempo that Grento knows.`;
    case 'no such source':
      return `No ${refusal.source} says its tempo or key.`;
    case 'name':
      return refusal.fault;
  }
}
