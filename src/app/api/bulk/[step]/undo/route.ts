import { undoBulk } from '@/server/change/bulk';
import { actorOf, numberOf, respond } from '../../../respond';

/** Takes a step back; `?even-foreign`: also one that somebody else made. */
export const POST = respond<{ step: string }>(async (request, { step }) => {
  const evenForeign = new URL(request.url).searchParams.has('even-foreign');
  return Response.json(await undoBulk(numberOf(step, 'step'), actorOf(request), evenForeign));
});
