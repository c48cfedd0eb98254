import { alikePairs, decideLikeness, reopenLikeness } from '@/server/likenesses';
import { jsonOf, respond } from '../respond';

/** Undecided pairs of like samples. */
export const GET = respond(async () => Response.json(await alikePairs()));

/** Merges a pair, or keeps both. */
export const POST = respond(async (request) => {
  await decideLikeness(await jsonOf(request));
  return Response.json({});
});

/** Opens a decided pair again. */
export const PUT = respond(async (request) => {
  await reopenLikeness(await jsonOf(request));
  return Response.json({});
});
