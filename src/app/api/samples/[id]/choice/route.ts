import { chooseAtTarget } from '@/server/choices';
import { jsonOf, respond, sampleIdOf } from '../../../respond';

/** How the sample is brought to a target from now on. */
export const PUT = respond<{ id: string }>(async (request, params) => {
  await chooseAtTarget(sampleIdOf(params), await jsonOf(request));
  return Response.json({});
});
