import { curatorName, type Curator } from '@/contract/curators';
import * as store from '@/store/curators';
import { database } from '@/store/database';
import { UserError } from './userError';

/** All curators, those who were here first at the beginning. */
export function curatorsNow(): Promise<Curator[]> {
  return store.listCurators(database());
}

/** The curator of a name, who is made when nobody is known by it; the first one so far without a name takes it. */
export async function curatorNamed(input: unknown): Promise<Curator> {
  const { name } = curatorName.parse(input);
  return store.curatorNamed(database(), name);
}

/** Gives a curator another name. Throws UserError when somebody has it already. */
export async function renameCurator(curatorId: string, input: unknown): Promise<Curator> {
  const { name } = curatorName.parse(input);
  try {
    const renamed = await store.renameCurator(database(), curatorId, name);
    if (!renamed) throw new UserError('There is no such curator.', 404);
    return renamed;
  } catch (error) {
    if (error instanceof store.NameTakenError)
      throw new UserError(`There is a curator “${name}” already.`, 409);
    throw error;
  }
}
