import { writePack } from '@/server/packs';
import { idOf, respond } from '../../../respond';

/** Has a pack written as it is now. */
export const POST = respond<{ id: string }>(async (_, params) =>
  Response.json(await writePack(idOf(params, 'pack')), { status: 202 }),
);
