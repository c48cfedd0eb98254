import { makeMixes } from '@/server/blends';
import { handOf, idOf, jsonOf, respond } from '../../../respond';

/** Has what comes out of a blend made. */
export const POST = respond<{ id: string }>(async (request, params) =>
  Response.json(await makeMixes(idOf(params, 'blend'), await jsonOf(request), handOf(request)), {
    status: 202,
  }),
);
