import { returnTo } from '@/server/settle';
import { jsonOf, respond, sampleIdOf } from '../../../respond';

export const POST = respond<{ id: string }>(async (request, params) =>
  Response.json(await returnTo(sampleIdOf(params), await jsonOf(request))),
);
