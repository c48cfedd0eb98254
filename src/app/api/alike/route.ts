import { alikePairs, decideLikeness } from '@/server/likenesses';
import { actorOf, jsonOf, respond } from '../respond';

/** Undecided pairs of like samples. */
export const GET = respond(async () => Response.json(await alikePairs()));

/** Merges a pair, keeps both, or opens a decided one again. */
export const POST = respond(async (request) => {
  await decideLikeness(await jsonOf(request), actorOf(request));
  return Response.json({});
});
