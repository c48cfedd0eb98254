import { makeMixes } from '@/server/blends';
import { actorOf, idOf, jsonOf, respond } from '../../../respond';

/** Has what is exported of a blend made. */
export const POST = respond<{ id: string }>(async (request, params) =>
  Response.json(await makeMixes(idOf(params, 'blend'), await jsonOf(request), actorOf(request)), {
    status: 202,
  }),
);
