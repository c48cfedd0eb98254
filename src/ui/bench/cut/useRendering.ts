'use client';
import { useQueryClient } from '@tanstack/react-query';
import type { Recipe } from '@/core/recipes/recipe';
import { stretchWords } from '@/core/recipes/recipeWords';
import { named, parentOf } from '@/library/recipes/aims';
import { isRowUnpitched } from '@/library/samples/toneless';
import { askRenders } from '../../api/renders';
import { fetchSetOf } from '../../api/stemSets';
import { entryQuery } from '../../api/useEntry';
import { useAction } from '../../kit/useAction';
import { awaitMade } from '../../tasks/made';
import type { Bench } from '../useBench';
import type { Cut } from './useCut';

/** Where renders of a sample are told of. */
export const renderPlace = (sampleId: string) => `cut of ${sampleId}`;

interface Asked {
  recipes: readonly Recipe[];
  /** The files are downloaded as soon as they are rendered. */
  isDownloaded?: boolean;
  /** All of them are joined as a stem set of this name. */
  setName?: string;
}

/** Renders recipes, or the same bars of every stem of the set: all are equally long, and begin together. */
export function useRendering({ entry, grid }: Bench, { wanted, draft }: Cut) {
  const queries = useQueryClient();
  const { act } = useAction({
    run: async (asked: Asked | 'all stems') => {
      const { recipes, setName, isDownloaded = false } = asked === 'all stems' ? await ofAllStems() : asked;
      const sets = setName ? [{ name: setName, recipes: recipes.map((_, index) => index) }] : [];
      const { taskId } = await askRenders({ recipes: [...recipes], sets, screen: 'bench' });
      awaitMade({
        taskId,
        place: renderPlace(entry.summary.sampleId),
        then: isDownloaded ? 'download' : null,
      });
      return recipes;
    },
    renews: ['tasks'],
  });
  const ofAllStems = async (): Promise<Asked> => {
    const { summary } = entry;
    if (!wanted || !summary.stemSet) return { recipes: [] };
    const { members } = await fetchSetOf(summary.sampleId);
    const recipes: Recipe[] = [];
    for (const member of members) {
      const stem = await queries.fetchQuery(entryQuery(member.sampleId));
      const parent = parentOf(stem);
      // What has no pitch is not transposed with the others.
      const pitch =
        isRowUnpitched(stem.summary) && !wanted.pitch.tape
          ? { ...wanted.pitch, semitones: 0, cents: 0 }
          : wanted.pitch;
      if (parent) recipes.push(named({ ...wanted, pitch, parent }, stem, draft.template));
    }
    const of =
      wanted.region && grid ? stretchWords(grid, wanted.region.from, wanted.region.to) : 'whole file';
    return { recipes, setName: recipes.length > 1 ? `${summary.stemSet.name}, ${of}` : undefined };
  };
  return {
    render: (recipes: readonly Recipe[], isDownloaded = false) => act({ recipes, isDownloaded }),
    renderAllStems: () => act('all stems'),
  };
}
