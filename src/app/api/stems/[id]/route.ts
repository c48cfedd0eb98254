import { changeSet } from '@/server/stemSets';
import { actorOf, jsonOf, respond, sampleIdOf } from '../../respond';

/** Joins, refuses or changes a set. */
export const POST = respond<{ id: string }>(async (request, params) => {
  await changeSet(sampleIdOf(params), await jsonOf(request), actorOf(request));
  return Response.json({});
});
