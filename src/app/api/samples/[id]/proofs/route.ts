import { prove } from '@/server/prove';
import { jsonOf, respond, sampleIdOf } from '../../../respond';

export const POST = respond<{ id: string }>(async (request, params) =>
  Response.json(await prove(sampleIdOf(params), await jsonOf(request))),
);
