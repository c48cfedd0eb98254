import type pg from 'pg';
import type { OwnFile } from '@/library/packs/own';
import { writeRecipe } from '@/store/recipes';
import { addToStemSet, makeStemSet, membersOf, setOfAny } from '@/store/stemSets';
import {
  childrenWaiting,
  keepUnpacked,
  lockUnpackedSet,
  recipeOf,
  samplesKnownAs,
  writeParent,
  type Known,
} from '@/store/unpacked';
import { ANYBODY, changeInside } from './change';

/**
 * Brings a sample that came out of a pack together with what belongs to it: the sample that it was made from, those that were made
 * from it, and the stems of its set, as far as they are here. What comes later finds it.
 */
export async function reunite(client: pg.PoolClient, sampleId: string, own: OwnFile): Promise<void> {
  if (own.stemSet) await lockUnpackedSet(client, own.stemSet.stems);
  await keepUnpacked(client, sampleId, own);
  if (own.recipe) {
    const parent = (await samplesKnownAs(client, [own.recipe.parent.sha256])).find(
      (one) => one.sampleId !== sampleId,
    );
    if (parent) await makeChild(client, sampleId, own, parent);
  }
  const [self] = (await samplesKnownAs(client, [own.sha256])).filter((one) => one.sampleId === sampleId);
  if (self)
    for (const child of await childrenWaiting(client, own.sha256))
      await makeChild(client, child.sampleId, child.own, self);
  if (own.stemSet) await joinAgain(client, sampleId, own.stemSet);
}

async function makeChild(
  client: pg.PoolClient,
  sampleId: string,
  own: Pick<OwnFile, 'recipe' | 'made'>,
  parent: Known,
): Promise<void> {
  await writeParent(client, sampleId, parent.sampleId);
  const kept = recipeOf(own);
  if (!kept) return;
  // The sound of a tagged copy is that of its original; a performance is written on its grid, and begins elsewhere.
  const sha256 = parent.format === 'midi' ? kept.recipe.parent.sha256 : parent.sha256;
  const recipe = {
    ...kept.recipe,
    parent: { ...kept.recipe.parent, sampleId: parent.sampleId, sha256, sequence: null },
  };
  await writeRecipe(client, sampleId, { ...kept, recipe });
}

/** The stems of a set that are here are a set again. */
async function joinAgain(
  client: pg.PoolClient,
  sampleId: string,
  { name, stems, gridFrom, keyFrom }: NonNullable<OwnFile['stemSet']>,
): Promise<void> {
  const here = await samplesKnownAs(client, stems);
  // The same bytes may lie here twice: as they came out of the pack, and as they arrived before.
  const ids = [...new Set(stems)].flatMap((sha256) => {
    const all = here.filter((one) => one.knownAs === sha256);
    return (all.find((one) => one.sampleId === sampleId) ?? all[0])?.sampleId ?? [];
  });
  if (ids.length < 2 || !ids.includes(sampleId)) return;
  const others = ids.filter((id) => id !== sampleId);
  const there = await setOfAny(client, others);
  const { setId, parted } =
    there?.state === 'joined'
      ? { setId: there.setId, parted: await addToStemSet(client, there.setId, [sampleId]) }
      : await makeStemSet(client, {
          ...{ name, state: 'proposed', reasons: ['from their pack'], sampleIds: ids },
        });
  const idOf = (sha256: string | null) =>
    here.find((one) => one.knownAs === sha256 && ids.includes(one.sampleId))?.sampleId;
  const change = {
    ...{ state: 'joined' as const, name },
    // Who speaks for the set may come later; until then nobody does.
    ...{ gridFrom: idOf(gridFrom), keyFrom: idOf(keyFrom) },
  };
  await changeInside(
    client,
    { do: 'set', setId, change, parted },
    [...ids, ...(await membersOf(client, parted))],
    ANYBODY,
  );
}
