import { renameCurator } from '@/server/curators';
import { jsonOf, respond, sampleIdOf } from '../../respond';

/** Gives a curator another name. */
export const PUT = respond<{ id: string }>(async (request, params) =>
  Response.json(await renameCurator(sampleIdOf(params), await jsonOf(request))),
);
