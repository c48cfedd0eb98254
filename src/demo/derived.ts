import type { SampleEntry } from '@/contract/entry';
import type { Recipe } from '@/core/recipes/recipe';
import { named, parentOf, recipeAtTarget } from '@/library/recipes/aims';

/** A sample that the theatre has made of another. */
interface Made {
  /** The name of its parent. */
  of: string;
  recipe: (entry: SampleEntry) => Recipe;
}

export const DERIVED: readonly Made[] = [
  {
    of: 'The Moth and the Lantern 1923.wav',
    recipe: (entry) =>
      named(
        { parent: parentOf(entry)!, kind: 'loop', region: { from: 0, to: 16 }, write: { format: 'wav 24' } },
        entry,
        'Moth chorus {bpm} {key}',
      ),
  },
  {
    of: 'The Fox Explains.wav',
    recipe: (entry) =>
      recipeAtTarget(
        entry,
        { tempoBpm: 100, key: { tonic: 9, mode: 'minor' }, isTape: false },
        { format: 'flac 24', sampleRate: null, template: '{name} {bpm} {key}' },
      )!,
  },
  {
    of: 'Old Bellows, played free.wav',
    recipe: (entry) =>
      named(
        {
          ...{ parent: parentOf(entry)!, kind: 'song', write: { format: 'wav 24' } },
          time: { tempoBpm: Math.round(entry.settled.grid!.tempoBpm), even: 'beat' },
        },
        entry,
        '{name}, steady {bpm0}',
      ),
  },
];
