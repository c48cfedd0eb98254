import { redoBulk } from '@/server/change/bulk';
import { actorOf, numberOf, respond } from '../../../respond';

/** Does a step again that was undone; `?even-foreign`: also one that somebody else made. */
export const POST = respond<{ step: string }>(async (request, { step }) => {
  const evenForeign = new URL(request.url).searchParams.has('even-foreign');
  return Response.json(await redoBulk(numberOf(step, 'step'), actorOf(request), evenForeign));
});
