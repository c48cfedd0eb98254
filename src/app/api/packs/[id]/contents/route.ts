import { packContents } from '@/server/packs';
import { idOf, respond } from '../../../respond';

/** The samples of a pack, and how far writing it has come. */
export const GET = respond<{ id: string }>(async (_, params) =>
  Response.json(await packContents(idOf(params, 'pack'))),
);
